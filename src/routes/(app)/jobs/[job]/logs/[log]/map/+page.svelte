<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { fixed, plural } from '$core/format';
	import { page } from '$app/state';
	import CellMap from '$lib/ui/cellmap/CellMap.svelte';
	import { shade, signedText, tint } from '$lib/ui/cellmap/colour';
	import MapFilters from '$lib/ui/cellmap/MapFilters.svelte';
	import { MapView } from '$lib/ui/cellmap/view.svelte';
	import { axisTitle, axisShownUnit } from '$core/calibration/axes';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import Traces from '$lib/ui/lanes/Traces.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { clock } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const evidence = useEvidence(() => data.log.id);
	const about = $derived(evidence.about);
	const map = new MapView(
		() => ({ evidence, preferences, durationS: data.report.log.durationS, stoich: data.stoich }),
		page.url.searchParams.get('show') ?? ''
	);
	let copied = $state('');

	const title = $derived(
		map.what
			? `${map.what.title}${map.asField ? ', as a field' : map.show === 'scatter' ? ', scatter' : map.show === 'samples' ? ', effective samples' : ''}`
			: ''
	);
	async function copy() {
		const table = map.asTable();
		if (!table) return;
		try {
			await navigator.clipboard.writeText(table);
			copied = 'Copied: paste it into a spreadsheet';
		} catch {
			copied = 'The browser did not let it be copied';
		}
	}
	const focus = $derived(map.behind.slice(0, 40).map((b) => ({ from: b.fromS, to: b.toS })));
</script>

<svelte:head><title>Cell map of {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<Loading {evidence} />
{#if about && map.what}
	{@const what = map.what}
	<div class="grid gap-5 lg:grid-cols-[188px_minmax(0,1fr)]">
		<MapFilters {map} {about} durationS={data.report.log.durationS} />
		<section aria-label="Map" data-drawn={map.drawn} class="min-w-0">
			{#if map.axes === null}
				<p class="text-muted">The axes are not complete: see the message beside them.</p>
			{:else if map.rows && map.shownSpec}
				{@const axes = map.shownSpec.axes}
				<CellMap
					map={map.rows}
					x={axes.x}
					y={axes.y}
					xLabel={axisTitle(axes.xChannel)}
					yLabel={axisTitle(axes.yChannel)}
					yUnit={axisShownUnit({ channel: axes.yChannel, unit: axes.yUnit })}
					caption="{title}, {map.show === 'samples' ? 'count' : map.unit}{what.signed && map.signed
						? what.id === 'banks'
							? '; + means bank 2 is leaner'
							: what.fuel
								? '; + is more fuel'
								: '; + means the model is high'
						: ''}. {map.asField
						? 'All cells together, as one smooth field: the square shows how certain each is'
						: 'The square shows how much data stands behind a cell'}: full is proven, a dot is a guess."
					text={(v) => map.text(v)}
					background={map.signed ? tint : (v) => shade(v, map.extent.low, map.extent.high)}
					describe={(v) => `${map.text(v)} ${map.show === 'samples' ? '' : map.unit}`}
					trusts={map.asField ? (map.field?.trust ?? null) : null}
					picked={map.picked}
					onpick={(column, row) => (map.picked = { column, row })}
				/>
				<p class="text-muted mt-2 flex items-center gap-3 text-small">
					<span><span class="numbers">{map.view?.samples ?? 0}</span> samples count</span>
					<button class="button" onclick={copy}>Copy as a table</button>
					<span role="status">{copied}</span>
				</p>
			{:else if map.view === null && map.drawn > 0}
				<p class="text-muted">This log lacks the quantity or one of the axes.</p>
			{/if}
			{#if map.picked && map.behind.length && map.shownSpec}
				<p class="mt-4" data-testid="behind">
					Behind {map.shownSpec.axes.x[map.picked.column]} · {map.shownSpec.axes.y[map.picked.row]}:
					{#each map.behind.slice(0, 5) as b, i (b.fromS)}{i ? '; ' : ''}<span class="numbers"
							>{clock(b.fromS)}, {plural(b.samples, 'sample')}, {map.signed
								? signedText(b.value)
								: fixed(map.scaled(b.value), map.decimals)}</span
						>{/each}{map.behind.length > 5 ? `; and ${map.behind.length - 5} more stretches` : ''}
				</p>
			{/if}
			<div class="mt-4">
				<Traces
					logId={data.log.id}
					report={data.report}
					stoich={data.stoich}
					profile={data.profile}
					{focus}
				/>
			</div>
		</section>
	</div>
{/if}
