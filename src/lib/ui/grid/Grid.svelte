<script lang="ts">
	/**
	 * A table of the calibration as a real grid: arrows and shift-arrows select, typing edits the selection (`14`, `+2%`, `-1.5`,
	 * `*0.97`, `=14`), copy and paste as tab-separated text.
	 */
	import { fixed } from '$core/format';
	import type { Axis, CurveItem, MapItem } from '$core/calibration/document';
	import { decimalsOf } from '$core/calibration/lookup';
	import { titleOf } from '$core/calibration/items';
	import { axisTitle } from '$core/calibration/axes';
	import { parseOperation } from '$core/revising/operations';
	import { unusual } from '$core/calibration/unusual';
	import { blended, filled, smoothed, type Block } from '$core/revising/shaping';
	import { axisFor } from '../axis-text';
	import { usePreferences } from '../preferences.svelte';
	import type { Overlay } from '../revision/LogOverlay.svelte';
	import type { Snippet } from 'svelte';
	import CellSays from './CellSays.svelte';
	import GridCells from './GridCells.svelte';
	import Surface3d from './Surface3d.svelte';
	import SurfaceView from './SurfaceView.svelte';
	import type { DraftEditor } from './draft.svelte';
	import type { Cell } from './snapshot';
	import { blockText, pasteTargets } from './paste';

	let {
		item,
		editor,
		show,
		overlay,
		selection = $bindable([]),
		picture,
		deciding
	}: {
		item: MapItem | CurveItem;
		editor: DraftEditor;
		/** What the cells show: values, or the change against the parent. */
		show: 'value' | 'delta' | 'percent';
		/** Where a log drove, and what it says there. */
		overlay?: Overlay | undefined;
		selection?: Cell[];
		/** Drawn under the cells. */
		picture: '' | 'lines' | 'surface';
		/** What can be decided on the selection; stands in the inspector. */
		deciding?: Snippet;
	} = $props();

	const xs = $derived(item.x.points);
	/** Shown from the highest load down. */
	const ys = $derived(item.kind === 'map' ? [...item.y.points].reverse() : [0]);
	const decimals = $derived(decimalsOf(item));
	let anchor = $state({ c: 0, r: 0 });
	let focus = $state({ c: 0, r: 0 });
	let entry = $state('');
	let wrong = $state('');
	/** The question that was asked back: the entry, in which cells of which table. */
	let asked = '';

	const box = $derived({
		c0: Math.min(anchor.c, focus.c),
		c1: Math.max(anchor.c, focus.c),
		r0: Math.min(anchor.r, focus.r),
		r1: Math.max(anchor.r, focus.r)
	});
	const preferences = usePreferences();
	const across = $derived(axisFor(item.x, preferences.units));
	const down = $derived(item.kind === 'map' ? axisFor(item.y, preferences.units) : null);
	const axisName = (axis: Axis, unit: string) => `${axisTitle(axis.channel)}${unit ? ` (${unit})` : ''}`;
	function selected(): Cell[] {
		const out: Cell[] = [];
		for (let r = box.r0; r <= box.r1; r++)
			for (let c = box.c0; c <= box.c1; c++) out.push({ x: xs[c]!, y: ys[r]! });
		return out;
	}
	$effect(() => {
		selection = selected();
	});
	// Another table has other corners.
	$effect(() => {
		void item.id;
		void xs.length;
		void ys.length;
		anchor = { c: 0, r: 0 };
		focus = { c: 0, r: 0 };
		entry = '';
	});

	const here = $derived({ x: xs[focus.c] ?? 0, y: ys[focus.r] ?? 0 });
	const proposal = $derived(editor.proposal(item.id, here));

	function move(dc: number, dr: number, extend: boolean) {
		focus = {
			c: Math.max(0, Math.min(xs.length - 1, focus.c + dc)),
			r: Math.max(0, Math.min(ys.length - 1, focus.r + dr))
		};
		if (!extend) anchor = focus;
		document
			.getElementById(`cell-${focus.c}-${focus.r}`)
			?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
	}
	/** The block that is selected, by index into the item's own axes (rows of the grid run downwards). */
	const block = $derived<Block>({
		c0: box.c0,
		c1: box.c1,
		r0: ys.length - 1 - box.r1,
		r1: ys.length - 1 - box.r0
	});
	const yAxis = $derived(item.kind === 'map' ? item.y.points : [0]);
	const parents = () => yAxis.map((y) => xs.map((x) => editor.old(item.id, { x, y })));
	const current = () => yAxis.map((y) => xs.map((x) => editor.value(item.id, { x, y })));
	/** Takes over a shaped table where it differs. */
	function shape(next: number[][]) {
		const now = current();
		const cells: Cell[] = [];
		const values: Record<string, number> = {};
		yAxis.forEach((y, r) =>
			xs.forEach((x, c) => {
				if (next[r]![c] === now[r]![c]) return;
				cells.push({ x, y });
				values[`${x}|${y}`] = next[r]![c]!;
			})
		);
		editor.edit(item.id, cells, (_, cell) => values[`${cell.x}|${cell.y}`]!);
	}
	const SMOOTH_PCT = 3;
	/** By the key that does it together with Alt: a letter alone never changes a cell. */
	const tools = [
		['KeyF', 'Alt F', 'Fill between corners', () => shape(filled(current(), xs, yAxis, block))],
		['KeyS', 'Alt S', 'Smooth within 3 %', () => shape(smoothed(current(), block, SMOOTH_PCT))],
		['KeyB', 'Alt B', 'Blend one cell around', () => shape(blended(current(), parents(), block))]
	] as const;
	function apply() {
		const operation = parseOperation(entry);
		if (!operation) {
			wrong = `"${entry}" is no entry: write 14, =14, +1.5, -1.5, +2%, -2% or *0.97`;
			return;
		}
		// What is hardly meant is asked back: the same entry once more takes it.
		const odd = selected()
			.map((cell) => operation(editor.value(item.id, cell)))
			.map((v) => ({ v, why: unusual(item, v) }))
			.find((o) => o.why !== null);
		const question = `${item.id} ${Object.values(box).join()} ${entry}`;
		if (odd && asked !== question) {
			asked = question;
			wrong = `${fixed(odd.v, decimals)} is ${odd.why}. Is that meant? Enter takes it, Esc drops it.`;
			return;
		}
		editor.edit(item.id, selected(), operation);
		entry = '';
		wrong = '';
		asked = '';
	}
	function key(e: KeyboardEvent) {
		const arrows: Record<string, [number, number]> = {
			ArrowLeft: [-1, 0],
			ArrowRight: [1, 0],
			ArrowUp: [0, -1],
			ArrowDown: [0, 1]
		};
		const arrow = arrows[e.key];
		if (e.ctrlKey || e.metaKey) {
			const k = e.key.toLowerCase();
			if (k === 'z' && !e.shiftKey) editor.undo();
			else if (k === 'y' || (k === 'z' && e.shiftKey)) editor.redo();
			else if (k === 'a') {
				anchor = { c: 0, r: 0 };
				focus = { c: xs.length - 1, r: ys.length - 1 };
			} else return;
			e.preventDefault();
			return;
		}
		if (e.altKey) {
			const tool = editor.editable ? tools.find(([code]) => code === e.code) : undefined;
			if (!tool) return;
			tool[3]();
			e.preventDefault();
			return;
		}
		if (arrow) move(...arrow, e.shiftKey);
		else if (e.key === 'Enter' && entry) apply();
		else if (e.key === 'Enter' && proposal) editor.accept(item.id, selected());
		else if (e.key === 'Escape') {
			entry = '';
			wrong = '';
			asked = '';
		} else if (e.key === 'Backspace' && entry) entry = entry.slice(0, -1);
		else if (e.key === 'Delete' || e.key === 'Backspace') editor.reject(item.id, selected());
		else if (editor.editable && /^[0-9.,+\-*/=%]$/.test(e.key)) entry += e.key;
		else return;
		e.preventDefault();
	}
	function copy(e: ClipboardEvent) {
		e.clipboardData?.setData('text/plain', blockText(current(), block, decimals));
		e.preventDefault();
	}
	/** The table as the draft has it. */
	const asDrafted = (): MapItem | CurveItem =>
		item.kind === 'map' ? { ...item, values: current() } : { ...item, values: current()[0]! };
	function paste(e: ClipboardEvent) {
		e.preventDefault();
		const answer = pasteTargets(e.clipboardData?.getData('text/plain') ?? '', asDrafted(), { xs, ys, box });
		if ('problem' in answer) {
			wrong = answer.problem;
			return;
		}
		const { targets } = answer;
		const values = new Map(targets.map((t) => [`${t.x}|${t.y}`, t.v]));
		editor.edit(
			item.id,
			targets.map(({ x, y }) => ({ x, y })),
			(_, cell) => values.get(`${cell.x}|${cell.y}`)!
		);
	}
</script>

<div class="work">
	<div class="min-w-0">
		<GridCells
			{item}
			{editor}
			{show}
			{overlay}
			{xs}
			{ys}
			{across}
			{down}
			{box}
			{focus}
			{decimals}
			onpick={(cell, extend) => {
				focus = cell;
				if (!extend) anchor = cell;
			}}
			onkeydown={key}
			oncopy={copy}
			onpaste={paste}
		/>
		<p class="text-muted mt-1 text-note">
			{axisName(item.x, across.unit)} across{item.kind === 'map'
				? `, ${axisName(item.y, down?.unit ?? '')} down`
				: ''}{item.unit ? `; cells in ${item.unit}` : ''}{overlay ? '; square: trust, full is proven' : ''}
		</p>
		{#if picture === 'lines'}
			<SurfaceView
				{xs}
				ys={yAxis}
				values={current()}
				before={parents()}
				row={yAxis.indexOf(here.y)}
				{decimals}
			/>
		{:else if picture === 'surface' && item.kind === 'map'}
			<Surface3d {xs} ys={yAxis} values={current()} before={parents()} label={titleOf(item)} />
		{/if}
	</div>
	<aside class="inspector" aria-label="Cell">
		<div aria-live="polite">
			<CellSays
				{item}
				{editor}
				{here}
				place={down
					? `${across.text(here.x)} ${across.unit} · ${down.text(here.y)} ${down.unit}`
					: `${across.text(here.x)} ${across.unit}`}
				{overlay}
			/>
			{#if selected().length > 1}<p class="text-muted text-small">{selected().length} cells selected</p>{/if}
		</div>
		{#if editor.editable}
			<div class="entry" class:open={entry !== ''} aria-live="polite">
				{#if entry}
					Entry for {selected().length}
					{selected().length === 1 ? 'cell' : 'cells'}: <span class="numbers font-bold">{entry}</span>
					<span class="text-muted text-note block">Enter applies, Esc drops it</span>
				{:else}
					<span class="text-muted text-note"
						>Type in the table: <span class="numbers">+2% −1.5 *0.97 =14</span>, Enter</span
					>
				{/if}
			</div>
			{#if wrong}<p class="text-stop text-small" role="alert">{wrong}</p>{/if}
			{@render deciding?.()}
			<div class="tools">
				{#each tools as [code, keys, title, run] (code)}
					<button class="tool" onclick={run}>{title}<kbd>{keys}</kbd></button>
				{/each}
			</div>
		{:else if wrong}<p class="text-stop text-small" role="alert">{wrong}</p>{/if}
	</aside>
</div>

<style>
	.work {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 232px;
		gap: 14px;
		align-items: start;
	}
	.inspector {
		display: grid;
		gap: 10px;
		position: sticky;
		top: 160px;
	}
	.entry {
		min-height: 32px;
		padding: 4px 8px;
		font-size: 13px;
		border: 1px solid var(--line);
	}
	.entry.open {
		border-color: var(--ink);
	}
	.tools {
		display: grid;
		border-top: 1px solid var(--line);
	}
	.tool {
		display: flex;
		justify-content: space-between;
		padding: 3px 0;
		font-size: 13px;
		cursor: pointer;
	}
	.tool:hover {
		text-decoration: underline;
	}
	kbd {
		padding: 0 5px;
		font: 11px/18px var(--font-mono);
		color: var(--muted);
		border: 1px solid var(--line);
	}
	@media print {
		.work {
			display: block;
		}
	}
</style>
