<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { fixed } from '$core/format';
	import type { KnockEntry, KnockView } from '$core/evidence/knock/knock-view';
	import KnockPlane from '$lib/ui/evidence/KnockPlane.svelte';
	import KnockProofs from '$lib/ui/evidence/KnockProofs.svelte';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import { axisTitle } from '$core/calibration/axes';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import SubjectOutcome from '$lib/ui/evidence/SubjectOutcome.svelte';
	import Traces from '$lib/ui/lanes/Traces.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { clock } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const evidence = useEvidence(() => data.log.id);
	let view = $state.raw<KnockView | null>(null);
	let answered = $state(false);
	let picked = $state.raw<KnockEntry | null>(null);
	$effect(() => {
		if (!evidence.about || !evidence.api) return;
		void evidence.api.knock().then((v) => {
			view = v;
			answered = true;
			picked = v?.episodes[0] ?? null;
		});
	});
	const SHAPES = { real: 'real', unclear: 'unclear, treated as real', blips: 'blips, unproved' } as const;
	const focus = $derived(picked ? [{ from: picked.fromS - 1, to: picked.toS + 1 }] : []);
	const number = (v: number | null, decimals: number) => (v === null ? '–' : fixed(v, decimals));
	const MOST = 60;
</script>

<svelte:head><title>Knock in {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<div class="mb-4"><SubjectOutcome said={data.said} /></div>
<Loading {evidence} />
{#if answered && view === null}
	<p class="text-muted">
		No knock retard is logged. <a class="text-ink underline" href="/jobs/{data.job.id}/plan?add=knockRetard"
			>Ask for it in the next drive plan</a
		>
	</p>
{:else if view}
	{#if view.episodes.length === 0}
		<p class="text-muted">The controller pulled no timing in this log.</p>
	{:else}
		<div class="grid gap-6 lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
			<section aria-label="Where it knocked">
				<KnockPlane {view} {picked} onpick={(e) => (picked = e)} />
				<p class="text-muted text-small">
					Filled: real. Half tone: unclear. Ring: blips. Dashed outline: not under load. The dashed box was
					driven under load.
				</p>
				{#if picked}
					<p class="mt-2" data-testid="episode">
						<strong>{fixed(picked.peakDeg, 1)}°</strong> at
						<span class="numbers"
							>{number(picked.rpm, 0)} rpm, {preferences.text(picked.mapKpa, 'kPa abs')}{picked.airmassG ===
							null
								? ''
								: `, ${fixed(picked.airmassG, 2)} g per cylinder`}</span
						>, timing <span class="numbers">{number(picked.sparkDeg, 1)}°</span>{picked.cylinder
							? `, cylinder ${picked.cylinder}`
							: ''}. {SHAPES[picked.shape].replace(/^./, (c) => c.toUpperCase())}: {picked.because}.
						{#if picked.cell}In the timing table it is the cell
							<span class="numbers">{picked.cell.x} · {picked.cell.y}</span>
							({axisTitle(picked.cell.xChannel).toLowerCase()}, {axisTitle(
								picked.cell.yChannel
							).toLowerCase()}), which gives <span class="numbers">{fixed(picked.cell.tableDeg, 1)}°</span> here.{/if}
						{#if picked.monitor !== null}The independent monitor heard
							<span class="numbers">{Math.round(picked.monitor * 100)} %</span> of it.{/if}
					</p>
				{/if}
			</section>
			<section aria-label="Episodes" class="max-h-[420px] overflow-y-auto">
				<table class="w-full text-right">
					<thead>
						<tr class="table-head">
							<th class="py-1 text-left font-normal">At</th><th class="pl-2 font-normal">Peak, °</th><th
								class="font-normal">rpm</th
							><th class="pl-2 font-normal">{preferences.shown(1, 'kPa abs').unit}</th><th class="font-normal"
								>g/cyl</th
							><th class="pl-2 font-normal">Timing, °</th><th class="pl-2 font-normal">Cyl</th><th
								class="font-normal">Length, s</th
							><th class="py-1 pl-3 text-left font-normal">Class</th>
						</tr>
					</thead>
					<tbody class="numbers">
						{#each view.episodes.slice(0, MOST) as e, i (i)}
							<tr class="border-line border-b {picked === e ? 'bg-shade' : ''}">
								<td class="py-0.5 text-left"
									><button
										class="cursor-pointer underline"
										aria-pressed={picked === e}
										onclick={() => (picked = e)}>{clock(e.fromS)}</button
									></td
								><td class="pl-2">{fixed(e.peakDeg, 1)}</td><td class="pl-2">{number(e.rpm, 0)}</td><td
									>{e.mapKpa === null
										? '–'
										: fixed(
												preferences.shown(e.mapKpa, 'kPa abs').value,
												preferences.shown(1, 'kPa abs').decimals
											)}</td
								><td class="pl-2">{number(e.airmassG, 2)}</td><td class="pl-2">{number(e.sparkDeg, 1)}</td><td
									class="pl-2">{e.cylinder || '–'}</td
								><td class="pl-2">{fixed(e.seconds, 2)}</td><td
									class="pl-3 text-left font-sans text-small"
									title={e.because}
									>{SHAPES[e.shape]}{e.pull ? `, pull ${e.pull}` : e.loaded ? '' : ', not loaded'}</td
								>
							</tr>
						{/each}
					</tbody>
				</table>
				{#if view.episodes.length > MOST}<p class="text-muted text-small">
						and {view.episodes.length - MOST} smaller ones
					</p>{/if}
			</section>
		</div>
	{/if}
	<KnockProofs proofs={data.proofs} worst={picked} {form} />
	<div class="mt-5">
		<Traces
			logId={data.log.id}
			report={data.report}
			stoich={data.stoich}
			profile={data.profile}
			{focus}
			question="knock"
		/>
	</div>
{/if}
