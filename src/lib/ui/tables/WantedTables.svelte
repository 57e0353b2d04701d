<script lang="ts">
	/** The tables of a layout, with those that are there ticked off. */
	import { titleOf } from '$core/calibration/items';
	import type { TableLayout } from '$core/calibration/tables/layout';
	import { plural } from '$core/format';

	interface Props {
		name: string;
		tables: readonly TableLayout[];
		there: ReadonlySet<string>;
		/** Item of the one that comes next. */
		expected: string | undefined;
		onchoose: (item: string) => void;
	}
	let { name, tables, there, expected, onchoose }: Props = $props();
	const done = $derived(tables.filter((t) => there.has(t.item)).length);
</script>

<h2 class="mb-1">{name}</h2>
<p class="text-muted mb-2 text-small" data-testid="progress">
	{done} of {plural(tables.length, 'table')}
</p>
<ol class="mb-4 text-text">
	{#each tables as t (t.item)}
		<li class="border-line flex items-baseline gap-2 border-b py-0.5">
			<span aria-hidden="true" class={there.has(t.item) ? 'text-clear' : 'text-muted'}
				>{there.has(t.item) ? '✓' : '·'}</span
			>
			<button
				class="min-w-0 flex-1 cursor-pointer truncate text-left hover:underline {expected === t.item
					? 'font-semibold'
					: ''}"
				onclick={() => onchoose(t.item)}>{t.title ?? titleOf({ id: t.item })}</button
			>
			<span class="sr-only">{there.has(t.item) ? 'is there' : 'is missing'}</span>
		</li>
	{/each}
</ol>
