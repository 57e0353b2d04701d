<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** Dry nitrous on one page: every solenoid duty with its fuel, the adder before and after, and the timing that comes out for the shot. */
	import { fixed, fixedOrDash } from '$core/format';
	import type { NitrousTables } from '$core/revising/nitrous';
	import { signedText } from '$lib/ui/cellmap/colour';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import SubjectOutcome from '$lib/ui/evidence/SubjectOutcome.svelte';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const evidence = useEvidence(() => data.log.id);
	let tables = $state.raw<NitrousTables | null>(null);
	$effect(() => {
		if (!evidence.about || !evidence.api) return;
		void evidence.api.nitrous().then((t) => (tables = t));
	});
</script>

<svelte:head><title>Nitrous in {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<p class="text-muted mb-3 max-w-[80ch]">
	Dry: the injectors carry the fuel that goes with it. Judged where the mixture met its target within 2 %, and
	where the fuel without nitrous is proven; only then is what flowed less the base the adder.
</p>
<div class="mb-4"><SubjectOutcome said={data.said} /></div>
<Loading {evidence} />
{#if tables?.curve}
	{@const { rows, neededDeg, shotHp } = tables.curve}
	<section aria-label="Adder by solenoid duty" class="max-w-[980px]">
		<h2 class="mb-1">Adder by solenoid duty</h2>
		<table class="w-full text-right text-text">
			<thead>
				<tr class="table-head">
					<th class="py-1 text-left font-normal">Duty, %</th><th class="font-normal">On, s</th><th
						class="font-normal">Judged, s</th
					><th class="font-normal">Base, g/s</th><th class="font-normal">Flowed, g/s</th><th
						class="font-normal">Adder now, g/s</th
					><th class="font-normal">after, g/s</th><th class="font-normal">Timing out, °</th><th
						class="w-[30%] pl-4 text-left font-normal">Why it stays</th
					>
				</tr>
			</thead>
			<tbody class="numbers">
				{#each rows as r (r.dutyPct)}
					{@const moves = r.afterGs !== r.beforeGs}
					<tr class="border-line border-b">
						<td class="py-1 text-left">{fixed(r.dutyPct, 0)}</td><td>{fixed(r.onS, 1)}</td><td
							>{fixed(r.judgedS, 1)}</td
						><td>{fixedOrDash(r.baseGs, 1)}</td><td>{fixedOrDash(r.flowGs, 1)}</td><td
							>{fixed(r.beforeGs, 2)}</td
						><td class:font-semibold={moves}>{fixed(r.afterGs, 2)}</td><td
							class={r.outDeg !== null && neededDeg !== null && r.outDeg < (neededDeg * r.dutyPct) / 100
								? 'text-stop font-semibold'
								: ''}>{fixedOrDash(r.outDeg, 1)}</td
						><td class="text-muted pl-4 text-left font-sans text-small">{r.why}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		<p class="text-muted mt-2 text-text">
			{#if shotHp === null || neededDeg === null}
				How much timing has to come out isn’t known: the size of the shot isn’t stated in the
				<a class="underline" href="/jobs/{data.job.id}/vehicle">vehicle</a>.
			{:else}
				A shot of {fixed(shotHp, 0)} hp wants {fixed(neededDeg, 0)}° out at full duty, 2° for each 50 hp, and
				a degree more to be safe. The ends of the curve are usually flat; between its points it is
				interpolated.
			{/if}
		</p>
		{#if rows.some((r) => r.afterGs !== r.beforeGs)}
			<p class="mt-2">The new adder is among the proposals of the next revision made from this log.</p>
		{/if}
	</section>
{:else if tables?.bins?.length}
	<section aria-label="Nitrous fuel by solenoid duty" class="max-w-[720px]">
		<h2 class="mb-1">Nitrous fuel by solenoid duty</h2>
		<p class="text-muted mb-1">
			The calibration has no curve for the adder: what it should have been is only said.
		</p>
		<table class="w-full text-right text-text">
			<thead>
				<tr class="table-head">
					<th class="py-1 text-left font-normal">Duty, %</th><th class="font-normal">Flowed, g/s</th><th
						class="font-normal">Adder, g/s</th
					><th class="font-normal">Short by, g/s</th><th class="font-normal">% of the flow</th><th
						class="font-normal">On target, s</th
					>
				</tr>
			</thead>
			<tbody class="numbers">
				{#each tables.bins as b (b.dutyPct)}
					<tr class="border-line border-b">
						<td class="py-1 text-left">{b.dutyPct}–{b.dutyPct + 10}</td>
						<td>{fixed(b.flowGs, 1)}</td><td>{fixed(b.adderGs, 1)}</td>
						<td>{signedText(b.offGs)}</td><td>{signedText(b.offPct)}</td><td>{fixed(b.seconds, 1)}</td>
					</tr>
				{/each}
			</tbody>
		</table>
	</section>
{:else if tables}
	<p role="status" class="text-muted">
		{tables.bins === null
			? 'The log has no nitrous, or lacks what it is judged by: solenoid duty, fuel flow, fuel flow without it, the adder, mixture and target.'
			: 'The mixture never met its target within 2 % while nitrous was on.'}
	</p>
{/if}
