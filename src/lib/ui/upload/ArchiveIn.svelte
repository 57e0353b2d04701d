<script lang="ts">
	/** A job out of the archive of another Tanto, imported whole. */
	import { goto } from '$app/navigation';
	import Alert from '../Alert.svelte';
	import FileDrop from '../FileDrop.svelte';

	let files = $state<FileList | null>(null);
	let sending = $state(false);
	let problem = $state('');

	async function take() {
		const file = files?.[0];
		if (!file) return;
		[sending, problem] = [true, ''];
		try {
			const answer = await fetch('/api/v1/archives', {
				method: 'PUT',
				headers: { 'content-type': 'application/zip' },
				body: file
			});
			const said = (await answer.json().catch(() => ({}))) as { job?: number; message?: string };
			if (said.job) return void (await goto(`/jobs/${said.job}`));
			problem = said.message ?? 'The server gave no answer. Try again.';
		} catch {
			problem =
				'The connection broke off before the whole archive was there: nothing was imported. Try again.';
		} finally {
			sending = false;
		}
	}
</script>

<section class="border-line mt-8 max-w-xl border-t pt-3" id="import" aria-label="Import a job">
	<h2 class="mb-1">Import a job from another Tanto</h2>
	<Alert message={problem} class="mb-2" />
	<FileDrop
		title="The archive of a job, as its Report gives it (.zip): calibrations, logs, photos and words come with it"
		accept=".zip,application/zip"
		bind:files
	/>
	<button class="button mt-2" disabled={sending || !files?.length} onclick={take}
		>{sending ? 'Importing …' : 'Import job'}</button
	>
</section>
