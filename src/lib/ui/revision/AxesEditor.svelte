<script lang="ts">
	/** Axes of a table: points added, taken away, moved, or pressure read as a ratio. The table is resampled; how much that changes is said. */
	import Field from '$lib/ui/Field.svelte';
	import { plural } from '$core/format';
	import { usePreferences } from '../preferences.svelte';
	import { titleOf } from '$core/calibration/items';
	import type { CurveItem, Item, MapItem } from '$core/calibration/document';
	import { isTable } from '$core/calibration/formats/csv';
	import {
		rescaledChannel,
		resampled,
		sameAxis,
		surfaceChange,
		type NewAxis
	} from '$core/calibration/resample';
	import type { AxesEdit } from '$core/revising/edit-schema';
	import { axisTitle } from '$core/calibration/axes';
	import { signedText } from '../cellmap/colour';
	import type { DraftEditor } from '../grid/draft.svelte';

	let {
		parent,
		item,
		editor,
		baroKpa
	}: {
		/** Table of the parent: new axes are always taken from it, so that steps back and forth lose nothing. */
		parent: Item;
		/** As it is in the draft. */
		item: MapItem | CurveItem;
		editor: DraftEditor;
		/** Of the vehicle, for pressure ratio. */
		baroKpa: number;
	} = $props();
	const preferences = usePreferences();

	const edit = $derived(editor.edits.get(item.id));
	const made = $derived(edit?.kind === 'axes' ? edit : null);
	const text = (points: readonly number[]) => points.join(' ');
	let typed = $state<{ x: string; y: string } | null>(null);
	let axes = $state.raw<{ x: NewAxis; y: NewAxis | null } | null>(null);
	let reason = $state('');
	$effect(() => {
		// Another table, or another state of this one: what was typed belonged to the one before.
		void item;
		typed = null;
		axes = null;
	});
	const start = $derived({
		x: made?.x ?? sameAxis(item.x),
		y: item.kind === 'map' ? (made?.y ?? sameAxis(item.y)) : null
	});
	const now = $derived(axes ?? start);
	const shown = $derived(typed ?? { x: text(now.x.points), y: now.y ? text(now.y.points) : '' });
	function pointsOf(line: string): number[] {
		return line
			.trim()
			.split(/[\s;]+|,(?=\s)/)
			.filter(Boolean)
			.map((t) => Number(t.replace(',', '.')));
	}
	const wanted = $derived({
		x: { ...now.x, points: pointsOf(shown.x) },
		y: now.y ? { ...now.y, points: pointsOf(shown.y) } : null
	});
	const same = $derived(
		JSON.stringify([wanted.x, wanted.y]) === JSON.stringify([{ ...start.x }, start.y ? { ...start.y } : null])
	);
	const preview = $derived.by(() => {
		if (!isTable(parent) || same) return null;
		try {
			const after = resampled(parent, wanted.x, wanted.y);
			return { change: surfaceChange(parent, after, wanted.x, wanted.y) };
		} catch (e) {
			return { problem: e instanceof Error ? e.message : String(e) };
		}
	});
	const counted = (before: readonly number[], after: readonly number[]) => {
		const added = after.filter((p) => !before.includes(p)).length;
		const gone = before.filter((p) => !after.includes(p)).length;
		return [added ? `${added} added` : '', gone ? `${gone} taken away` : ''].filter(Boolean).join(', ');
	};
	const name = (a: NewAxis) => axisTitle(a.channel);
	function turn(axis: 'x' | 'y') {
		const next = rescaledChannel({ ...wanted[axis]!, points: [...wanted[axis]!.points] }, baroKpa);
		if (!next) return;
		// Scales are always towards the axis of the parent.
		const of = wanted[axis]!.scale * next.scale;
		axes = { ...wanted, [axis]: { ...next, scale: Math.abs(of - 1) < 1e-9 ? 1 : of } };
		typed = null;
	}
	function apply() {
		const next: AxesEdit = { kind: 'axes', item: item.id, ...wanted, reason: reason.trim() };
		editor.reshape(item.id, next);
		reason = '';
	}
	const canTurn = (a: NewAxis | null) => a !== null && (a.channel === 'map' || a.channel === 'pressureRatio');
</script>

<form
	class="border-line mt-3 max-w-[760px] border-t pt-2 text-text"
	aria-label="Axes of {titleOf(item)}"
	onsubmit={(e) => {
		e.preventDefault();
		apply();
	}}
>
	<h2 class="mb-1">Axes</h2>
	{#each ['x', 'y'] as const as axis (axis)}
		{@const a = now[axis]}
		{#if a}
			<div class="mb-2 flex items-end gap-2">
				<Field
					title="{name(a)}{a.unit ? `, ${a.unit}` : ''} {axis === 'x' ? 'across' : 'down'}"
					class="min-w-0 flex-1"
				>
					<input
						class="numbers w-full"
						value={shown[axis]}
						oninput={(e) => (typed = { ...shown, [axis]: e.currentTarget.value })}
						autocomplete="off"
						aria-invalid={preview !== null && 'problem' in preview}
					/></Field
				>
				{#if canTurn(a)}
					<button type="button" class="button" onclick={() => turn(axis)}
						>{a.channel === 'map' ? 'As pressure ratio' : 'As pressure'}</button
					>
				{/if}
			</div>
		{/if}
	{/each}
	{#if preview && 'problem' in preview}
		<p role="alert" class="text-stop mb-2">{preview.problem}.</p>
	{:else if preview}
		{@const c = preview.change}
		<p class="mb-2" role="status" data-testid="surface-change">
			{[
				counted(item.x.points, wanted.x.points),
				item.kind === 'map' && wanted.y ? counted(item.y.points, wanted.y.points) : ''
			]
				.filter(Boolean)
				.join('; ')}{wanted.y?.channel !== (item.kind === 'map' ? item.y.channel : undefined)
				? `; at a barometer of ${preferences.text(baroKpa, 'kPa')}`
				: ''}.
			{#if c.most === 0}The surface stays as it was.
			{:else}Against the old axes the surface changes by at most
				<span class="numbers font-semibold"
					>{signedText(c.most, 2)}{item.unit ? ` ${item.unit}` : ''}{c.mostPct === null
						? ''
						: ` (${signedText(c.mostPct)} %)`}</span
				>, at {c.x}{item.kind === 'map' ? ` / ${c.y}` : ''}.{/if}
			{#if c.beyond}{plural(c.beyond, 'point')} beyond the old ends hold{c.beyond === 1 ? 's' : ''} the value of
				the edge.{/if}
			{#if c.lost > 0}The new axes no longer reach {Math.round(c.lost * 100)} % of the old range.{/if}
		</p>
		<div class="flex items-end gap-2">
			<Field title="Reason" class="flex-1"
				><input bind:value={reason} required maxlength="2000" placeholder="why other axes" /></Field
			>
			<button class="button">Put the table on these axes</button>
			<button
				type="button"
				class="button"
				onclick={() => {
					typed = null;
					axes = null;
				}}>Drop</button
			>
		</div>
	{:else if made}
		<p>
			On other axes than before: {made.reason}
			<button
				type="button"
				class="ml-2 cursor-pointer underline"
				onclick={() => editor.reshape(item.id, null)}>Back onto the old ones</button
			>
		</p>
	{:else}
		<p class="text-muted text-small">
			Write the points as they should be; the table is resampled between them, and how much that changes is
			said before it is done.
		</p>
	{/if}
</form>
