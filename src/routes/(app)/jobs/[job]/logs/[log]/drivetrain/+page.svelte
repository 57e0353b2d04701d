<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { fixed, fixedOrDash } from '$core/format';
	import type { DrivetrainView } from '$core/screening/drivetrain-view';
	import { signedText } from '$lib/ui/cellmap/colour';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import SubjectOutcome from '$lib/ui/evidence/SubjectOutcome.svelte';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import { clock } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const evidence = useEvidence(() => data.log.id);
	let view = $state.raw<DrivetrainView | null>(null);
	$effect(() => {
		if (!evidence.about || !evidence.api) return;
		void evidence.api.drivetrain().then((v) => (view = v));
	});
</script>

<svelte:head><title>Drivetrain in {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<div class="mb-4"><SubjectOutcome said={data.said} /></div>
<Loading {evidence} />
{#if view}
	<section aria-label="Upshifts" class="max-w-[720px]">
		<h2 class="mb-1">Upshifts</h2>
		{#if view.shifts.length === 0}
			<p class="text-muted">
				{#if view.gearKnown}There is no upshift in this log.
				{:else}The gear can't be told. <a
						class="text-ink underline"
						href="/jobs/{data.job.id}/plan?add=gear,speed">Ask for gear and road speed</a
					>{/if}
			</p>
		{:else}
			<table class="w-full text-right text-text">
				<thead>
					<tr class="table-head">
						<th class="py-1 text-left font-normal">At</th><th class="font-normal">Out of gear</th><th
							class="font-normal">rpm</th
						><th class="font-normal">Asked for, rpm</th><th class="font-normal">Off, rpm</th><th
							class="font-normal">Pedal, %</th
						>
					</tr>
				</thead>
				<tbody class="numbers">
					{#each view.shifts as s (s.atS)}
						<tr class="border-line border-b {s.full ? '' : 'text-muted'}">
							<td class="py-1 text-left">{clock(s.atS)}</td>
							<td>{s.gear}</td><td>{fixed(s.rpm, 0)}</td>
							<td>{fixedOrDash(s.wantedRpm, 0)}</td>
							<td>{s.wantedRpm === null ? '–' : signedText(s.rpm - s.wantedRpm, 0)}</td>
							<td>{fixed(s.pedalPct, 0)}</td>
						</tr>
					{/each}
				</tbody>
			</table>
			<p class="text-muted mt-1 text-small">At full throttle in full ink; only those are judged.</p>
		{/if}
	</section>
{/if}
