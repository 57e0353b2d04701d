<script lang="ts">
	/**
	 * A table of the calibration as a real grid: arrows and shift-arrows select, typing edits the selection (`14`, `+2%`, `-1.5`,
	 * `*0.97`, `=14`), copy and paste as tab-separated text.
	 */
	import { fixed } from '$core/format';
	import { decimalsOf, type Axis, type CurveItem, type MapItem } from '$core/calibration/document';
	import { actsOn, titleOf } from '$core/calibration/items';
	import { axisTitle } from '$core/calibration/axes';
	import { parseOperation } from '$core/revising/operations';
	import { unusual } from '$core/calibration/unusual';
	import { blended, filled, smoothed, type Block } from '$core/revising/shaping';
	import { axisFor } from '../axis-text';
	import { usePreferences } from '../preferences.svelte';
	import { signedText, tint } from '../cellmap/colour';
	import type { Overlay } from '../revision/LogOverlay.svelte';
	import type { Snippet } from 'svelte';
	import CellSays from './CellSays.svelte';
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
	let dragging = false;
	const fuel = $derived(actsOn(item.id, 'fuel'));

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
	const inside = (c: number, r: number) => c >= box.c0 && c <= box.c1 && r >= box.r0 && r <= box.r1;
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

	/** While proposals of this table are open, a second line in each cell says what it would become, or was. */
	const undecided = $derived(
		show === 'value' &&
			editor.editable &&
			editor.proposals.some((p) => p.item === item.id && editor.decided(p.item, p.cells).open.length > 0)
	);
	function text(cell: Cell): string {
		if (show === 'value') return fixed(editor.value(item.id, cell), decimals);
		// What is only proposed shows here too, so that it can be judged before it is accepted.
		const c = editor.change(item.id, cell) ?? editor.proposal(item.id, cell);
		if (!c) return '';
		return show === 'delta' ? signedText(c.to - c.from, decimals) : signedText(100 * (c.to / c.from - 1));
	}
	function background(cell: Cell): string | undefined {
		const c = editor.change(item.id, cell) ?? editor.proposal(item.id, cell);
		if (!c) return undefined;
		const percent = fuel ? 100 * (c.to / c.from - 1) : (c.to - c.from) * 2.5;
		return tint(percent);
	}

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
	/** Wide enough for the longest figure that stands in a cell, with its sign or arrow. */
	const PX_PER_FIGURE = 6.7;
	const cellPx = $derived.by(() => {
		const all = item.kind === 'map' ? item.values.flat() : item.values;
		const longest = Math.max(
			...all.map((v) => fixed(v, decimals).length),
			...xs.map((x) => across.text(x).length)
		);
		return Math.round(Math.min(72, Math.max(38, longest * PX_PER_FIGURE + 6)));
	});

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

<svelte:window onpointerup={() => (dragging = false)} />
<div class="work">
	<div class="min-w-0">
		<div class="cells">
			<div
				role="grid"
				tabindex="0"
				aria-label="{titleOf(item)}: {xs.length} by {ys.length} cells"
				aria-activedescendant="cell-{focus.c}-{focus.r}"
				aria-multiselectable="true"
				aria-readonly={!editor.editable}
				class="table"
				style:--cell="{cellPx}px"
				onkeydown={key}
				oncopy={copy}
				onpaste={paste}
			>
				<div role="row" class="row head">
					<span role="columnheader" class="corner"
						>{item.kind === 'map' ? down?.unit || item.y.channel : ''}</span
					>
					{#each xs as x, c (x)}<span role="columnheader" class="axis" class:at={focus.c === c}
							>{across.text(x)}</span
						>{/each}
				</div>
				{#each ys as y, r (y)}
					<div role="row" class="row">
						<span role="rowheader" class="axis side" class:at={focus.r === r}>{down?.text(y) ?? ''}</span>
						{#each xs as x, c (x)}
							{@const cell = { x, y }}
							{@const made = editor.change(item.id, cell)}
							{@const open = made ? undefined : editor.proposal(item.id, cell)}
							{@const seen = overlay?.get(`${x}|${y}`)}
							<!-- svelte-ignore a11y_interactive_supports_focus -->
							<span
								role="gridcell"
								id="cell-{c}-{r}"
								aria-selected={inside(c, r)}
								class="cell"
								class:made={made !== undefined}
								class:proposed={open !== undefined}
								class:carried={(made ?? open)?.basis === 'carried'}
								class:hand={made?.basis === 'hand'}
								class:picked={inside(c, r)}
								class:focused={focus.c === c && focus.r === r}
								style:background-color={background(cell)}
								onpointerdown={(e) => {
									focus = { c, r };
									if (!e.shiftKey) anchor = focus;
									dragging = true;
								}}
								onpointerenter={() => {
									if (dragging) focus = { c, r };
								}}
								>{text(cell)}{#if undecided && (open ?? made)}<span class="second" class:text-muted={!open}
										>{open ? fixed(open.to, decimals) : fixed(editor.old(item.id, cell), decimals)}</span
									>{/if}{#if seen}<span
										class="trust"
										style:width="{6 * seen.share}px"
										style:height="{6 * seen.share}px"
										aria-hidden="true"
									></span>{/if}</span
							>
						{/each}
					</div>
				{/each}
			</div>
		</div>
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
	/* Larger tables scroll under their axes. */
	.cells {
		max-height: calc(100vh - 232px);
		overflow: auto;
		outline-offset: 4px;
	}
	.table {
		display: inline-block;
		font: 11px/14px var(--font-mono);
		text-align: right;
		user-select: none;
	}
	.row {
		display: flex;
	}
	.head {
		position: sticky;
		top: 0;
		z-index: 2;
		background: var(--paper);
	}
	.corner,
	.side {
		position: sticky;
		left: 0;
		z-index: 1;
		flex: none;
		width: 42px;
		padding-right: 6px;
		color: var(--muted);
		background: var(--paper);
	}
	.corner {
		text-align: left;
	}
	.axis {
		color: var(--muted);
	}
	.head .axis {
		flex: none;
		width: var(--cell);
		padding: 0 3px 2px;
	}
	.side {
		padding-top: 3px;
	}
	.axis.at {
		color: var(--ink);
		font-weight: 700;
	}
	.cell {
		position: relative;
		flex: none;
		width: var(--cell);
		height: 28px;
		padding: 1px 3px;
		border: 1px solid var(--chart-line);
		border-width: 0 1px 1px 0;
		white-space: nowrap;
	}
	.made {
		font-weight: 700;
	}
	.second {
		display: block;
		font-size: 10px;
		font-weight: 400;
		line-height: 11px;
	}
	.trust {
		position: absolute;
		bottom: 2px;
		left: 2px;
		background: var(--ink);
		pointer-events: none;
	}
	.proposed {
		outline: 1px dashed var(--strong-line);
		outline-offset: -2px;
	}
	/* By hand: an inked corner. */
	.hand::before {
		content: '';
		position: absolute;
		top: 0;
		left: 0;
		border: 3px solid;
		border-color: var(--ink) transparent transparent var(--ink);
	}
	.carried {
		background-image: repeating-linear-gradient(
			45deg,
			transparent 0 4px,
			color-mix(in oklab, var(--ink) 16%, transparent) 4px 5px
		);
	}
	.picked {
		box-shadow: inset 0 0 0 100px color-mix(in oklab, var(--focus) 14%, transparent);
	}
	.focused {
		box-shadow:
			inset 0 0 0 2px var(--focus),
			inset 0 0 0 100px color-mix(in oklab, var(--focus) 14%, transparent);
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
		.cells {
			max-height: none;
			overflow: visible;
		}
		.work {
			display: block;
		}
	}
</style>
