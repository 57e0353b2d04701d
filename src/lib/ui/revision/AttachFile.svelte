<script lang="ts">
	/** A closed file for the customer's flashing program, attached to a revision; after the release it goes to the customer at once. */
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
	let fileInput = $state<HTMLInputElement>();

	async function attach() {
		const file = fileInput?.files?.[0];
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
				if (fileInput) fileInput.value = '';
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
	<label class="col-span-2"
		><span class="text-[13px]">File</span><input type="file" bind:this={fileInput} /></label
	>
	<label><span class="text-[13px]">For controller hardware</span><input bind:value={hardware} /></label>
	<label><span class="text-[13px]">with software</span><input bind:value={software} /></label>
	{#if released}<label class="col-span-2 flex items-start gap-2"
			><input type="checkbox" class="mt-1" bind:checked={confirmed} /><span
				>It holds what the tables say; I have looked. It goes to the customer at once.</span
			></label
		>{/if}
</div>
{#if problem}<p role="alert" class="text-stop mt-1">{problem}</p>{/if}
<button class="button mt-2" disabled={sending || (released && !confirmed)} onclick={() => void attach()}
	>{sending ? 'Sending …' : 'Attach'}</button
>
