<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { fixed, fixedOrDash } from '$core/format';
	import type { CylinderView } from '$core/screening/cylinder-view';
	import { signedText, tint } from '$lib/ui/cellmap/colour';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import SubjectOutcome from '$lib/ui/evidence/SubjectOutcome.svelte';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import { cylinderPlace, type CylinderPlace } from '$lib/ui/pictures/cylinder-place';
	import EngineFromAbove from '$lib/ui/pictures/EngineFromAbove.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const evidence = useEvidence(() => data.log.id);
	let view = $state.raw<CylinderView | null>(null);
	let answered = $state(false);
	$effect(() => {
		if (!evidence.about || !evidence.api) return;
		void evidence.api.cylinders().then((v) => {
			view = v;
			answered = true;
		});
	});
	const banked = $derived(view?.rows.some((r) => r.bank !== null) ?? false);
	/** The leanest place of a cylinder decides what it looks like: it is the one that can be hurt. */
	function place(r: CylinderView['rows'][number]): CylinderPlace {
		const known = r.lambdaPct.flatMap((p, i) => (p === null ? [] : [{ p, rpm: view!.rpm[i]! }]));
		const worst = known.reduce((a, b) => (b.p > a.p ? b : a), known[0] ?? { p: 0, rpm: 0 });
		const { cylinder, knockDeg, misfires, egtC, trimPct } = r;
		return cylinderPlace(
			{
				cylinder,
				lambdaPct: known.length ? worst.p : null,
				atRpm: known.length ? worst.rpm : null,
				knockDeg,
				misfires,
				egtC,
				trimPct
			},
			null,
			data.profile,
			(v) => preferences.text(v, '°C')
		);
	}
	const banks = $derived.by(() => {
		const rows = view?.rows ?? [];
		const names = [...new Set(rows.map((r) => r.bank))];
		return names.map((b) => rows.filter((r) => r.bank === b).map(place));
	});
	const heat = (c: number) => fixed(preferences.shown(c, '°C').value, 0);
	const MISSING = [
		['lambda', 'lambda.cyl1', 'lambda by cylinder'],
		['knock', 'knockRetard.cyl1', 'knock retard by cylinder'],
		['egt', 'egt.cyl1', 'exhaust temperature by cylinder'],
		['misfires', 'misfire.cyl1', 'misfires by cylinder']
	] as const;
	const missing = $derived(MISSING.filter(([key]) => !view?.has[key]));
	/** All cylinders are asked for, not the first alone. */
	const asked = (first: string) =>
		Array.from({ length: data.cylinders }, (_, k) => first.replace(/1$/, String(k + 1))).join(',');
</script>

<svelte:head><title>Cylinders in {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<div class="mb-4"><SubjectOutcome said={data.said} /></div>
<Loading {evidence} />
{#if view}
	<div class="mb-4"><EngineFromAbove {banks} plugs={false} /></div>
	{#if view.rpm.length || view.has.egt}
		<p class="text-muted pb-1 text-small">
			{#if view.rpm.length}Mixture: percent leaner (+) or richer (−) than the median of its neighbours, under
				load, from each engine speed on for 500 rpm.{/if}
			{#if view.has.egt}Exhaust temperature at steady load is a trend, no more.{/if}
		</p>
	{/if}
	<div class="overflow-x-auto">
		<table class="numbers text-right text-text" aria-label="Cylinders">
			<thead>
				<tr class="text-muted border-strong-line border-b font-sans text-small">
					<th class="pr-3 text-left font-normal">Cylinder</th>
					{#if banked}<th class="px-2 font-normal">Bank</th>{/if}
					{#each view.rpm as r (r)}<th class="numbers min-w-[50px] px-1.5 font-normal">{r}</th>{/each}
					{#if view.has.knock}<th class="px-2 font-normal">Retard, °</th><th class="px-2 font-normal"
							>at rpm</th
						>{/if}
					{#if view.has.egt}<th class="px-2 font-normal">Exhaust, {preferences.units.temperature}</th>{/if}
					{#if view.has.misfires}<th class="px-2 font-normal">Misfires</th>{/if}
					{#if view.has.trims}<th class="px-2 font-normal">Trim, %</th>{/if}
				</tr>
			</thead>
			<tbody>
				{#each view.rows as r (r.cylinder)}
					<tr class="border-line border-b">
						<th scope="row" class="py-1 pr-3 text-left font-semibold">{r.cylinder}</th>
						{#if banked}<td class="px-2">{r.bank ?? '–'}</td>{/if}
						{#each r.lambdaPct as p, i (view.rpm[i])}
							<td class="px-1.5" style:background={tint(p)}>{p === null ? '–' : signedText(p)}</td>
						{/each}
						{#if view.has.knock}<td class="px-2 {(r.knockDeg ?? 0) >= 0.5 ? 'font-semibold' : ''}"
								>{fixedOrDash(r.knockDeg, 1)}</td
							><td class="px-2">{fixedOrDash(r.knockRpm, 0)}</td>{/if}
						{#if view.has.egt}<td class="px-2">{r.egtC === null ? '–' : heat(r.egtC)}</td>{/if}
						{#if view.has.misfires}<td class="px-2 {r.misfires ? 'text-fix font-semibold' : ''}"
								>{r.misfires ?? '–'}</td
							>{/if}
						{#if view.has.trims}<td class="px-2">{r.trimPct === null ? '–' : signedText(r.trimPct)}</td>{/if}
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
{:else if answered}
	<p class="text-muted">Neither the log nor the calibration tells cylinders apart.</p>
{/if}
{#if answered && missing.length}
	<p class="text-muted mt-4 text-text">
		Not logged: {#each missing as [key, first, words], i (key)}{i ? ', ' : ''}<a
				class="underline"
				href="/jobs/{data.job.id}/plan?add={asked(first)}">{words}</a
			>{/each}. A click asks for it in the next drive plan.
	</p>
{/if}
