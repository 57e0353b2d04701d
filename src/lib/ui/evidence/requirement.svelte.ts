/** The requirement of a job's engine, fetched once for a page: it takes a worker a second or two. */
import type { RequirementView } from '$core/correction/view';
import type { NextDrive } from '$core/revising/proposal';
import { onMount } from 'svelte';

interface Answer {
	requirement: RequirementView | null;
	next: NextDrive[];
	/** Logs that were asked, in the order that the requirement counts them by. */
	logIds: number[];
}

export class RequirementState {
	answer = $state.raw<Answer | null>(null);
	problem = $state('');

	async load(url: string): Promise<void> {
		this.answer = null;
		this.problem = '';
		try {
			const got = await fetch(url);
			const body = (await got.json()) as Answer & { message?: string };
			if (got.ok) this.answer = body;
			else this.problem = body.message ?? `the server answered ${got.status}`;
		} catch (e) {
			this.problem = e instanceof Error ? e.message : String(e);
		}
	}
}

export function useRequirement(url: () => string): RequirementState {
	const state = new RequirementState();
	onMount(() => void state.load(url()));
	return state;
}
