<script lang="ts">
	import { fixed, fixedOrDash } from '$core/format';
	import type { PullCurves } from '$core/evidence/segments/pull-curves';
	import { signedText } from '$lib/ui/cellmap/colour';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { clock } from '$lib/ui/time';

	interface Props {
		pulls: readonly PullCurves[];
		/** The one that is drawn. */
		shown: number;
		onpick: (index: number) => void;
	}
	let { pulls, shown, onpick }: Props = $props();
	const preferences = usePreferences();
</script>

<section class="mt-6">
	<h2 class="mb-1">Pulls</h2>
	<table class="w-full text-right">
		<thead>
			<tr class="table-head">
				<th class="py-1 text-left font-normal">Pull</th><th class="py-1 font-normal">Gear</th><th
					class="py-1 font-normal">rpm</th
				>
				<th class="py-1 font-normal">Length, s</th><th class="py-1 font-normal"
					>Pressure, {preferences.shown(1, 'kPa abs').unit}</th
				>
				<th class="py-1 font-normal">Leanest, % of target</th><th class="py-1 font-normal">Knock, °</th>
				<th class="py-1 font-normal">Duty, %</th><th class="py-1 font-normal"
					>Intake air, {preferences.units.temperature}</th
				>
			</tr>
		</thead>
		<tbody class="numbers">
			{#each pulls as p, i (p.fromS)}
				<tr class="border-line border-b {i === shown ? 'bg-shade' : ''}">
					<td class="py-1 text-left"
						><button class="cursor-pointer underline" aria-pressed={i === shown} onclick={() => onpick(i)}
							>{i + 1} at {clock(p.fromS)}</button
						></td
					>
					<td>{p.gear ?? '–'}</td><td>{p.summary.fromRpm}–{p.summary.toRpm}</td><td
						>{fixed(p.toS - p.fromS, 1)}</td
					>
					<td
						>{p.summary.highestMapKpa === null
							? '–'
							: fixed(
									preferences.shown(p.summary.highestMapKpa, 'kPa abs').value,
									preferences.shown(1, 'kPa abs').decimals
								)}</td
					>
					<td>{p.summary.leanestPct === null ? '–' : signedText(p.summary.leanestPct)}</td>
					<td>{fixedOrDash(p.summary.knockDeg, 1)}</td><td>{fixedOrDash(p.summary.dutyPct, 0)}</td>
					<td>{p.summary.iatC === null ? '–' : fixed(preferences.shown(p.summary.iatC, '°C').value, 0)}</td>
				</tr>
			{/each}
		</tbody>
	</table>
</section>
