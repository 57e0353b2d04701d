<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { fixed } from '$core/format';
	import type { SensorsView } from '$core/evidence/lambda/sensors-view';
	import { signedText } from '$lib/ui/cellmap/colour';
	import { axisTitle } from '$core/calibration/axes';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import SubjectOutcome from '$lib/ui/evidence/SubjectOutcome.svelte';
	import LaneStack from '$lib/ui/lanes/LaneStack.svelte';
	import { ENGINE_SPEED } from '$lib/ui/lanes/scale';
	import type { Lane, Series } from '$lib/ui/lanes/types';
	import LogConditions from '$lib/ui/evidence/LogConditions.svelte';
	import SecondRecorders from '$lib/ui/evidence/SecondRecorders.svelte';
	import Typed from '$lib/ui/evidence/Typed.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const evidence = useEvidence(() => data.log.id);
	let view = $state.raw<SensorsView | null>(null);
	let answered = $state(false);
	$effect(() => {
		if (!evidence.about || !evidence.api) return;
		void evidence.api.sensors().then((v) => {
			view = v;
			answered = true;
		});
	});
	/** Banks that are believed for the same reason are told of together. */
	const beliefs = $derived.by(() => {
		const list = view?.beliefs ?? [];
		const upper = (t: string) => t.replace(/^./, (c) => c.toUpperCase());
		if (list.every((b) => b.why === list[0]?.why))
			return list.slice(0, 1).map((b) => ({
				banks: list.length > 1 ? 'Both banks: ' : '',
				why: list.length > 1 ? b.why : upper(b.why)
			}));
		return list.map((b) => ({ banks: b.bank ? `Bank ${b.bank}: ` : '', why: b.bank ? b.why : upper(b.why) }));
	});
	const KIND = { factory: 'controller', independent: 'instrument', narrowband: 'narrowband' } as const;
	const SITE: Record<string, string> = { bank1: 'bank 1', bank2: 'bank 2', collector: 'collector' };
	const nameOf = (w: string) => (w === 'factory' ? "the controller's own" : axisTitle(w));
	const TONES: Series['tone'][] = ['first', 'second', 'third', 'old'];
	const shown = (v: number | null) => (v === null ? null : preferences.shown(v, 'λ', data.stoich).value);
	const lanes = $derived.by((): Lane[] => {
		if (!view) return [];
		const v = view;
		const s = preferences.shown(1, 'λ', data.stoich);
		const base = v.beliefs[0];
		return [
			{
				id: 'sources',
				title: 'Sources under load',
				unit: s.unit,
				decimals: s.decimals,
				minSpan: preferences.units.mixture === 'lambda' ? 0.06 : 0.9,
				height: 170,
				series: [
					{ label: 'target', x: v.rpm, y: v.target.map(shown), tone: 'first' as const, dashed: true },
					...v.sources.map((source, i): Series => ({
						label: `${axisTitle(source.channel)}${source.believed ? '' : ', not believed'}`,
						x: v.rpm,
						y: source.lambda.map(shown),
						tone: TONES[(i + 1) % TONES.length]!
					}))
				]
			},
			...(base && v.pairs.length > 0
				? [
						{
							id: 'apart',
							title: 'Against what is believed',
							unit: '%',
							decimals: 1,
							minSpan: 6,
							height: 110,
							series: v.sources.map((source, i): Series => {
								const own = v.beliefs.find((b) => source.site === `bank${b.bank}`) ?? base;
								return {
									label: axisTitle(source.channel),
									x: v.rpm,
									y: source.lambda.map((l, k) => {
										const b = own.lambda[k];
										return l === null || b === null || b === undefined ? null : 100 * (l / b - 1);
									}),
									tone: TONES[(i + 1) % TONES.length]!
								};
							})
						}
					]
				: [])
		];
	});
	const min = $derived((view?.rpm[0] ?? 1500) - 250);
	const max = $derived((view?.rpm.at(-1) ?? 6500) + 250);
</script>

<svelte:head><title>Sensors in {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<Loading {evidence} />
{#if view}
	<p class="mb-3 text-lead" data-testid="belief">
		{#each beliefs as b, i (b.banks)}{i ? ' ' : ''}{b.banks}{b.why}.{/each}
	</p>
{:else if answered}
	<p class="mb-3">
		No lambda is logged at all. <a class="underline" href="/jobs/{data.job.id}/plan?add=lambda.b1,lambda.ref"
			>Ask for it in the next drive plan</a
		>
	</p>
{/if}
{#if view}
	<div class="grid gap-6 lg:grid-cols-[minmax(0,6fr)_minmax(0,5fr)]">
		<section aria-label="Sources over engine speed">
			{#if view.sources.some((s) => s.lambda.some((l) => l !== null))}
				<LaneStack
					{lanes}
					{min}
					{max}
					axis={ENGINE_SPEED}
					label="Lambda sources over engine speed: {view.sources.map((s) => axisTitle(s.channel)).join(', ')}"
				/>
			{:else}
				<p class="text-muted">
					The engine was never loaded for long enough to compare sources by engine speed.
				</p>
			{/if}
		</section>
		<section aria-label="Each source">
			<h2 class="mb-1">Sources</h2>
			<table class="w-full text-left text-text">
				<thead>
					<tr class="table-head">
						<th class="py-1 font-normal">Source</th><th class="font-normal">Where</th><th
							class="text-right font-normal">Lag, s</th
						><th class="text-right font-normal">Fit</th>
					</tr>
				</thead>
				<tbody>
					{#each view.sources as s (s.channel)}
						<tr class="border-line border-b">
							<td class="py-1"
								><span class={s.believed ? '' : 'line-through'}>{axisTitle(s.channel)}</span
								>{#if !s.believed}<span class="sr-only"> not believed</span>{/if}</td
							>
							<td>{SITE[s.site] ?? s.site}, {KIND[s.kind]}</td>
							<td class="numbers text-right"
								>{fixed(s.lag.typicalS, 2)}<span class="text-muted font-sans text-small">
									{s.lag.from === 'log' ? '' : ' default'}</span
								></td
							>
							<td class="numbers text-right" title="{s.lag.steps} steps of target or fuel looked at"
								>{Number.isFinite(s.lag.quality) ? fixed(s.lag.quality, 2) : '–'}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
			<p class="text-muted mt-1 text-small">
				The lag is read from what a source answers where the target moves, else from fuel cuts and steps; with
				fewer than four clear ones the default curve over gas flow is used.
			</p>
			<h2 class="mt-4 mb-1">Differences under load</h2>
			{#if view.pairs.length === 0}
				<p class="text-muted">
					No two kinds of source saw the same gas. <a
						class="text-ink underline"
						href="/jobs/{data.job.id}/plan?add=lambda.ref">Ask for a second one</a
					>
				</p>
			{:else}
				<table class="w-full text-text">
					<thead>
						<tr class="table-head">
							<th class="py-1 text-left font-normal">Pair</th><th class="text-right font-normal">Median, %</th
							><th class="text-right font-normal">Worst, %</th><th class="text-right font-normal">at rpm</th
							><th class="text-right font-normal">Drift, points in 10 min</th>
						</tr>
					</thead>
					<tbody>
						{#each view.pairs as p (`${p.a} ${p.b} ${p.bank}`)}
							<tr class="border-line border-b">
								<td class="py-1">{nameOf(p.a)} against {nameOf(p.b)}{p.bank ? `, bank ${p.bank}` : ''}</td>
								<td class="numbers text-right">{signedText(p.medianPct)}</td>
								<td class="numbers text-right">{signedText(p.worstPct)}</td>
								<td class="numbers text-right">{p.worstRpm}</td>
								<td class="numbers text-right">{p.driftPoints === null ? '–' : signedText(p.driftPoints)}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			{/if}
			<h2 class="mt-4 mb-1">What the checks say</h2>
			<SubjectOutcome said={data.said} />
		</section>
	</div>
{/if}
<Alert box message={messageOf(form)} class="mt-4" />
<Typed typed={data.typed} stoich={data.stoich} />
<SecondRecorders recorders={data.recorders} logId={data.log.id} />
<LogConditions
	conditions={data.log.conditions}
	vehicle={data.job.vehicle}
	channels={data.report.log.channels.map((c) => c.id).filter((id) => /^lambda\.(b[12]|ref2?|dyno)$/.test(id))}
	entered={form?.entered}
	saved={form !== null && 'conditionsSaved' in form}
/>
