<script lang="ts">
	/** The errors of two logs side by side, and what lies between them, as far as both know. */
	import { axisTitle, axisShownUnit } from '$core/calibration/axes';
	import type { CellAxes } from '$core/calibration/grid';
	import type { FieldDifference, GridField } from '$core/correction/grid-field';
	import { fixed, plural } from '$core/format';
	import CellMap from '../cellmap/CellMap.svelte';

	let {
		axes,
		banks,
		names
	}: {
		axes: CellAxes;
		banks: { title: string; before: GridField; after: GridField; difference: FieldDifference }[];
		names: [string, string];
	} = $props();
	let show = $state<'difference' | 'before' | 'after'>('difference');
	/** Cells that a log knows less of than this aren't shown. */
	const SHOWN_TRUST = 0.5;
	const shown = (f: GridField) =>
		f.percent.map((row, r) => row.map((v, c) => (f.trust[r]![c]! >= SHOWN_TRUST ? v : null)));
	const none = $derived(axes.y.map(() => axes.x.map(() => 0)));
	const rounded = (rows: readonly (readonly number[])[]) =>
		rows.map((row) => row.map((v) => Number(fixed(v, 1))));
	function saidOf({ summary }: FieldDifference): string {
		if (!summary) return 'No cell is known in both.';
		const {
			size: [m1, m2],
			uneven: [u1, u2],
			cells
		} = summary;
		const less = m2 < m1 - 0.3 ? 'less of it' : m2 > m1 + 0.3 ? 'more of it' : 'as much of it';
		const even =
			u2 < u1 - 0.2 ? 'more even than before' : u2 > u1 + 0.2 ? 'less even than before' : 'as even as before';
		return `${even[0]!.toUpperCase()}${even.slice(1)}, and ${less}: over ${plural(cells, 'cell')} the mean error went from ${fixed(m1, 1)} to ${fixed(m2, 1)} %, the scatter between cells from ${fixed(u1, 1)} to ${fixed(u2, 1)}.`;
	}
	const SHOWS = $derived([
		['difference', 'the difference'],
		['before', names[0]],
		['after', names[1]]
	] as const);
</script>

<fieldset class="mb-2 flex flex-wrap gap-3 text-small">
	<legend class="sr-only">Show</legend>
	{#each SHOWS as [id, word] (id)}
		<label class="inline-flex max-w-72 items-center gap-1"
			><input type="radio" name="error-maps" value={id} bind:group={show} /><span class="truncate"
				>{word}</span
			></label
		>
	{/each}
</fieldset>
{#each banks as b (b.title)}
	{@const field = show === 'before' ? b.before : b.after}
	<div class="mb-4">
		{#if b.title}<h3 class="font-semibold">{b.title}</h3>{/if}
		<p class="mb-1 text-text">{saidOf(b.difference)}</p>
		<CellMap
			map={show === 'difference'
				? { percent: b.difference.points, samples: none, se: rounded(b.difference.sd) }
				: { percent: shown(field), samples: none, se: rounded(field.sd) }}
			x={axes.x}
			y={axes.y}
			xLabel={axisTitle(axes.xChannel)}
			yLabel={axisTitle(axes.yChannel)}
			yUnit={axisShownUnit({ channel: axes.yChannel, unit: axes.yUnit })}
			caption={show === 'difference'
				? 'After less before, points; + is more fuel than before. The square shows how certain both are.'
				: 'Required correction, percent; + is more fuel. The square shows how certain it is.'}
			trusts={show === 'difference' ? b.difference.trust : field.trust}
		/>
	</div>
{/each}
