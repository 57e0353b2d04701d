<script lang="ts">
	/** Traces of a log over time: lanes by question, wheel zooms, drag pans, the strip below moves the window. */
	import { CHANNELS } from '../../../core/channels/canonical';
	import type { TraceWindow } from '../../../core/logfile/pyramid';
	import type { Profile } from '../../../core/screening/profile';
	import type { Report } from '../../../core/screening/report';
	import { usePreferences } from '../preferences.svelte';
	import { useCommands } from '../commands.svelte';
	import { clock } from '../time';
	import LaneStack from './LaneStack.svelte';
	import { GROUPS, QUESTIONS, TRACE_POINTS } from './questions';
	import type { Band, Lane, Series } from './types';

	let {
		logId,
		report,
		stoich,
		profile,
		initial = null,
		finding = null
	}: {
		logId: number;
		report: Report;
		stoich: number;
		profile: Profile;
		/** Traces of the whole log for the first question, when the server sent them with the page. */
		initial?: Record<string, TraceWindow> | null;
		finding?: Report['findings'][number] | null;
	} = $props();

	const preferences = usePreferences();
	let picked = $state<string | null>(null);
	const suited = $derived(
		finding?.code.startsWith('knock') ? 'knock' : finding?.code.startsWith('inj') ? 'supply' : 'mixture'
	);
	const question = $derived(picked ?? suited);

	const total = $derived(Math.max(1, report.log.durationS));
	let span = $state<{ min: number; max: number } | null>(null);
	const view = $derived(span ?? { min: 0, max: total });
	const have = $derived(new Set(report.log.channels.map((c) => c.id)));
	const groups = $derived(
		QUESTIONS[question]!.groups.map((id) => ({
			id,
			...GROUPS[id]!,
			ids: GROUPS[id]!.ids.filter((c) => have.has(c))
		})).filter((g) => g.ids.length > 0)
	);
	const channels = $derived(groups.flatMap((g) => g.ids));

	// svelte-ignore state_referenced_locally
	let data = $state.raw<Record<string, TraceWindow>>(initial ?? {});
	let problem = $state('');
	// svelte-ignore state_referenced_locally
	let loaded = $state(initial !== null);
	let first = true;

	$effect(() => {
		const wanted = channels.join(',');
		const had = first && initial !== null && finding === null;
		first = false;
		if (had) return;
		const margin = (view.max - view.min) * 0.25;
		const from = Math.max(0, view.min - margin);
		const to = Math.min(total, view.max + margin);
		const abort = new AbortController();
		const timer = setTimeout(
			() => {
				fetch(`/api/v1/logs/${logId}/trace?channels=${wanted}&from=${from}&to=${to}&points=${TRACE_POINTS}`, {
					signal: abort.signal
				})
					.then(async (r) => {
						if (!r.ok) throw new Error(`the server answered ${r.status}`);
						data = (await r.json()) as Record<string, TraceWindow>;
						loaded = true;
						problem = '';
					})
					.catch((e: unknown) => {
						if (!abort.signal.aborted) problem = e instanceof Error ? e.message : String(e);
					});
			},
			loaded ? 60 : 0
		);
		return () => {
			clearTimeout(timer);
			abort.abort();
		};
	});

	/** Opens at the longest moment of the finding, with some of what came before and after. */
	$effect(() => {
		const ranges = finding?.ranges ?? [];
		if (ranges.length === 0) return;
		const longest = ranges.reduce((a, b) => (b.to - b.from > a.to - a.from ? b : a));
		const length = Math.max(8, (longest.to - longest.from) * 2.5);
		const middle = (longest.from + longest.to) / 2;
		show(middle - length / 2, middle + length / 2);
	});

	const TONES: Series['tone'][] = ['second', 'third', 'first', 'old'];
	const lanes = $derived<Lane[]>(
		groups.map((g): Lane => {
			const unit = preferences.shown(1, g.unit, stoich);
			const scale = (v: number | null) => (v === null ? null : preferences.shown(v, g.unit, stoich).value);
			let tone = 0;
			return {
				id: g.id,
				title: g.title,
				unit: unit.unit,
				decimals: unit.decimals,
				minSpan: Math.abs(
					preferences.shown(g.minSpan, g.unit, stoich).value - preferences.shown(0, g.unit, stoich).value
				),
				...(g.floor === undefined ? {} : { floor: g.floor }),
				...(g.ceiling === undefined ? {} : { ceiling: preferences.shown(g.ceiling, g.unit, stoich).value }),
				...limitOf(g.id),
				series: g.ids.flatMap((id): Series[] => {
					const w = data[id];
					const dashed = g.dashed?.includes(id) ?? false;
					const mine = dashed ? 'first' : g.ids.length === 1 ? 'first' : TONES[tone++ % TONES.length]!;
					if (!w) return [];
					return [
						{
							label: CHANNELS.get(id)?.title ?? id,
							x: w.timeS,
							y: w.min.map(scale),
							yMax: w.max ? w.max.map(scale) : null,
							tone: mine,
							dashed
						}
					];
				})
			};
		})
	);

	/** The finding's limit, where it is a level of the lane's own quantity. */
	function limitOf(lane: string): Pick<Lane, 'limit'> {
		if (!finding) return {};
		if (lane === 'knock' && finding.code.startsWith('knock') && finding.limit !== undefined)
			return { limit: { from: finding.limit, side: 'above', label: `limit ${finding.limit}°` } };
		if (lane === 'mixture' && finding.code === 'fuel.lean') {
			const { lambdaLeanBoosted } = profile;
			return {
				limit: {
					from: preferences.shown(lambdaLeanBoosted, 'λ', stoich).value,
					side: 'above',
					label: `leanest under boost ${preferences.text(lambdaLeanBoosted, 'λ', stoich)}`
				}
			};
		}
		return {};
	}
	const bands = $derived<Band[]>(
		(finding?.ranges ?? []).map((r) => ({ from: r.from, to: r.to, tone: finding!.severity }))
	);

	function show(from: number, to: number) {
		const width = Math.min(total, Math.max(0.5, to - from));
		const min = Math.max(0, Math.min(total - width, from));
		span = { min, max: min + width };
	}
	function zoom(at: number, factor: number) {
		show(at - (at - view.min) * factor, at + (view.max - at) * factor);
	}
	function pan(share: number) {
		const by = share * (view.max - view.min);
		show(view.min + by, view.max + by);
	}
	const pulls = $derived(report.segments.filter((s) => s.kind === 'pull'));
	function toPull(by: number) {
		const middle = (view.min + view.max) / 2;
		const later = pulls.filter((p) =>
			by > 0 ? (p.from + p.to) / 2 > middle + 0.5 : (p.from + p.to) / 2 < middle - 0.5
		);
		const next = by > 0 ? later[0] : later[later.length - 1];
		if (next) show(next.from - 3, next.to + 3);
	}
	useCommands([
		{
			id: 'zoom-in',
			title: 'Zoom into the traces',
			key: '+',
			run: () => zoom((view.min + view.max) / 2, 0.6)
		},
		{
			id: 'zoom-out',
			title: 'Zoom out of the traces',
			key: '-',
			run: () => zoom((view.min + view.max) / 2, 1.7)
		},
		{ id: 'pan-left', title: 'Move the traces back', key: ',', run: () => pan(-0.25) },
		{ id: 'pan-right', title: 'Move the traces on', key: '.', run: () => pan(0.25) },
		{ id: 'pull-next', title: 'Next pull', key: 'p', run: () => toPull(1) },
		{ id: 'pull-previous', title: 'Previous pull', key: 'P', run: () => toPull(-1) },
		{ id: 'whole', title: 'Show the whole log', key: '0', run: () => (span = null) }
	]);

	let strip: HTMLElement;
	function stripMove(e: PointerEvent) {
		const r = strip.getBoundingClientRect();
		const at = ((e.clientX - r.left) / r.width) * total;
		const half = (view.max - view.min) / 2;
		show(at - half, at + half);
	}
</script>

<section aria-label="Traces" data-ready={loaded || undefined}>
	<div class="mb-2 flex flex-wrap items-center gap-2">
		<h2 class="mr-3">Traces</h2>
		{#each Object.entries(QUESTIONS) as [id, q] (id)}
			<button
				class="button {question === id ? 'button-main' : ''}"
				aria-pressed={question === id}
				onclick={() => (picked = id)}>{q.title}</button
			>
		{/each}
		<span class="text-muted ml-auto text-[13px]">
			<span class="numbers">{clock(view.min)}–{clock(view.max)}</span> of
			<span class="numbers">{clock(total)}</span>
		</span>
		<button class="button" onclick={() => (span = null)} disabled={span === null}>Whole log</button>
	</div>
	{#if problem}
		<p role="alert" class="text-stop">The traces could not be loaded: {problem}.</p>
	{/if}
	<LaneStack
		{lanes}
		min={view.min}
		max={view.max}
		axisTitle="Time"
		axisTick={(v) => (view.max - view.min < 20 ? `${v.toFixed(1)} s` : clock(v))}
		{bands}
		onwheel={zoom}
		ondrag={pan}
		label="Traces over time: {lanes.map((l) => l.title).join(', ')}"
	/>
	<div
		bind:this={strip}
		class="bg-shade relative mt-1 ml-[52px] h-7 touch-none"
		role="slider"
		tabindex="0"
		aria-label="Window of the traces"
		aria-valuemin={0}
		aria-valuemax={Math.round(total)}
		aria-valuenow={Math.round((view.min + view.max) / 2)}
		aria-valuetext="{clock(view.min)} to {clock(view.max)}"
		onpointerdown={(e) => {
			strip.setPointerCapture(e.pointerId);
			stripMove(e);
		}}
		onpointermove={(e) => {
			if (e.buttons) stripMove(e);
		}}
		onkeydown={(e) => {
			if (e.key === 'ArrowLeft') pan(-0.1);
			else if (e.key === 'ArrowRight') pan(0.1);
		}}
	>
		{#each pulls as p, i (i)}
			<span
				class="bg-watch/50 absolute top-0 h-3"
				style:left="{(100 * p.from) / total}%"
				style:width="max(2px, {(100 * (p.to - p.from)) / total}%)"
				title="pull"
			></span>
		{/each}
		{#each report.findings as f, i (i)}
			{#each f.ranges ?? [] as r, k (k)}
				<span
					class="absolute bottom-0 h-3 {f.severity === 'stop'
						? 'bg-stop'
						: f.severity === 'fix'
							? 'bg-fix'
							: 'bg-muted'}"
					style:left="{(100 * r.from) / total}%"
					style:width="max(2px, {(100 * (r.to - r.from)) / total}%)"
					title={f.title}
				></span>
			{/each}
		{/each}
		<span
			class="border-ink pointer-events-none absolute top-0 h-7 border-2"
			style:left="{(100 * view.min) / total}%"
			style:width="{(100 * (view.max - view.min)) / total}%"
		></span>
	</div>
	<p class="text-muted mt-1 pl-[52px] text-[13px]">
		Strip: pulls above, findings below. Wheel zooms, drag pans; keys + − , . p P 0.
	</p>
</section>
