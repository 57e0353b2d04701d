<script lang="ts">
	/** A closed file for the customer's flashing program, attached to a revision; after the release it goes to the customer at once. */
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import FileDrop from '$lib/ui/FileDrop.svelte';
	import { invalidateAll } from '$app/navigation';
	import { untrack } from 'svelte';

	let {
		revisionId,
		controller,
		released = false
	}: {
		revisionId: number;
		controller: { hardware?: string | undefined; software?: string | undefined } | undefined;
		released?: boolean;
	} = $props();
	let hardware = $state(untrack(() => controller?.hardware ?? ''));
	let software = $state(untrack(() => controller?.software ?? ''));
	let confirmed = $state(false);
	let problem = $state('');
	let sending = $state(false);
	let files = $state<FileList | null>(null);

	async function attach() {
		const file = files?.[0];
		if (!file) {
			problem = 'Choose the closed file first.';
			return;
		}
		sending = true;
		problem = '';
		const query = new URLSearchParams({
			name: file.name,
			hardware,
			software,
			confirmed: confirmed ? '1' : '0'
		});
		try {
			const answer = await fetch(`/api/v1/revisions/${revisionId}/attachments?${query}`, {
				method: 'PUT',
				headers: { 'content-type': 'application/octet-stream' },
				body: file
			});
			if (!answer.ok)
				problem =
					((await answer.json().catch(() => ({}))) as { message?: string }).message ??
					`The server answered ${answer.status}.`;
			else {
				files = null;
				confirmed = false;
				await invalidateAll();
			}
		} catch {
			problem = 'The connection broke off; the file was not attached. Try again.';
		}
		sending = false;
	}
</script>

<div class="grid max-w-xl grid-cols-2 gap-2">
	<div class="col-span-2"><FileDrop title="File" label="Choose the closed file" bind:files /></div>
	<Field title="For controller hardware"><input bind:value={hardware} /></Field>
	<Field title="with software"><input bind:value={software} /></Field>
	{#if released}<label class="col-span-2 flex items-start gap-2"
			><input type="checkbox" class="mt-1" bind:checked={confirmed} /><span
				>It holds what the tables say; I have looked. It goes to the customer at once.</span
			></label
		>{/if}
</div>
<Alert message={problem} class="mt-1" />
<button class="button mt-2" disabled={sending || (released && !confirmed)} onclick={() => void attach()}
	>{sending ? 'Sending …' : 'Attach'}</button
>
