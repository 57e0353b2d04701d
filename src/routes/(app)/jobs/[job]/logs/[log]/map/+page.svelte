<script lang="ts">
	import { fixed, plural } from '$core/format';
	import type { CellAxes } from '$core/calibration/grid';
	import {
		openFilter,
		type CellFilter,
		type CellSpec,
		type CellStretch,
		type CellView
	} from '$core/evidence/cells/view';
	import type { CellMap as MapRows } from '$core/evidence/cells/correction-map';
	import type { GridField } from '$core/correction/grid-field';
	import { page } from '$app/state';
	import { convert } from '$core/units/units';
	import CellMap from '$lib/ui/cellmap/CellMap.svelte';
	import { shade, signedText, tint } from '$lib/ui/cellmap/colour';
	import { pointsFrom } from '$lib/ui/evidence/axes';
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

	const KINDS = [
		['idle', 'Idle'],
		['cruise', 'Cruise'],
		['light', 'Light acceleration'],
		['medium', 'Medium acceleration'],
		['loaded', 'Loaded'],
		['pull', 'Pulls'],
		['boosted', 'Under boost']
	] as const;
	const SHOWS = [
		['value', 'means'],
		['field', 'field'],
		['samples', 'samples'],
		['scatter', 'scatter']
	] as const;
	/** Cells that a field knows less of than this aren't shown. */
	const SHOWN_TRUST = 0.5;
	let quantity = $state(page.url.searchParams.get('show') ?? '');
	let show = $state<'value' | 'field' | 'samples' | 'scatter'>('value');
	let method = $state<'bilinear' | 'nearest'>('bilinear');
	let lambda = $state('believed');
	let axesChoice = $state('0');
	let own = $state({
		xChannel: 'rpm',
		x: '1000 2000 3000 4000 5000 6000 7000',
		yChannel: 'map',
		y: '20 60 100 140 180'
	});
	// svelte-ignore state_referenced_locally
	let filter = $state<CellFilter>(openFilter(data.report.log.durationS));
	let picked = $state<{ column: number; row: number } | null>(null);
	let view = $state.raw<CellView | null>(null);
	let field = $state.raw<GridField | null>(null);
	let behind = $state.raw<CellStretch[]>([]);
	let drawn = $state(0);
	let copied = $state('');

	const what = $derived(about?.quantities.find((q) => q.id === quantity) ?? about?.quantities[0] ?? null);
	const typed = $derived({ x: pointsFrom(own.x), y: pointsFrom(own.y) });
	const axes = $derived.by((): CellAxes | null => {
		if (!about) return null;
		if (axesChoice !== 'own') return about.axes[Number(axesChoice)]?.axes ?? null;
		return 'points' in typed.x && 'points' in typed.y
			? { xChannel: own.xChannel, x: typed.x.points, yChannel: own.yChannel, y: typed.y.points }
			: null;
	});
	const spec = $derived<CellSpec | null>(
		what && axes ? { quantity: what.id, axes, method, lambda, filter: $state.snapshot(filter) } : null
	);
	/** Only what a table would be multiplied by has a field. */
	const hasField = $derived(what?.fuel === true);
	const asField = $derived(show === 'field' && hasField);
	$effect(() => {
		const s = shownSpec;
		if (!s || !asField || !evidence.api) return;
		field = null;
		void evidence.api.field(s).then((f) => {
			if (s === shownSpec) field = f;
		});
	});
	/** What the shown view was computed for: a late answer to an old question isn't shown. */
	let asked: CellSpec | null = null;
	let shownSpec = $state.raw<CellSpec | null>(null);
	$effect(() => {
		const s = spec;
		if (!s || !evidence.api) return;
		asked = s;
		void evidence.api.cells(s).then((v) => {
			if (asked !== s) return;
			view = v;
			shownSpec = s;
			drawn++;
		});
	});
	$effect(() => {
		const s = shownSpec;
		const cell = picked;
		if (!s || !cell || !evidence.api) return;
		void evidence.api.behind(s, cell.column, cell.row).then((list) => {
			if (cell === picked && s === shownSpec) behind = list;
		});
	});

	const unitOf = (unit: string) => preferences.shown(1, unit, data.stoich).unit;
	const scaled = (v: number, unit: string) => preferences.shown(v, unit, data.stoich).value;
	/** The view as rows, in the reader's units. */
	const rows = $derived.by((): MapRows | null => {
		if (!view || !shownSpec || !what) return null;
		const { x, y } = shownSpec.axes;
		const of = (flat: Float64Array, change = (v: number) => v) =>
			y.map((_, r) =>
				x.map((__, c) => {
					const v = flat[r * x.length + c]!;
					return Number.isFinite(v) ? change(v) : null;
				})
			);
		const counted = of(view.n).map((row) => row.map((v) => Math.round((v ?? 0) * 10) / 10));
		if (asField)
			return (
				field && {
					percent: field.percent.map((row, r) =>
						row.map((v, c) => (field!.trust[r]![c]! >= SHOWN_TRUST ? v : null))
					),
					samples: counted,
					se: field.sd.map((row) => row.map((v) => Number(fixed(v, 2))))
				}
			);
		const values =
			show === 'samples'
				? of(view.n, (v) => (v > 0 ? v : Number.NaN)).map((row) => row.map((v) => (v === v ? v : null)))
				: of(show === 'scatter' ? view.spread : view.values, (v) =>
						show === 'scatter' ? v : scaled(v, what.unit)
					);
		return {
			percent: values,
			samples: counted,
			se: of(view.se).map((row) => row.map((v) => (v === null ? null : Number(fixed(v, 2)))))
		};
	});
	const extent = $derived.by(() => {
		const all = rows?.percent.flat().filter((v): v is number => v !== null) ?? [];
		return { low: Math.min(...all), high: Math.max(...all) };
	});
	const signed = $derived((show === 'value' || asField) && what?.signed === true);
	const decimals = $derived(
		show === 'samples'
			? 0
			: show === 'value' && what
				? Math.max(preferences.shown(1, what.unit, data.stoich).decimals, what.unit === 'λ' ? 2 : 0)
				: (what?.decimals ?? 1)
	);
	const text = (v: number) => (signed ? signedText(v) : fixed(v, decimals));
	const title = $derived(
		what
			? `${what.title}${asField ? ', as a field' : show === 'scatter' ? ', scatter' : show === 'samples' ? ', effective samples' : ''}`
			: ''
	);
	function toggleKind(kind: CellFilter['kinds'][number]) {
		filter.kinds = filter.kinds.includes(kind)
			? filter.kinds.filter((k) => k !== kind)
			: [...filter.kinds, kind];
	}
	async function copy() {
		if (!rows || !shownSpec) return;
		const lines = [
			['', ...shownSpec.axes.x],
			...shownSpec.axes.y.map((y, r) => [
				y,
				...rows!.percent[r]!.map((v) => (v === null ? '' : Number(fixed(v, 3))))
			])
		];
		try {
			await navigator.clipboard.writeText(lines.map((l) => l.join('\t')).join('\n'));
			copied = 'Copied: paste it into a spreadsheet';
		} catch {
			copied = 'The browser did not let it be copied';
		}
	}
	const number = (text: string) =>
		text.trim() === '' || !Number.isFinite(Number(text)) ? null : Number(text);
	const celsius = (text: string) => {
		const v = number(text);
		return v === null ? null : convert(v, preferences.units.temperature, '°C');
	};
	const focus = $derived(behind.slice(0, 40).map((b) => ({ from: b.fromS, to: b.toS })));
	const filtered = $derived(
		filter.kinds.length > 0 ||
			filter.withUnusable ||
			filter.gear !== 0 ||
			filter.fromS > 0 ||
			filter.toS < data.report.log.durationS ||
			filter.coolantMinC !== null ||
			filter.intakeMinC !== null ||
			filter.intakeMaxC !== null
	);
</script>

<svelte:head><title>Cell map of {data.log.name} – Tanto</title></svelte:head>

<p class="text-muted truncate text-[13px]" title={data.log.name}>{data.log.name}</p>
<h1 class="mb-3">Cell map</h1>
<Loading {evidence} />
{#if about && what}
	<div class="grid gap-5 lg:grid-cols-[188px_minmax(0,1fr)]">
		<form class="text-[13px]" aria-label="What the map shows" onsubmit={(e) => e.preventDefault()}>
			<label class="mb-2 block"
				>Quantity
				<select class="w-full" value={what.id} onchange={(e) => (quantity = e.currentTarget.value)}>
					{#each about.quantities as q (q.id)}<option value={q.id}>{q.title}</option>{/each}
				</select></label
			>
			<label class="mb-2 block"
				>Axes
				<select class="w-full" bind:value={axesChoice}>
					{#each about.axes as a, i (a.title)}<option value={String(i)}>{a.title}</option>{/each}
					<option value="own">my own</option>
				</select></label
			>
			{#if axesChoice === 'own'}
				{#each ['x', 'y'] as const as axis (axis)}
					{@const answer = typed[axis]}
					<fieldset class="mb-2">
						<label class="block"
							>{axis === 'x' ? 'Across' : 'Up'}
							<select
								class="w-full"
								aria-label="Channel {axis === 'x' ? 'across' : 'up'}"
								value={axis === 'x' ? own.xChannel : own.yChannel}
								onchange={(e) => {
									if (axis === 'x') own.xChannel = e.currentTarget.value;
									else own.yChannel = e.currentTarget.value;
								}}
							>
								{#each about.channels as c (c)}<option value={c}>{axisTitle(c)}</option>{/each}
							</select></label
						>
						<label class="mt-1 block"
							><span class="sr-only">Breakpoints {axis === 'x' ? 'across' : 'up'}</span>
							<input
								class="numbers w-full"
								bind:value={own[axis]}
								aria-invalid={'problem' in answer}
							/></label
						>
						{#if 'problem' in answer}<p role="alert" class="text-stop">{answer.problem}</p>{/if}
					</fieldset>
				{/each}
			{/if}
			<fieldset class="mb-3">
				<legend class="small-caps">Show</legend>
				{#each SHOWS.filter(([id]) => id !== 'field' || hasField) as [id, word] (id)}
					<label class="mr-2 inline-flex items-center gap-1"
						><input type="radio" name="show" value={id} bind:group={show} />{word}</label
					>
				{/each}
			</fieldset>
			<fieldset class="mb-3">
				<legend class="small-caps">Driving</legend>
				{#each KINDS as [kind, word] (kind)}
					<label class="flex items-center gap-1.5"
						><input
							type="checkbox"
							checked={filter.kinds.includes(kind)}
							onchange={() => toggleKind(kind)}
						/>{word}</label
					>
				{/each}
				{#if what.fuel}
					<label class="mt-1 flex items-center gap-1.5"
						><input type="checkbox" bind:checked={filter.withUnusable} />also tip-in, cut, warm-up</label
					>
				{/if}
			</fieldset>
			{#if about.gears.length}
				<label class="mb-2 block"
					>Gear
					<select
						class="w-full"
						value={String(filter.gear)}
						onchange={(e) => (filter.gear = Number(e.currentTarget.value))}
					>
						<option value="0">any</option>
						{#each about.gears as g (g)}<option value={String(g)}>{g}</option>{/each}
					</select></label
				>
			{/if}
			<div class="mb-2 grid grid-cols-2 gap-2">
				<label
					>From, s<input
						class="numbers w-full"
						inputmode="decimal"
						value={filter.fromS}
						oninput={(e) => (filter.fromS = number(e.currentTarget.value) ?? 0)}
					/></label
				>
				<label
					>to, s<input
						class="numbers w-full"
						inputmode="decimal"
						value={Math.round(filter.toS * 10) / 10}
						oninput={(e) => (filter.toS = number(e.currentTarget.value) ?? data.report.log.durationS)}
					/></label
				>
				<label
					>Coolant from, {preferences.units.temperature}<input
						class="numbers w-full"
						inputmode="decimal"
						oninput={(e) => (filter.coolantMinC = celsius(e.currentTarget.value))}
					/></label
				>
				<label
					>Intake to, {preferences.units.temperature}<input
						class="numbers w-full"
						inputmode="decimal"
						oninput={(e) => (filter.intakeMaxC = celsius(e.currentTarget.value))}
					/></label
				>
			</div>
			{#if what.fuel && about.lambdas.length > 1}
				<label class="mb-2 block"
					>On the word of
					<select class="w-full" bind:value={lambda}>
						<option value="believed">what is believed</option>
						{#each about.lambdas as l (l)}<option value={l}>{axisTitle(l)}</option>{/each}
					</select></label
				>
			{/if}
			<label class="mb-3 block"
				>Samples go to
				<select class="w-full" bind:value={method}>
					<option value="bilinear">the four cells around</option>
					<option value="nearest">the nearest cell</option>
				</select></label
			>
			{#if filtered}
				<button type="button" class="button" onclick={() => (filter = openFilter(data.report.log.durationS))}
					>Take the filters off</button
				>
			{/if}
		</form>
		<section aria-label="Map" data-drawn={drawn} class="min-w-0">
			{#if axes === null}
				<p class="text-muted">The axes are not complete: see the message beside them.</p>
			{:else if rows && shownSpec}
				<CellMap
					map={rows}
					x={shownSpec.axes.x}
					y={shownSpec.axes.y}
					xLabel={axisTitle(shownSpec.axes.xChannel)}
					yLabel={axisTitle(shownSpec.axes.yChannel)}
					yUnit={axisShownUnit({ channel: shownSpec.axes.yChannel, unit: shownSpec.axes.yUnit })}
					caption="{title}, {show === 'samples' ? 'count' : unitOf(what.unit)}{what.signed && signed
						? what.id === 'banks'
							? '; + means bank 2 is leaner'
							: what.fuel
								? '; + wants more fuel'
								: '; + means the model is high'
						: ''}. {asField
						? 'All cells together, as one smooth field: the square shows how certain each is'
						: 'The square shows how much data stands behind a cell'}: full is proven, a dot is a guess."
					{text}
					background={signed ? tint : (v) => shade(v, extent.low, extent.high)}
					describe={(v) => `${text(v)} ${show === 'samples' ? '' : unitOf(what.unit)}`}
					trusts={asField ? (field?.trust ?? null) : null}
					{picked}
					onpick={(column, row) => (picked = { column, row })}
				/>
				<p class="text-muted mt-2 flex items-center gap-3 text-[13px]">
					<span><span class="numbers">{view?.samples ?? 0}</span> samples count</span>
					<button class="button" onclick={copy}>Copy as a table</button>
					<span role="status">{copied}</span>
				</p>
			{:else if view === null && drawn > 0}
				<p class="text-muted">This log lacks the quantity or one of the axes.</p>
			{/if}
			{#if picked && behind.length && shownSpec}
				<p class="mt-4" data-testid="behind">
					Behind {shownSpec.axes.x[picked.column]} · {shownSpec.axes.y[picked.row]}:
					{#each behind.slice(0, 5) as b, i (b.fromS)}{i ? '; ' : ''}<span class="numbers"
							>{clock(b.fromS)}, {plural(b.samples, 'sample')}, {signed
								? signedText(b.value)
								: fixed(scaled(b.value, what.unit), decimals)}</span
						>{/each}{behind.length > 5 ? `; and ${behind.length - 5} more stretches` : ''}
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
