<script lang="ts">
	/** What stands in one cell of a table, what it becomes, and by what. */
	import { decimalsOf, type CurveItem, type MapItem } from '$core/calibration/document';
	import { fixed } from '$core/format';
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
	const also = (value: number) => (inReadersUnits ? ` = ${inReadersUnits(value)}` : '');
</script>

<p>
	<span class="numbers">{place}</span>:
	<span class="numbers">{fixed(editor.old(item.id, here), decimals)}{also(editor.old(item.id, here))}</span>
	{#if change}
		→ <span class="numbers font-bold">{fixed(change.to, decimals)}{also(change.to)}</span>
		(<span class="numbers"
			>{signedText(change.to - change.from, decimals)}, {signedText(100 * (change.to / change.from - 1))} %</span
		>),
		{change.basis === 'hand'
			? 'by hand'
			: change.basis === 'carried'
				? 'carried over from neighbours'
				: `measured, ${change.samples} samples${change.se === null ? '' : `, ± ${fixed(change.se, 2)} %`}`}
		<span class="text-muted block">{change.reason || 'No reason yet'}</span>
	{:else if proposal}
		<span class="text-muted">proposed</span>
		<span class="numbers">{fixed(proposal.to, decimals)}{also(proposal.to)}</span>
		(<span class="numbers">{signedText(100 * (proposal.to / proposal.from - 1))} %</span>),
		{proposal.basis === 'carried'
			? 'carried over from neighbours'
			: `measured, ${proposal.samples} samples${proposal.se === null ? '' : `, ± ${fixed(proposal.se, 2)} %`}`}
	{:else}<span class="text-muted">unchanged</span>{/if}
	{#if overlay}<span class="text-muted block">{overlay.get(`${here.x}|${here.y}`)?.text ?? 'not driven'}</span
		>{/if}
</p>
