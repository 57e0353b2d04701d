<script lang="ts">
	/** How far injectors and pump go: the answers, the table of blends and injectors, and its plot. */
	import { fixed, fixedOrDash } from '$core/format';
	import type { FuelPlan } from '$core/fuelling/plan';
	import LaneStack from '../lanes/LaneStack.svelte';
	import { ETHANOL } from '../lanes/scale';
	import type { Lane } from '../lanes/types';

	let {
		plan,
		dutyMaxPct,
		ethanol,
		own
	}: {
		plan: FuelPlan;
		/** Duty that is to be kept on the worst day. */
		dutyMaxPct: number;
		/** Share of the goal as it was written: its row stands out. */
		ethanol: string;
		/** Flow of the injectors that are in, cm³/min. */
		own: number | null;
	} = $props();
	const flows = $derived([...new Set(plan.table.map((r) => r.flowCcMin))]);
	const shares = $derived([...new Set(plan.table.map((r) => r.ethanolPct))]);
	const cell = (flow: number, e: number) =>
		plan.table.find((r) => r.flowCcMin === flow && r.ethanolPct === e);
	const TONES = ['first', 'second', 'third'] as const;
	const lane = $derived<Lane>({
		id: 'duty',
		title: 'Duty on the worst day',
		unit: '%',
		decimals: 0,
		height: 220,
		minSpan: 20,
		limit: { from: dutyMaxPct, side: 'above', label: `over ${fixed(dutyMaxPct, 0)} %` },
		series: flows.map((f, i) => ({
			label: `${fixed(f, 0)} cm³/min`,
			x: shares,
			y: shares.map((e) => cell(f, e)?.dutyWorstPct ?? null),
			tone: TONES[i % TONES.length]!,
			dashed: i >= TONES.length
		}))
	});
	const PUMP = { enough: 'enough', short: 'short', unknown: 'not stated' } as const;
</script>

<section aria-label="What it needs" class="mb-4">
	{#each plan.says as s (s)}<p class="border-fix mb-2 border-l-4 px-3 py-1">{s}</p>{/each}
	<dl class="border-line flex border-y">
		{#each [['Duty today', plan.now.dutyPct === null ? '–' : `${fixed(plan.now.dutyPct, 0)} %`], [own === null ? 'Most ethanol on the largest of these' : 'Most ethanol on the injectors that are in', plan.largestEthanolPct === null ? 'none' : `${fixed(plan.largestEthanolPct, 0)} %`], ['Smallest injectors for the goal', plan.smallestFlowCcMin === null ? 'none of these' : `${fixed(plan.smallestFlowCcMin, 0)} cm³/min`], ['Fuel on the worst day', `${fixed(plan.fuelLh, 0)} l/h`], ['Pump', PUMP[plan.pump]]] as const as [what, value] (what)}
			<div class="border-line flex-1 border-r px-2 py-1.5 last:border-r-0">
				<dd class="text-lead leading-6 font-semibold {value === 'short' ? 'text-stop' : ''}">{value}</dd>
				<dt class="text-small">{what}</dt>
			</div>
		{/each}
	</dl>
</section>
{#if flows.length}
	<div class="grid grid-cols-2 items-start gap-8">
		<section aria-label="Duty by blend and injector">
			<h2 class="mb-1">Duty, warm day and worst day, %</h2>
			<table class="w-full text-right text-text">
				<thead
					><tr class="table-head"
						><th class="text-left font-normal">Ethanol, %</th>{#each flows as f (f)}<th
								class="font-normal"
								colspan="2">{fixed(f, 0)} cm³/min{f === own ? ', in' : ''}</th
							>{/each}</tr
					></thead
				>
				<tbody>
					{#each shares as e (e)}
						<tr class="border-line border-b {String(e) === ethanol ? 'font-semibold' : ''}">
							<th scope="row" class="numbers text-left font-normal">{fixed(e, 0)}</th>
							{#each flows as f (f)}
								{@const c = cell(f, e)}
								<td class="numbers text-muted py-0.5">{fixedOrDash(c?.dutyWarmPct, 0)}</td>
								<td class="numbers py-0.5 {c && c.dutyWorstPct > dutyMaxPct ? 'text-stop font-semibold' : ''}"
									>{fixedOrDash(c?.dutyWorstPct, 0)}{c && c.dutyWorstPct > dutyMaxPct ? ' over' : ''}</td
								>
							{/each}
						</tr>
					{/each}
				</tbody>
			</table>
			<p class="text-muted mt-2 text-small">
				{plan.basis === 'log'
					? 'From the pulse of the log, without its dead time, carried over to the boost, the rev limit and the day.'
					: 'From the power, with the middle of the handbook’s fuel consumption; a log says it better.'}
			</p>
		</section>
		<section aria-label="Plot">
			<LaneStack
				lanes={[lane]}
				min={Math.min(...shares)}
				max={Math.max(...shares)}
				axis={ETHANOL}
				label="Injector duty on the worst day over the share of ethanol, one line for each injector"
			/>
		</section>
	</div>
{:else}
	<p class="text-muted">
		Say the flow of the injectors that are in, or those to choose from: then their duty stands here, blend by
		blend.
	</p>
{/if}
