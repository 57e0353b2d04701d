<script lang="ts">
	/** What stands in one cell of a table, what it becomes, and by what. */
	import type { CurveItem, MapItem } from '$core/calibration/document';
	import { decimalsOf } from '$core/calibration/lookup';
	import { fixed } from '$core/format';
	import type { DraftChange } from '$core/revising/edit-schema';
	import { signedText } from '../cellmap/colour';
	import { usePreferences } from '../preferences.svelte';
	import { valueFor } from '../axis-text';
	import type { Overlay } from '../revision/LogOverlay.svelte';
	import type { DraftEditor } from './draft.svelte';
	import type { Cell } from './snapshot';

	interface Props {
		item: MapItem | CurveItem;
		editor: DraftEditor;
		here: Cell;
		/** Where that is, in the reader's units. */
		place: string;
		overlay?: Overlay | undefined;
	}
	let { item, editor, here, place, overlay }: Props = $props();
	const decimals = $derived(decimalsOf(item));
	const change = $derived(editor.change(item.id, here));
	const proposal = $derived(editor.proposal(item.id, here));
	const preferences = usePreferences();
	/** The value in the reader's units, where the table is kept in others: what is copied and typed stays in the table's own. */
	const inReadersUnits = $derived(valueFor(item, preferences.units));
	const basisOf = (c: DraftChange): string =>
		c.basis === 'hand'
			? 'by hand'
			: c.basis === 'carried'
				? 'carried over from neighbours'
				: `measured, ${c.samples} samples${c.se === null ? '' : `, ± ${fixed(c.se, 2)} %`}`;
</script>

<p class="mb-2 flex items-baseline justify-between gap-2">
	<span class="text-muted small-caps">Cell</span><span class="numbers font-bold">{place}</span>
</p>
<dl class="steps">
	<div>
		<dt>before</dt>
		<dd>{fixed(editor.old(item.id, here), decimals)}</dd>
	</div>
	{#if proposal}
		<div>
			<dt>proposed</dt>
			<dd>{fixed(proposal.to, decimals)}</dd>
			<dd class="by">{signedText(100 * (proposal.to / proposal.from - 1))} %</dd>
		</div>
	{/if}
	<div class="mine">
		<dt>{editor.editable ? 'mine' : 'now'}</dt>
		<dd>{fixed(editor.value(item.id, here), decimals)}</dd>
		{#if change}<dd class="by">
				{signedText(change.to - change.from, decimals)}, {signedText(100 * (change.to / change.from - 1))} %
			</dd>{/if}
	</div>
</dl>
{#if inReadersUnits}<p class="text-muted text-small mt-1">
		{inReadersUnits(editor.old(item.id, here))}{change ? ` → ${inReadersUnits(change.to)}` : ''}
	</p>{/if}
<p class="text-small mt-2">
	{#if change}
		{basisOf(change)}
		<span class="text-muted block">{change.reason || 'No reason yet'}</span>
	{:else if proposal}
		<span class="text-muted">proposed:</span> {basisOf(proposal)}
	{:else}<span class="text-muted">unchanged</span>{/if}
	{#if overlay}<span class="text-muted block">{overlay.get(`${here.x}|${here.y}`)?.text ?? 'not driven'}</span
		>{/if}
</p>

<style>
	.small-caps {
		font-variant-caps: all-small-caps;
		letter-spacing: 0.07em;
	}
	.steps {
		display: grid;
		grid-auto-flow: column;
		grid-auto-columns: minmax(0, 1fr);
		border: 1px solid var(--strong-line);
	}
	.steps > div {
		min-height: 56px;
		padding: 4px 8px;
	}
	.steps > div + div {
		border-left: 1px solid var(--line);
	}
	.mine {
		box-shadow: inset 0 -2px 0 var(--ink);
	}
	dt {
		font-size: 12px;
		line-height: 16px;
		color: var(--muted);
	}
	dd {
		font: 600 14px/20px var(--font-mono);
	}
	.by {
		font-size: 11px;
		font-weight: 400;
		line-height: 14px;
	}
</style>
