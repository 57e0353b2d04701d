<script lang="ts">
	/** A setting of the calibration: text, number, or yes and no. */
	import Field from '$lib/ui/Field.svelte';
	import type { SettingItem } from '$core/calibration/document';
	import { settingValue } from '$core/revising/edits';
	import type { DraftEditor } from '../grid/draft.svelte';

	let { own, item, editor }: { own: SettingItem; item: SettingItem; editor: DraftEditor } = $props();
	const edit = $derived(editor.edits.get(item.id));
	let problem = $state('');
	function submit(e: SubmitEvent) {
		e.preventDefault();
		const data = new FormData(e.currentTarget as HTMLFormElement);
		try {
			const value = settingValue(own, String(data.get('value')));
			editor.set(item.id, value, String(data.get('reason')).trim());
			problem = '';
		} catch (error) {
			problem = error instanceof Error ? error.message : String(error);
		}
	}
</script>

<p class="mb-3 break-words">
	<span class="numbers">{String(own.value) || '(empty)'}</span>{#if edit}
		→ <span class="numbers font-bold">{String(item.value) || '(empty)'}</span>
		<span class="text-muted block">{edit.reason || 'No reason yet'}</span>{/if}
</p>
{#if editor.editable}
	{#key `${item.id} ${String(item.value)}`}
		<form class="flex max-w-2xl items-end gap-2" onsubmit={submit}>
			<Field title="New value" class="flex-1">
				{#if typeof own.value === 'boolean'}
					<select name="value" value={String(item.value)}>
						<option value="true">true</option>
						<option value="false">false</option>
					</select>
				{:else}
					<input name="value" value={String(item.value)} autocomplete="off" maxlength="2000" />
				{/if}</Field
			>
			<Field title="Reason" class="flex-1"
				><input
					name="reason"
					required
					maxlength="2000"
					value={edit?.reason ?? ''}
					placeholder="why this change"
				/></Field
			>
			<button class="button">Set</button>
			{#if edit}<button type="button" class="button" onclick={() => editor.set(item.id, own.value, '')}
					>Back</button
				>{/if}
		</form>
	{/key}
	{#if problem}<p role="alert" class="text-stop mt-2">{problem}.</p>{/if}
{/if}
