/** The command list: every action of the page and its key. Pages register what they can do while they are shown. */
import { getContext, onDestroy, setContext, untrack } from 'svelte';

export interface Command {
	id: string;
	title: string;
	/** By what else people look for it. */
	also?: string;
	/** Key as `KeyboardEvent.key`, pressed alone outside of fields. */
	key?: string;
	run: () => void;
}

const KEY = Symbol('commands');

export class Commands {
	/** Not reactive itself: pages come and go in one update, and each has to find what the other left. */
	private readonly groups: Command[][] = [];
	private version = $state(0);
	open = $state(false);
	keysOpen = $state(false);

	get all(): Command[] {
		void this.version;
		return this.groups.flat();
	}

	add(group: Command[]): () => void {
		this.groups.push(group);
		this.changed();
		return () => {
			this.groups.splice(this.groups.indexOf(group), 1);
			this.changed();
		};
	}

	private changed(): void {
		// Counting up reads what it writes; whoever registers must not depend on it.
		this.version = untrack(() => this.version) + 1;
	}

	/** Handles a key press of the page: Ctrl+K, ?, and the commands' own keys. */
	press(event: KeyboardEvent): void {
		if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
			event.preventDefault();
			this.open = !this.open;
			return;
		}
		const at = event.target as HTMLElement | null;
		if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
		// Out of a field, so that keys are keys again.
		if (
			event.key === 'Escape' &&
			at?.matches('input, textarea') &&
			!at.closest('[role="grid"], [role="dialog"]')
		)
			at.blur();
		if (at?.closest('input, textarea, select, [role="grid"], [role="dialog"]')) return;
		if (event.key === '?') {
			this.keysOpen = true;
			return;
		}
		// What a page registers comes after what every page has, and goes first.
		const command = this.all.findLast((c) => c.key === event.key);
		if (!command) return;
		event.preventDefault();
		command.run();
	}
}

export function provideCommands(): Commands {
	return setContext(KEY, new Commands());
}

/** Registers commands for as long as the calling component lives. */
export function useCommands(group: Command[]): void {
	const remove = getContext<Commands>(KEY).add(group);
	onDestroy(remove);
}
