<script lang="ts">
	/** The cells of a table under their axes: what each shows, how sure it is, what is picked. */
	import type { ClipboardEventHandler, KeyboardEventHandler } from 'svelte/elements';
	import { fixed } from '$core/format';
	import type { CurveItem, MapItem } from '$core/calibration/document';
	import { actsOn, titleOf } from '$core/calibration/items';
	import type { ReadAxis } from '../axis-text';
	import { signedText, tint } from '../cellmap/colour';
	import type { Overlay } from '../revision/LogOverlay.svelte';
	import type { DraftEditor } from './draft.svelte';
	import type { Cell } from './snapshot';

	/** Column, and row from the top. */
	type Spot = { c: number; r: number };
	let {
		item,
		editor,
		show,
		overlay,
		xs,
		ys,
		across,
		down,
		box,
		focus,
		decimals,
		onpick,
		onkeydown,
		oncopy,
		onpaste
	}: {
		item: MapItem | CurveItem;
		editor: DraftEditor;
		show: 'value' | 'delta' | 'percent';
		overlay: Overlay | undefined;
		/** Points of the axes in the order shown: rows from the top. */
		xs: readonly number[];
		ys: readonly number[];
		across: ReadAxis;
		down: ReadAxis | null;
		/** Corners of what is picked, and the cell that the keys act from. */
		box: { c0: number; c1: number; r0: number; r1: number };
		focus: Spot;
		decimals: number;
		/** @param extend what is picked goes on to this cell */
		onpick: (spot: Spot, extend: boolean) => void;
		onkeydown: KeyboardEventHandler<HTMLDivElement>;
		oncopy: ClipboardEventHandler<HTMLDivElement>;
		onpaste: ClipboardEventHandler<HTMLDivElement>;
	} = $props();

	let dragging = false;
	const fuel = $derived(actsOn(item.id, 'fuel'));
	const inside = (c: number, r: number) => c >= box.c0 && c <= box.c1 && r >= box.r0 && r <= box.r1;

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
	/** Wide enough for the longest figure that stands in a cell, with its sign or arrow. */
	const PX_PER_FIGURE = 6.7;
	const cellPx = $derived.by(() => {
		const all = item.kind === 'map' ? item.values.flat() : item.values;
		const drafted = ys.flatMap((y) => xs.map((x) => editor.value(item.id, { x, y })));
		const proposed = editor.proposals.flatMap((p) => (p.item === item.id ? p.cells.map((c) => c.to) : []));
		const longest = Math.max(
			...[...all, ...drafted, ...proposed].map((v) => fixed(v, decimals).length),
			...xs.map((x) => across.text(x).length)
		);
		return Math.round(Math.min(72, Math.max(38, longest * PX_PER_FIGURE + 6)));
	});
</script>

<svelte:window onpointerup={() => (dragging = false)} />
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
		{onkeydown}
		{oncopy}
		{onpaste}
	>
		<div role="row" class="row head">
			<span role="columnheader" class="corner">{item.kind === 'map' ? down?.unit || item.y.channel : ''}</span
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
							onpick({ c, r }, e.shiftKey);
							dragging = true;
						}}
						onpointerenter={() => {
							if (dragging) onpick({ c, r }, true);
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

<style>
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
	@media print {
		.cells {
			max-height: none;
			overflow: visible;
		}
	}
</style>
