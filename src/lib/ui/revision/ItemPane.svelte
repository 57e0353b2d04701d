<script lang="ts">
	/** One item of a revision: its table, number or setting, and what can be done with it. */
	import Redo from '@lucide/svelte/icons/redo-2';
	import Undo from '@lucide/svelte/icons/undo-2';
	import Field from '$lib/ui/Field.svelte';
	import { itemKind, titleOf } from '$core/calibration/items';
	import type { Calibration, Item } from '$core/calibration/document';
	import { isTable } from '$core/calibration/formats/csv';
	import { plural } from '$core/format';
	import type { DraftEditor } from '../grid/draft.svelte';
	import type { Cell } from '../grid/snapshot';
	import Grid from '../grid/Grid.svelte';
	import AxesEditor from './AxesEditor.svelte';
	import Menu, { type MenuItem } from '../shell/Menu.svelte';
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
	let taking = $state<TakeOver>();
	let picture = $state<'' | 'lines' | 'surface'>('');
	let overlay = $state.raw<Overlay>(new Map());
	const changedHere = $derived(selection.filter((c) => editor.change(item.id, c) !== undefined).length);
	const csv = $derived(
		`/api/v1/revisions/${editor.revisionId}/calibration?format=csv&item=${encodeURIComponent(item.id)}`
	);
	const menu = $derived<MenuItem[]>([
		...(isTable(item)
			? [
					...(parentItem ? [{ title: 'Axes', run: () => (axesOpen = !axesOpen) }] : []),
					{ title: 'Paste a table', run: () => (pasteOpen = !pasteOpen) },
					{ title: 'This table as CSV', href: csv, download: true }
				]
			: []),
		{ title: 'Take over a file', run: () => taking?.choose() },
		...(parentItem ? [] : [{ title: 'Remove this table', run: () => editor.drop(item.id), danger: true }])
	]);
	const proposedHere = $derived(selection.filter((c) => editor.proposal(item.id, c) !== undefined).length);
</script>

{#snippet deciding()}
	<div class="grid grid-cols-2 gap-2">
		<button class="button" disabled={proposedHere === 0} onclick={() => editor.accept(item.id, selection)}
			>Accept selection</button
		>
		<button class="button" disabled={changedHere === 0} onclick={() => editor.reject(item.id, selection)}
			>Revert to R{parentNumber}</button
		>
	</div>
	<form
		onsubmit={(e) => {
			e.preventDefault();
			if (changedHere === 0 || !reason.trim()) return;
			editor.explain(item.id, selection, reason.trim());
			reason = '';
		}}
	>
		<Field
			title="Reason for the {plural(changedHere, 'changed cell', 'changed cells')} selected"
			class="block"
		>
			<input bind:value={reason} placeholder="why; Enter keeps it" />
		</Field>
	</form>
	{#if editor.unexplained}<p class="text-fix text-small" role="status">
			{plural(editor.unexplained, 'changed cell has', 'changed cells have')} no reason yet; a revision goes out
			only when every change has one.
		</p>{/if}
{/snippet}

<section aria-label="Item" class="min-w-0">
	<div class="mb-2 flex flex-wrap items-center gap-2">
		<span class="mr-1 font-semibold" title={itemKind(item.id)?.about}
			>{titleOf(item)}{item.unit ? `, ${item.unit}` : ''}</span
		>
		{#if isTable(item)}
			<div class="border-strong-line flex border" role="group" aria-label="What the cells show">
				{#each [['value', 'Values'], ['delta', 'Change'], ['percent', 'Percent']] as const as [id, title] (id)}
					<button class="choice" aria-pressed={show === id} onclick={() => (show = id)}>{title}</button>
				{/each}
			</div>
			<div class="border-strong-line flex border" role="group" aria-label="Picture">
				<button
					class="choice"
					aria-pressed={picture === 'lines'}
					onclick={() => (picture = picture === 'lines' ? '' : 'lines')}>Lines</button
				>
				{#if item.kind === 'map'}<button
						class="choice"
						aria-pressed={picture === 'surface'}
						onclick={() => (picture = picture === 'surface' ? '' : 'surface')}>Surface</button
					>{/if}
			</div>
			{#if lastLog}
				<button
					class="button button-small {overLog ? 'button-main' : ''}"
					aria-pressed={overLog}
					title="Where {lastLog.name} drove, and what is required there"
					onclick={() => {
						overLog = !overLog;
						overlay = new Map();
					}}>Overlay log</button
				>
			{/if}
		{/if}
		{#if editable}
			<span class="ml-auto flex items-center gap-2">
				<button
					class="button button-small px-2!"
					onclick={() => editor.undo()}
					disabled={!editor.canUndo}
					aria-label="Undo"><Undo size={16} aria-hidden="true" /></button
				>
				<button
					class="button button-small px-2!"
					onclick={() => editor.redo()}
					disabled={!editor.canRedo}
					aria-label="Redo"><Redo size={16} aria-hidden="true" /></button
				>
				<Menu title="Edit" items={menu} />
			</span>
		{:else if isTable(item)}<a
				class="ml-auto text-small underline"
				href={csv}
				download
				aria-label="This table as CSV"
				title="This table of the saved revision, with its axes">CSV</a
			>{/if}
	</div>
	{#if editable}<TakeOver bind:this={taking} {parent} {item} {editor} />{/if}
	{#if isTable(item)}
		{#if pasteOpen && editable && (item.kind === 'map' || item.kind === 'curve')}
			{#key item.id}<PasteTable {item} {editor} onclose={() => (pasteOpen = false)} />{/key}
		{/if}
		{#if editable && axesOpen && parentItem}
			<AxesEditor parent={parentItem} {item} {editor} {baroKpa} />
		{/if}
		<Grid
			{item}
			{editor}
			{show}
			{picture}
			{deciding}
			bind:selection
			overlay={overLog ? overlay : undefined}
		/>
		{#if overLog && lastLog}
			{#key lastLog.id}<LogOverlay {item} log={lastLog} bind:overlay />{/key}
		{/if}
	{:else if item.kind === 'scalar'}
		{#if itemKind(item.id)}<p class="text-muted mb-2 max-w-prose" data-testid="about-item">
				{itemKind(item.id)?.about}
			</p>{/if}
		<ScalarForm {item} {editor} />
	{:else if item.kind === 'setting'}
		{#if itemKind(item.id)}<p class="text-muted mb-2 max-w-prose" data-testid="about-item">
				{itemKind(item.id)?.about}
			</p>{/if}
		{#if parentItem?.kind === 'setting'}<SettingForm own={parentItem} {item} {editor} />
		{:else}<p>{String(item.value)}</p>{/if}
	{/if}
</section>
