<script lang="ts">
	/** One number of the calibration. */
	import Field from '$lib/ui/Field.svelte';
	import type { ScalarItem } from '$core/calibration/document';
	import { unusual } from '$core/calibration/unusual';
	import type { DraftEditor } from '../grid/draft.svelte';

	let { item, editor }: { item: ScalarItem; editor: DraftEditor } = $props();

	const CELL = { x: 0, y: 0 };
	let reason = $state('');
	/** A value that is hardly meant, asked back: the same once more takes it. */
	let asked = $state<number | null>(null);
	const odd = $derived(asked === null ? null : unusual(item, asked));

	function submit(e: SubmitEvent) {
		e.preventDefault();
		const v = Number(new FormData(e.currentTarget as HTMLFormElement).get('v'));
		if (unusual(item, v) !== null && asked !== v) {
			asked = v;
			return;
		}
		editor.edit(item.id, [CELL], () => v);
		if (reason.trim()) editor.explain(item.id, [CELL], reason.trim());
		reason = '';
		asked = null;
	}
</script>

<p class="numbers mb-3">
	{editor.old(item.id, CELL)}{editor.change(item.id, CELL) ? ` → ${editor.value(item.id, CELL)}` : ''}
	{item.unit ?? ''}
</p>
{#if editor.editable}
	<form class="flex max-w-xl items-end gap-2" onsubmit={submit}>
		<Field title="New value"
			><input name="v" type="number" step="any" required value={editor.value(item.id, CELL)} /></Field
		>
		<Field title="Reason" class="flex-1"
			><input bind:value={reason} required placeholder="why this change" /></Field
		>
		<button class="button">Set</button>
		<button type="button" class="button" onclick={() => editor.reject(item.id, [CELL])}>Back</button>
	</form>
	{#if odd}<p class="text-stop mt-2" role="alert">{asked} is {odd}. Is that meant? Set takes it.</p>{/if}
{/if}
