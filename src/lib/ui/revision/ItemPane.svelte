<script lang="ts">
	/** One item of a revision: its table, number or setting, and what can be done with it. */
	import Field from '$lib/ui/Field.svelte';
	import { itemKind, titleOf } from '$core/calibration/items';
	import type { Calibration, Item } from '$core/calibration/document';
	import { isTable } from '$core/calibration/formats/csv';
	import { plural } from '$core/format';
	import type { DraftEditor } from '../grid/draft.svelte';
	import type { Cell } from '../grid/snapshot';
	import Grid from '../grid/Grid.svelte';
	import AxesEditor from './AxesEditor.svelte';
	import LogOverlay, { type Overlay } from './LogOverlay.svelte';
	import PasteTable from './PasteTable.svelte';
	import ScalarForm from './ScalarForm.svelte';
	import SettingForm from './SettingForm.svelte';
	import TakeOver from './TakeOver.svelte';

	let {
		item,
		parentItem,
		parent,
		parentNumber,
		editor,
		editable,
		lastLog,
		baroKpa
	}: {
		item: Item;
		/** The same in the revision before; missing where this draft added it. */
		parentItem: Item | undefined;
		parent: Calibration;
		parentNumber: number | null;
		editor: DraftEditor;
		editable: boolean;
		lastLog: { id: number; name: string } | null;
		baroKpa: number;
	} = $props();

	let show = $state<'value' | 'delta' | 'percent'>('value');
	let selection = $state<Cell[]>([]);
	let reason = $state('');
	let axesOpen = $state(false);
	let pasteOpen = $state(false);
	let overLog = $state(false);
	let overlay = $state.raw<Overlay>(new Map());
	const changedHere = $derived(selection.filter((c) => editor.change(item.id, c) !== undefined).length);
	const proposedHere = $derived(selection.filter((c) => editor.proposal(item.id, c) !== undefined).length);
</script>

<section aria-label="Item" class="min-w-0">
	<div class="mb-2 flex flex-wrap items-center gap-2">
		<span class="mr-2 font-semibold">{titleOf(item)}{item.unit ? `, ${item.unit}` : ''}</span>
		{#if isTable(item)}
			{#each [['value', 'Values'], ['delta', 'Change'], ['percent', 'Percent']] as const as [id, title] (id)}
				<button
					class="button {show === id ? 'button-main' : ''}"
					aria-pressed={show === id}
					onclick={() => (show = id)}>{title}</button
				>
			{/each}
			{#if lastLog}
				<button
					class="button {overLog ? 'button-main' : ''}"
					aria-pressed={overLog}
					title="Where {lastLog.name} drove, and what it wants there"
					onclick={() => {
						overLog = !overLog;
						overlay = new Map();
					}}>Log over it</button
				>
			{/if}
			{#if editable}
				{#if parentItem}<button class="button" aria-expanded={axesOpen} onclick={() => (axesOpen = !axesOpen)}
						>Axes</button
					>{/if}
				<button class="button" aria-expanded={pasteOpen} onclick={() => (pasteOpen = !pasteOpen)}
					>Paste</button
				>
			{/if}
		{/if}
		{#if isTable(item)}<a
				class="text-[13px] underline"
				href="/api/v1/revisions/{editor.revisionId}/calibration?format=csv&item={encodeURIComponent(item.id)}"
				download
				aria-label="This table as CSV"
				title="This table of the saved revision, with its axes">CSV</a
			>{/if}
		{#if editable}<span class="ml-auto flex flex-wrap gap-2">
				{#if !parentItem}<button class="button" onclick={() => editor.drop(item.id)}>Take it out again</button
					>{/if}
				<TakeOver {parent} {item} {editor} /></span
			>{/if}
	</div>
	{#if itemKind(item.id)}<p class="text-muted mb-2 max-w-prose text-[14px]" data-testid="about-item">
			{itemKind(item.id)?.about}
		</p>{/if}
	{#if isTable(item)}
		{#if pasteOpen && editable && (item.kind === 'map' || item.kind === 'curve')}
			{#key item.id}<PasteTable {item} {editor} onclose={() => (pasteOpen = false)} />{/key}
		{/if}
		<Grid {item} {editor} {show} bind:selection overlay={overLog ? overlay : undefined} />
		{#if overLog && lastLog}
			{#key lastLog.id}<LogOverlay {item} log={lastLog} bind:overlay />{/key}
		{/if}
		{#if editable && axesOpen && parentItem}
			<AxesEditor parent={parentItem} {item} {editor} {baroKpa} />
		{/if}
		{#if editable}
			<div class="mt-2 flex flex-wrap items-end gap-2">
				<button class="button" disabled={proposedHere === 0} onclick={() => editor.accept(item.id, selection)}
					>Accept selection</button
				>
				<button class="button" disabled={changedHere === 0} onclick={() => editor.reject(item.id, selection)}
					>Back to R{parentNumber}</button
				>
				<Field
					title="Reason for the {plural(changedHere, 'changed cell', 'changed cells')} selected"
					class="min-w-60 flex-1"
				>
					<input bind:value={reason} placeholder="why this change" />
				</Field>
				<button
					class="button"
					disabled={changedHere === 0 || !reason.trim()}
					onclick={() => {
						editor.explain(item.id, selection, reason.trim());
						reason = '';
					}}>Give reason</button
				>
			</div>
			{#if editor.unexplained}<p class="text-fix mt-2" role="status">
					{plural(editor.unexplained, 'changed cell has', 'changed cells have')} no reason yet; a revision goes
					out only when every change has one.
				</p>{/if}
		{/if}
	{:else if item.kind === 'scalar'}
		<ScalarForm {item} {editor} />
	{:else if item.kind === 'setting'}
		{#if parentItem?.kind === 'setting'}<SettingForm own={parentItem} {item} {editor} />
		{:else}<p>{String(item.value)}</p>{/if}
	{/if}
</section>
