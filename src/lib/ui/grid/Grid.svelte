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
		selection = $bindable([])
	}: {
		item: MapItem | CurveItem;
		editor: DraftEditor;
		/** What the cells show: values, or the change against the parent. */
		show: 'value' | 'delta' | 'percent';
		/** Where a log drove, and what it says there. */
		overlay?: Overlay | undefined;
		selection?: Cell[];
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
	const tools = [
		['f', 'Fill between corners', () => shape(filled(current(), xs, yAxis, block))],
		['s', 'Smooth within 3 %', () => shape(smoothed(current(), block, SMOOTH_PCT))],
		['b', 'Blend one cell around', () => shape(blended(current(), parents(), block))]
	] as const;
	let picture = $state<'' | 'lines' | 'surface'>('');
	const VIEWS = [
		['lines', 'As lines'],
		['surface', 'As a surface']
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
		if (arrow) move(...arrow, e.shiftKey);
		else if (e.key === 'Enter' && entry) apply();
		else if (e.key === 'Enter' && proposal) editor.accept(item.id, selected());
		else if (e.key === 'Escape') {
			entry = '';
			wrong = '';
			asked = '';
		} else if (e.key === 'Backspace' && entry) entry = entry.slice(0, -1);
		else if (e.key === 'Delete' || e.key === 'Backspace') editor.reject(item.id, selected());
		else if (editor.editable && !e.altKey && tools.some(([k]) => k === e.key)) {
			tools.find(([k]) => k === e.key)![2]();
			// The page has keys of its own for these letters.
			e.stopPropagation();
		} else if (editor.editable && /^[0-9.,+\-*/=%]$/.test(e.key)) entry += e.key;
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
<div class="overflow-x-auto">
	<div
		role="grid"
		tabindex="0"
		aria-label="{titleOf(item)}: {xs.length} by {ys.length} cells"
		aria-activedescendant="cell-{focus.c}-{focus.r}"
		aria-multiselectable="true"
		aria-readonly={!editor.editable}
		class="numbers inline-block text-right outline-offset-4 select-none"
		onkeydown={key}
		oncopy={copy}
		onpaste={paste}
	>
		<div role="row" class="flex">
			<span role="columnheader" class="text-muted w-[52px] shrink-0 pr-2 text-left"
				>{item.kind === 'map' ? down?.unit || item.y.channel : ''}</span
			>
			{#each xs as x (x)}<span role="columnheader" class="text-muted w-[50px] shrink-0 px-1"
					>{across.text(x)}</span
				>{/each}
		</div>
		{#each ys as y, r (y)}
			<div role="row" class="flex">
				<span role="rowheader" class="text-muted w-[52px] shrink-0 pr-2">{down?.text(y) ?? ''}</span>
				{#each xs as x, c (x)}
					{@const cell = { x, y }}
					{@const made = editor.change(item.id, cell)}
					{@const open = made ? undefined : editor.proposal(item.id, cell)}
					<!-- svelte-ignore a11y_interactive_supports_focus -->
					<span
						role="gridcell"
						id="cell-{c}-{r}"
						aria-selected={inside(c, r)}
						class="border-paper relative {undecided
							? 'h-[34px]'
							: 'h-[21px]'} w-[50px] shrink-0 border px-1 leading-[19px]
							{made ? 'font-bold' : ''} {open ? 'proposed' : ''} {(made ?? open)?.basis === 'carried' ? 'carried' : ''}
							{inside(c, r) ? 'picked' : ''} {focus.c === c && focus.r === r ? 'focused' : ''}"
						style:background-color={background(cell)}
						onpointerdown={(e) => {
							focus = { c, r };
							if (!e.shiftKey) anchor = focus;
							dragging = true;
						}}
						onpointerenter={() => {
							if (dragging) focus = { c, r };
						}}
						>{#if overlay}{@const seen = overlay.get(`${x}|${y}`)}{#if seen}<span
									class="bg-ink pointer-events-none absolute bottom-[1px] left-[1px]"
									style:width="{5 * seen.share}px"
									style:height="{5 * seen.share}px"
									aria-hidden="true"
								></span>{/if}{/if}{text(cell)}{#if undecided && (open ?? made)}<span
								class="block text-[11px] leading-[12px] font-normal {open ? '' : 'text-muted'}"
								>{open ? `→ ${fixed(open.to, decimals)}` : fixed(editor.old(item.id, cell), decimals)}</span
							>{/if}</span
					>
				{/each}
			</div>
		{/each}
	</div>
</div>
<p class="text-muted mt-1 flex flex-wrap items-center gap-x-4 text-[13px]">
	<span
		>{axisName(item.x, across.unit)} across{item.kind === 'map'
			? `, ${axisName(item.y, down?.unit ?? '')} down`
			: ''}{item.unit ? `; cells in ${item.unit}` : ''}</span
	>
	{#if editor.editable}
		{#each tools as [k, title, run] (k)}
			<button class="cursor-pointer underline" onclick={run}
				>{title} <span class="numbers">({k})</span></button
			>
		{/each}
	{/if}
	{#each VIEWS as [id, title] (id)}
		{#if id === 'lines' || item.kind === 'map'}
			<button
				class="cursor-pointer underline"
				aria-expanded={picture === id}
				onclick={() => (picture = picture === id ? '' : id)}
				>{picture === id ? `Hide the ${id}` : title}</button
			>
		{/if}
	{/each}
</p>
{#if picture === 'lines'}
	<SurfaceView {xs} ys={yAxis} values={current()} before={parents()} row={yAxis.indexOf(here.y)} {decimals} />
{:else if picture === 'surface' && item.kind === 'map'}
	<Surface3d {xs} ys={yAxis} values={current()} before={parents()} label={titleOf(item)} />
{/if}
<div class="border-line mt-2 min-h-[48px] border-t pt-2" aria-live="polite">
	{#if entry}
		<p>
			Entry for {selected().length}
			{selected().length === 1 ? 'cell' : 'cells'}: <span class="numbers font-bold">{entry}</span>
			<span class="text-muted">Enter applies, Esc drops it</span>
		</p>
	{:else}
		<CellSays
			{item}
			{editor}
			{here}
			place={down ? `${across.text(here.x)} / ${down.text(here.y)}` : across.text(here.x)}
			{overlay}
		/>
	{/if}
	{#if wrong}<p class="text-stop" role="alert">{wrong}</p>{/if}
</div>

<style>
	.proposed {
		outline: 1px dashed var(--strong-line);
		outline-offset: -2px;
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
</style>
