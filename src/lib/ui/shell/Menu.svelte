<script lang="ts" module>
	export interface MenuItem {
		title: string;
		/** Where it leads to, or what it does. */
		href?: string;
		run?: () => void;
		/** Comes as a file. */
		download?: boolean;
		/** Can't be taken back: stands last, behind a line. */
		danger?: boolean;
	}
</script>

<script lang="ts">
	/** What a page can do besides its first three actions. */
	import { DropdownMenu } from 'bits-ui';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';

	let { items, title = 'More' }: { items: MenuItem[]; title?: string } = $props();
	const ITEM =
		'data-highlighted:bg-shade block w-full cursor-pointer px-3 py-1.5 text-left no-underline outline-none';
	const ordered = $derived([...items.filter((i) => !i.danger), ...items.filter((i) => i.danger)]);
	const firstDanger = $derived(items.some((i) => !i.danger) ? items.filter((i) => !i.danger).length : -1);
</script>

<DropdownMenu.Root>
	<DropdownMenu.Trigger class="button"
		>{title}<ChevronDown size={14} aria-hidden="true" /></DropdownMenu.Trigger
	>
	<DropdownMenu.Portal>
		<DropdownMenu.Content
			class="bg-sheet border-strong-line z-50 min-w-48 border py-1 shadow-lg"
			sideOffset={4}
			align="end"
		>
			{#each ordered as item, i (item.title)}
				{#if i === firstDanger}<DropdownMenu.Separator class="bg-line my-1 h-px" />{/if}
				<DropdownMenu.Item onSelect={() => item.run?.()} textValue={item.title}>
					{#snippet child({ props })}
						{#if item.href}<a
								{...props}
								class={ITEM}
								href={item.href}
								download={item.download ? '' : undefined}>{item.title}</a
							>
						{:else}<button {...props} class="{ITEM} {item.danger ? 'text-stop' : ''}">{item.title}</button
							>{/if}
					{/snippet}
				</DropdownMenu.Item>
			{/each}
		</DropdownMenu.Content>
	</DropdownMenu.Portal>
</DropdownMenu.Root>
