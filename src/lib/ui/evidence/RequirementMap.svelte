<script lang="ts">
	/** What the engine wants of a fuel table, all cells together: what, how sure, what may change and why not. A cell opens to its logs. */
	import { axisTitle, axisShownUnit } from '$core/calibration/axes';
	import type { RequirementView } from '$core/correction/view';
	import { capital, fixed } from '$core/format';
	import CellMap from '../cellmap/CellMap.svelte';
	import { signedText, tint } from '../cellmap/colour';

	let {
		requirement,
		titles,
		nameOf,
		next
	}: {
		requirement: RequirementView;
		/** Titles of items by id. */
		titles: Readonly<Record<string, string>>;
		/** Name of a log by its place among those asked. */
		nameOf: (log: number) => string;
		/** The drives that would settle most, in their order: engine speed, and load on the table's own axis. */
		next: readonly { rpm: readonly [number, number]; load?: readonly [number, number] | null | undefined }[];
	} = $props();
	let which = $state(0);
	let show = $state<'percent' | 'change' | 'sd'>('percent');
	let withDrives = $state(true);
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
	const drives = $derived(
		withDrives && table.x.channel === 'rpm' && table.y
			? next.flatMap((d, i) => (d.load ? [{ name: String(i + 1), x: d.rpm, y: d.load }] : []))
			: []
	);
	/** Scale of the bar of a picked cell, percent either side. */
	const BAR_PCT = 15;
	const along = (v: number) => `${50 + (50 * Math.max(-BAR_PCT, Math.min(BAR_PCT, v))) / BAR_PCT}%`;
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
		['percent', 'Required correction'],
		['change', 'Allowed change'],
		['sd', 'Uncertainty']
	] as const;
</script>

<div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-small">
	<div class="border-strong-line flex border" role="group" aria-label="Show">
		{#each SHOWS as [id, word] (id)}
			<button type="button" class="choice" aria-pressed={show === id} onclick={() => (show = id)}
				>{word}</button
			>
		{/each}
	</div>
	{#if next.some((d) => d.load)}
		<label class="flex items-center gap-1.5"
			><input type="checkbox" class="w-auto!" bind:checked={withDrives} /> Next drive</label
		>
	{/if}
	{#if requirement.tables.length > 1}
		<label class="ml-auto"
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
	{drives}
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
			{#if cell.change !== 0}Allowed change <span class="numbers">{signedText(cell.change)} %</span>:
				{cell.why}.{:else}{capital(cell.why)}.{/if}
		</p>
		<div class="bar" aria-hidden="true">
			<i class="zero"></i>
			<i
				class="span"
				style="left: {along(cell.percent - cell.sd)}; right: calc(100% - {along(cell.percent + cell.sd)})"
			></i>
			<i class="middle" style="left: {along(cell.percent)}"></i>
			{#if cell.change !== 0}<i class="allowed" style="left: {along(cell.change)}"></i>{/if}
			<b style="left: 0">−{BAR_PCT} %</b><b style="left: 50%">0</b><b style="right: 0">+{BAR_PCT} %</b>
		</div>
		{#if cell.logs.length}
			<p class="text-muted text-small">
				{#each cell.logs as l, i (l.log)}{i ? '; ' : ''}{nameOf(l.log)}:
					<span class="numbers">{fixed(l.here, 1)} s</span>{/each}
			</p>
		{/if}
	</div>
{/if}

<style>
	.bar {
		position: relative;
		height: 36px;
		max-width: 480px;
		margin: 6px 0;
	}
	.bar i {
		position: absolute;
	}
	.zero {
		left: 50%;
		top: 0;
		height: 18px;
		border-left: 1px solid var(--strong-line);
	}
	.span {
		top: 9px;
		border-top: 2px solid var(--ink);
	}
	.middle {
		top: 5px;
		width: 10px;
		height: 10px;
		margin-left: -5px;
		border-radius: 50%;
		background: var(--ink);
	}
	.allowed {
		top: 1px;
		height: 18px;
		border-left: 2px dashed var(--lean);
	}
	.bar b {
		position: absolute;
		bottom: 0;
		font-size: 12px;
		font-weight: 400;
		color: var(--muted);
		line-height: 14px;
	}
	.bar b:nth-of-type(2) {
		transform: translateX(-50%);
	}
</style>
