<script lang="ts">
	/**
	 * Traces of a log over time: lanes by question or by hand, wheel zooms, drag pans, shift and drag (or the key s) selects a
	 * span, the strip below moves the window. An earlier log of the job can lie behind, pull on pull.
	 */
	import { fixed } from '$core/format';
	import { CHANNELS } from '$core/channels/canonical';
	import type { TraceWindow } from '$core/logfile/pyramid';
	import type { Profile } from '$core/limits/profile';
	import type { Shown } from '$core/screening/sections';
	import type { Report } from '$core/screening/report';
	import { usePreferences } from '../preferences.svelte';
	import { useCommands } from '../commands.svelte';
	import { clock } from '../time';
	import { buildLanes, groupsFor, limitOf, unitOf } from './build';
	import LanePicker from './LanePicker.svelte';
	import LaneStack from './LaneStack.svelte';
	import { TIME } from './scale';
	import Overview from './Overview.svelte';
	import { channelsOf, QUESTIONS } from './questions';
	import { TraceData } from './trace-data.svelte';
	import type { Band, EarlierLog } from './types';

	let {
		logId,
		report,
		stoich,
		profile,
		initial = null,
		finding = null,
		shown = null,
		ownLanes = null,
		earlier = [],
		marks = [],
		focus = [],
		question: asksFor = null,
		onfinding
	}: {
		logId: number;
		report: Report;
		stoich: number;
		profile: Profile;
		/** Traces of the whole log for the first question, when the server sent them with the page. */
		initial?: Record<string, TraceWindow> | null;
		finding?: Report['findings'][number] | null;
		/** What is drawn to the finding. */
		shown?: Shown | null;
		/** Channels that the tuner chose by hand. */
		ownLanes?: string[] | null;
		earlier?: EarlierLog[];
		marks?: { at: number; title: string }[];
		/** Stretches to go to and to mark: the samples behind something, the longest first. */
		focus?: { from: number; to: number }[];
		/** Which lanes to begin with; by the finding when missing. */
		question?: string | null;
		/** Goes to the next finding, or the one before. */
		onfinding?: ((by: number) => void) | undefined;
	} = $props();

	const preferences = usePreferences();
	let picked = $state<string | null>(null);
	let choosing = $state(false);
	// Until somebody has chosen, their own lanes begin with those that answer the first question.
	// svelte-ignore state_referenced_locally
	let own = $state<string[]>(
		ownLanes ?? channelsOf('mixture', new Set(report.log.channels.map((c) => c.id)))
	);
	const suited = $derived(asksFor ?? shown?.lane ?? 'mixture');
	const question = $derived(picked ?? suited);

	const total = $derived(Math.max(1, report.log.durationS));
	let span = $state<{ min: number; max: number } | null>(null);
	const view = $derived(span ?? { min: 0, max: total });
	const have = $derived(
		report.log.channels.map((c) => c.id).filter((id) => CHANNELS.get(id)?.quantity !== 'text')
	);
	const groups = $derived(
		groupsFor(
			question === 'own' ? own.filter((id) => have.includes(id)) : channelsOf(question, new Set(have))
		)
	);
	const channels = $derived(groups.flatMap((g) => g.ids));

	let behindId = $state<number | null>(null);
	const asked = $derived.by(() => {
		const margin = (view.max - view.min) * 0.25;
		return { from: Math.max(0, view.min - margin), to: Math.min(total, view.max + margin) };
	});

	/** The earlier log is moved so that its pull in the same gear begins where the one in view does. */
	const shiftS = $derived.by(() => {
		const log = earlier.find((e) => e.id === behindId);
		if (!log) return 0;
		const middle = (view.min + view.max) / 2;
		const near = [...pulls].sort(
			(a, b) => Math.abs((a.from + a.to) / 2 - middle) - Math.abs((b.from + b.to) / 2 - middle)
		)[0];
		if (!near) return 0;
		const nth = pulls.filter((p) => p.gear === near.gear).indexOf(near);
		const same = log.pulls.filter((p) => p.gear === near.gear);
		const match = same[Math.min(nth, same.length - 1)] ?? log.pulls[0];
		return match ? near.from - match.from : 0;
	});
	/** Opens at the longest moment of the finding, with some of what came before and after. */
	$effect(() => {
		const ranges = finding?.ranges ?? focus;
		if (ranges.length === 0) return;
		const longest = ranges.reduce((a, b) => (b.to - b.from > a.to - a.from ? b : a));
		const length = Math.max(8, (longest.to - longest.from) * 2.5);
		const middle = (longest.from + longest.to) / 2;
		show(middle - length / 2, middle + length / 2);
	});

	let selecting = $state(false);
	let selection = $state<{ from: number; to: number } | null>(null);
	// svelte-ignore state_referenced_locally
	const traces = new TraceData(
		{
			get logId() {
				return logId;
			},
			get channels() {
				return channels;
			},
			get span() {
				return asked;
			},
			get selection() {
				return selection;
			},
			get behind() {
				return behindId === null ? null : { id: behindId, shiftS };
			}
		},
		initial,
		() => finding === null
	);

	const lanes = $derived(
		buildLanes(
			groups,
			traces.data,
			{ name: earlier.find((e) => e.id === behindId)?.name ?? '', traces: traces.behind },
			preferences,
			stoich,
			(lane) => limitOf(lane, { finding, shown, profile, preferences, stoich })
		)
	);

	const bands = $derived<Band[]>([
		...(finding?.ranges ?? []).map((r): Band => ({ from: r.from, to: r.to, tone: finding!.severity })),
		...focus.map((f): Band => ({ ...f, tone: 'note' })),
		...marks.map((m): Band => ({ from: m.at, to: m.at, tone: 'note' })),
		...(selection ? [{ from: selection.from, to: selection.to, tone: 'selected' as const }] : [])
	]);

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
	/** By keys: the middle half of the window is selected, and its ends can be moved. */
	function selectByKey() {
		if (selection) {
			selection = null;
			return;
		}
		const quarter = (view.max - view.min) / 4;
		selection = { from: view.min + quarter, to: view.max - quarter };
	}
	function moveEnd(end: 'from' | 'to', by: number) {
		if (!selection) return;
		const step = by * (view.max - view.min) * 0.02;
		const moved = { ...selection, [end]: Math.max(0, Math.min(total, selection[end] + step)) };
		if (moved.to > moved.from) selection = moved;
	}
	function keepLanes(ids: string[]) {
		own = ids;
		picked = 'own';
		fetch('/api/v1/settings/lanes', {
			method: 'PUT',
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify(ids)
		})
			.then((r) => {
				if (!r.ok) traces.problem = 'your choice of lanes could not be kept';
			})
			.catch(() => (traces.problem = 'your choice of lanes could not be kept'));
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
		{ id: 'select', title: 'Select a span, or let it go', key: 's', run: selectByKey },
		{
			id: 'select-from-left',
			title: 'Beginning of the span earlier',
			key: 'y',
			run: () => moveEnd('from', -1)
		},
		{
			id: 'select-from-right',
			title: 'Beginning of the span later',
			key: 'u',
			run: () => moveEnd('from', 1)
		},
		{ id: 'select-to-left', title: 'End of the span earlier', key: 'i', run: () => moveEnd('to', -1) },
		{ id: 'select-to-right', title: 'End of the span later', key: 'O', run: () => moveEnd('to', 1) },
		{ id: 'whole', title: 'Show the whole log', key: '0', run: () => (span = null) }
	]);
	const exportQuery = $derived(
		selection ? `&from=${fixed(selection.from, 3)}&to=${fixed(selection.to, 3)}` : ''
	);
</script>

<section aria-label="Traces" data-ready={traces.loaded || undefined}>
	<div class="mb-1 flex items-center gap-3">
		<h2>{finding ? 'Evidence' : 'Whole log'}</h2>
		<span class="text-muted text-small min-w-0 flex-1 truncate">
			<span class="numbers">{clock(view.min)}–{clock(view.max)}</span> of
			<span class="numbers">{clock(total)}</span>
		</span>
		{#if earlier.length}
			<select
				class="no-print text-small min-h-7! w-32! py-0!"
				aria-label="Earlier log behind"
				value={behindId === null ? '' : String(behindId)}
				onchange={(e) => (behindId = e.currentTarget.value ? Number(e.currentTarget.value) : null)}
			>
				<option value="">Overlay: none</option>
				{#each earlier as e (e.id)}<option value={String(e.id)}>{e.name.slice(0, 40)}</option>{/each}
			</select>
		{/if}
		<div class="no-print border-strong-line flex border" role="group" aria-label="Lanes">
			{#each Object.entries(QUESTIONS) as [id, q] (id)}
				<button class="choice" aria-pressed={question === id} onclick={() => (picked = id)}>{q.title}</button>
			{/each}
			<button
				class="choice"
				aria-pressed={question === 'own'}
				aria-expanded={choosing}
				onclick={() => {
					choosing = !(choosing && question === 'own');
					picked = 'own';
				}}>Mine</button
			>
		</div>
	</div>
	{#if traces.problem}
		<p role="alert" class="text-stop">The traces could not be loaded: {traces.problem}.</p>
	{/if}
	{#if choosing && question === 'own'}
		<LanePicker {have} picked={own} onpick={keepLanes} />
	{/if}
	{#if lanes.length === 0}
		<p class="text-muted py-6">
			{question === 'own'
				? 'No lanes chosen yet: tick the channels that you want to see.'
				: 'This log has no channel for this question.'}
		</p>
	{/if}
	<LaneStack
		{lanes}
		min={view.min}
		max={view.max}
		axis={TIME}
		{bands}
		onwheel={zoom}
		ondrag={pan}
		onselect={(from, to) => (selection = { from: Math.max(0, from), to: Math.min(total, to) })}
		{selecting}
		statistics={traces.statistics}
		statisticsScale={(id, v) => preferences.shown(v, unitOf(id), stoich).value}
		label="Traces over time: {lanes.map((l) => l.title).join(', ')}"
	/>
	<Overview
		{report}
		{total}
		{view}
		{marks}
		onmove={(middle) => {
			const half = (view.max - view.min) / 2;
			show(middle - half, middle + half);
		}}
		onpan={pan}
	/>
	<div class="text-muted mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 text-small">
		<label class="no-print flex items-center gap-1.5"
			><input type="checkbox" bind:checked={selecting} />drag selects a span</label
		>
		<span class="no-print">wheel: with Ctrl, or after a click</span>
		{#if span !== null}<button class="no-print underline" onclick={() => (span = null)}>Whole log</button
			>{/if}
		{#if selection}
			<span class="text-ink" role="status"
				>Span <span class="numbers">{clock(selection.from, true)}–{clock(selection.to, true)}</span>,
				<span class="numbers">{fixed(selection.to - selection.from, 1)} s</span>: lowest, mean, highest stand
				over each lane</span
			>
			<button class="no-print underline" onclick={() => (selection = null)}>let it go</button>
		{/if}
		<span class="no-print ml-auto">
			{selection ? 'Export the span' : 'Export'}:
			{#each [['csv', 'CSV'], ['jsonl', 'JSON Lines'], ['parquet', 'Parquet']] as [format, word] (format)}
				<a
					class="ml-1 underline"
					href="/api/v1/logs/{logId}/export?format={format}&units=mine{exportQuery}"
					download>{word}</a
				>
			{/each}
			in your units
		</span>
		{#if onfinding}
			<span class="no-print"
				><button class="underline" onclick={() => onfinding(-1)}>previous</button> ·
				<button class="underline" onclick={() => onfinding(1)}>next finding</button></span
			>
		{/if}
	</div>
</section>
