<script lang="ts">
	/** Before and after in numbers: power and torque over engine speed, the gain by 500 rpm and at the peaks. */
	import { fixed } from '$core/format';
	import type { PowerAnswer, PowerCurve } from '$core/performance/power-curves';
	import { signedText } from '../cellmap/colour';
	import LaneStack from '../lanes/LaneStack.svelte';
	import { ENGINE_SPEED } from '../lanes/scale';
	import type { Lane } from '../lanes/types';
	import { usePreferences } from '../preferences.svelte';

	let {
		power,
		names,
		roadPct
	}: {
		power: PowerAnswer;
		names: readonly [string, string];
		/** What one pull on the road tells of its power, ± percent; null where it isn't known. */
		roadPct: number | null;
	} = $props();
	const preferences = usePreferences();
	const BY = {
		typed: 'typed from a dyno sheet',
		logged: 'as the controller logged it',
		road: 'worked out from the road, one way'
	};
	let standard = $state(false);
	const corrected = $derived(power.curves.some((c) => c.corrected));
	const curve = (of: 'before' | 'after'): PowerCurve | null => {
		const mine = power.curves.filter((c) => c.of === of && (!power.gainBy || c.source === power.gainBy));
		return (
			mine.find((c) => c.corrected === (standard && corrected)) ?? mine.find((c) => !c.corrected) ?? null
		);
	};
	const sides = $derived([
		{ name: names[0], c: curve('before'), dashed: true },
		{ name: names[1], c: curve('after'), dashed: false }
	]);
	const lane = (id: 'powerKw' | 'torqueNm', title: string, unit: string): Lane => {
		const shown = (v: number | null) => (v === null ? null : preferences.shown(v, unit).value);
		return {
			id,
			title,
			unit: preferences.shown(1, unit).unit,
			decimals: 0,
			height: 130,
			minSpan: 20,
			series: sides.flatMap(({ name, c, dashed }) =>
				c
					? [
							{
								label: name,
								x: c.rpm,
								y: c[id].map(shown),
								tone: dashed ? ('second' as const) : ('first' as const),
								dashed
							}
						]
					: []
			)
		};
	};
	const lanes = $derived([lane('powerKw', 'Power', 'kW'), lane('torqueNm', 'Torque', 'Nm')]);
	const speeds = $derived(sides.flatMap((s) => s.c?.rpm ?? []));
	const number = (v: number, unit: string) => fixed(preferences.shown(v, unit).value, 1);
	const gained = (v: number, unit: string) => signedText(preferences.shown(v, unit).value);
	const UNITS = $derived([preferences.shown(1, 'kW').unit, preferences.shown(1, 'Nm').unit]);
</script>

{#if power.curves.length === 0}
	<p class="text-muted">
		Nothing says what either makes: type the power and torque of a dyno on a log's Sensors page, log them, or
		state mass, drag and gears on the sheet.
	</p>
{:else}
	<div class="mb-1 flex flex-wrap items-center gap-3">
		<span class="text-muted text-small"
			>{power.gainBy
				? `Both ${BY[power.gainBy]}.`
				: 'Not by the same means: nothing is subtracted.'}{power.gainBy === 'road' && roadPct !== null
				? ` One pull tells it to ± ${fixed(roadPct, 0)} %: a smaller gain is none.`
				: ''}</span
		>
		{#if corrected}
			<label class="text-small flex items-center gap-1.5"
				><input type="checkbox" class="w-auto!" bind:checked={standard} /> curves in standard air (SAE J1349)</label
			>
		{/if}
	</div>
	<div class="grid gap-6 lg:grid-cols-[minmax(0,1fr)_24rem]">
		<LaneStack
			{lanes}
			min={Math.min(...speeds)}
			max={Math.max(...speeds)}
			axis={ENGINE_SPEED}
			label="Power and torque over engine speed, before and after"
		/>
		<div>
			{#if power.peaks.before && power.peaks.after}
				{@const [was, is] = [power.peaks.before, power.peaks.after]}
				<table class="mb-3 w-full text-right text-small" aria-label="Peaks">
					<thead>
						<tr class="text-muted border-strong-line border-b">
							<th class="text-left font-normal">Peak</th><th class="font-normal">before</th><th
								class="font-normal">after</th
							><th class="font-normal">gain</th>
						</tr>
					</thead>
					<tbody class="numbers">
						<tr class="border-line border-b">
							<th class="py-1 text-left font-normal">Power, {UNITS[0]}</th>
							<td>{number(was.powerKw, 'kW')} at {fixed(was.powerRpm, 0)}</td>
							<td>{number(is.powerKw, 'kW')} at {fixed(is.powerRpm, 0)}</td>
							<td>{power.peaks.gain ? gained(power.peaks.gain.powerKw, 'kW') : '–'}</td>
						</tr>
						<tr class="border-line border-b">
							<th class="py-1 text-left font-normal">Torque, {UNITS[1]}</th>
							<td>{number(was.torqueNm, 'Nm')} at {fixed(was.torqueRpm, 0)}</td>
							<td>{number(is.torqueNm, 'Nm')} at {fixed(is.torqueRpm, 0)}</td>
							<td>{power.peaks.gain ? gained(power.peaks.gain.torqueNm, 'Nm') : '–'}</td>
						</tr>
					</tbody>
				</table>
			{/if}
			{#if power.gain.length}
				<table class="w-full text-right text-small" aria-label="Gain by engine speed">
					<thead>
						<tr class="text-muted border-strong-line border-b">
							<th class="text-left font-normal">rpm</th><th class="font-normal">{UNITS[0]}</th><th
								class="font-normal">{UNITS[1]}</th
							>
						</tr>
					</thead>
					<tbody class="numbers">
						{#each power.gain as g (g.rpm)}
							<tr class="border-line border-b">
								<th class="py-0.5 text-left font-normal">{g.rpm}</th>
								<td>{gained(g.powerKw, 'kW')}</td><td>{gained(g.torqueNm, 'Nm')}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			{/if}
		</div>
	</div>
{/if}
