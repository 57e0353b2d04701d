<script lang="ts">
	/** What the engine wants of a fuel table, all cells together: what, how sure, what may change and why not. A cell opens to its logs. */
	import { axisTitle, axisShownUnit } from '$core/calibration/axes';
	import type { RequirementView } from '$core/correction/view';
	import { fixed } from '$core/format';
	import CellMap from '../cellmap/CellMap.svelte';
	import { signedText, tint } from '../cellmap/colour';

	let {
		requirement,
		titles,
		nameOf
	}: {
		requirement: RequirementView;
		/** Titles of items by id. */
		titles: Readonly<Record<string, string>>;
		/** Name of a log by its place among those asked. */
		nameOf: (log: number) => string;
	} = $props();
	let which = $state(0);
	let show = $state<'percent' | 'change' | 'sd'>('percent');
	let picked = $state<{ column: number; row: number } | null>(null);
	const table = $derived(requirement.tables[which] ?? requirement.tables[0]!);
	const y = $derived(table.y ?? { channel: '', points: [0] });
	/** Cells that are known less than this aren't shown. */
	const SHOWN_TRUST = 0.5;

	const WHY: Record<string, string> = {
		measured: 'measured: samples of its own, and certain enough',
		carried: 'carried: no samples of its own, but what lies around is certain',
		upwards: 'above the highest load that was driven: taken along with its edge',
		misfit: 'its own samples are leaner than a smooth field can be: the leaner word counts',
		quiet: 'stays: what is left is less than its own uncertainty',
		'removal-held': 'stays: a hold keeps fuel from coming out here',
		far: 'stays: nobody drove near it',
		unsure: 'stays: driven, but not long enough to be sure',
		held: 'stays: nothing can be learnt here (misfire)',
		none: 'stays: right as it is'
	};
	const map = $derived({
		percent: table[show].map((row, r) =>
			row.map((v, c) => (table.trust[r]![c]! >= SHOWN_TRUST || (show === 'change' && v !== 0) ? v : null))
		),
		samples: table.samples,
		se: table.sd
	});
	const cell = $derived.by(() => {
		const at = picked;
		if (!at) return null;
		const take = (rows: readonly (readonly number[])[]) => rows[at.row]?.[at.column] ?? 0;
		return {
			place: `${table.x.points[at.column]}${table.y ? ` / ${table.y.points[at.row]}` : ''}`,
			percent: take(table.percent),
			sd: take(table.sd),
			trust: take(table.trust),
			change: take(table.change),
			samples: take(table.samples),
			why: WHY[table.why[at.row]?.[at.column] ?? 'none']!,
			logs: requirement.logs
				.map((l, n) => ({ ...l, here: take(table.seconds[n]!) }))
				.filter((l) => l.here > 0)
				.sort((a, b) => b.here - a.here)
		};
	});
	const SHOWS = [
		['percent', 'required'],
		['change', 'allowed'],
		['sd', 'uncertainty']
	] as const;
</script>

<div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-small">
	{#if requirement.tables.length > 1}
		<label
			>Table
			<select
				class="w-auto!"
				value={String(which)}
				onchange={(e) => {
					which = Number(e.currentTarget.value);
					picked = null;
				}}
			>
				{#each requirement.tables as t, i (t.item)}<option value={String(i)}
						>{titles[t.item] ?? t.item}</option
					>{/each}
			</select></label
		>
	{/if}
	<fieldset class="flex gap-3">
		<legend class="sr-only">Show</legend>
		{#each SHOWS as [id, word] (id)}
			<label class="inline-flex items-center gap-1"
				><input type="radio" name="requirement-show" value={id} bind:group={show} />{word}</label
			>
		{/each}
	</fieldset>
</div>
<CellMap
	{map}
	x={table.x.points}
	y={y.points}
	xLabel={axisTitle(table.x.channel)}
	yLabel={table.y ? axisTitle(y.channel) : ''}
	yUnit={table.y ? axisShownUnit(table.y) : ''}
	caption="{show === 'sd' ? 'Standard deviation of the required correction' : 'Percent of each cell'}{show ===
	'percent'
		? '; + is more fuel'
		: ''}. The square shows how certain it is: full is proven, a dot is a guess."
	text={(v) => (show === 'sd' ? fixed(v, 1) : signedText(v))}
	background={show === 'sd' ? () => 'transparent' : tint}
	trusts={table.trust}
	{picked}
	onpick={(column, row) => (picked = { column, row })}
/>
{#if cell}
	<div class="border-line mt-3 border-l-2 pl-3 text-text" data-testid="cell-evidence" aria-live="polite">
		<p>
			<span class="numbers font-semibold">{cell.place}</span> required
			<span class="numbers">{signedText(cell.percent)} % ± {fixed(cell.sd, 1)}</span>, {fixed(
				100 * cell.trust,
				0
			)} % certain.
			{#if cell.change !== 0}Allowed change <span class="numbers">{signedText(cell.change)} %</span>:{/if}
			{cell.why}.
		</p>
		{#if cell.logs.length}
			<p class="text-muted text-small">
				{#each cell.logs as l, i (l.log)}{i ? '; ' : ''}{nameOf(l.log)}:
					<span class="numbers">{fixed(l.here, 1)} s</span>{/each}
			</p>
		{/if}
	</div>
{/if}
