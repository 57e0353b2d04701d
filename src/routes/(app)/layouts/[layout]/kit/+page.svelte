<script lang="ts">
	/** What a customer needs to record with this controller's program: short steps, and files for it. */
	import { enhance } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import { fixed } from '$core/format';
	import Alert from '$lib/ui/Alert.svelte';
	import ConfirmButton from '$lib/ui/ConfirmButton.svelte';
	import Field from '$lib/ui/Field.svelte';
	import FileDrop from '$lib/ui/FileDrop.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { day } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	let files = $state<FileList | null>(null);
	let sending = $state(false);
	let problem = $state('');
	const steps = $derived(
		form && 'entered' in form && form.entered && 'steps' in form.entered
			? String(form.entered.steps)
			: data.steps.join('\n')
	);

	/** One after the other: what arrived before the connection broke off is there. */
	async function add() {
		[sending, problem] = [true, ''];
		try {
			for (const file of files ?? []) {
				const answer = await fetch(
					`/api/v1/layouts/${data.layout.id}/kit?${new URLSearchParams({ name: file.name })}`,
					{ method: 'PUT', headers: { 'content-type': 'application/octet-stream' }, body: file }
				);
				if (answer.ok) continue;
				const said = (await answer.json().catch(() => ({}))) as { message?: string };
				problem = `${file.name}: ${said.message ?? `the server answered ${answer.status}`}`;
				break;
			}
			if (!problem) files = null;
		} catch {
			problem = 'The connection broke off. What is listed is there; add the rest again.';
		}
		await invalidateAll();
		sending = false;
	}
	const EXAMPLE =
		'Load the channel set below.\nRecord, with the ignition on and the engine still.\nStop after the drive, save, find the file in the folder Logs.';
	const sizeOf = (bytes: number) =>
		bytes < 1 << 20 ? `${fixed(bytes / 1024, 1)} kB` : `${fixed(bytes / (1 << 20), 1)} MB`;
</script>

<svelte:head><title>Recording kit of {data.layout.name} – Tanto</title></svelte:head>

<main class="px-(--gutter) pb-6">
	<PageHead
		title="Recording kit"
		says={[data.layout.name, 'what customers with this controller find in their drive plan']}
		more={[{ title: 'All layouts', href: '/layouts' }]}
	/>
	<Alert box message={messageOf(form) || problem} class="mb-4" />
	{#if form && 'saved' in form}<p role="status" class="border-clear mb-4 border-l-4 px-3 py-2">
			Saved. It stands in the drive plan of every job with this controller.
		</p>{/if}
	<div class="grid max-w-[1180px] grid-cols-2 gap-10 max-[900px]:grid-cols-1">
		<form
			method="POST"
			action="?/steps"
			use:enhance={() =>
				async ({ update }) =>
					update({ reset: false })}
		>
			<Field title="Steps, one a line" class="block">
				<textarea name="steps" rows="12" value={steps} placeholder={EXAMPLE}></textarea>
			</Field>
			<button class="button button-main mt-2">Save steps</button>
		</form>
		<section aria-label="Files">
			<FileDrop
				title="Channel sets, gauge layouts, pictures (pictures are shown in the plan, the rest is downloaded)"
				label="Choose files"
				multiple
				bind:files
			/>
			<button class="button mt-2" disabled={sending || !files?.length} onclick={() => void add()}
				>{sending ? 'Adding …' : 'Add to the kit'}</button
			>
			<ul class="mt-4">
				{#each data.files as f (f.id)}
					<li class="border-line flex items-center gap-3 border-b py-2">
						{#if f.picture}<img
								class="border-line h-14 w-20 border object-cover"
								src="/layouts/{data.layout.id}/kit/{f.id}"
								alt=""
							/>{/if}
						<span class="min-w-0 flex-1"
							><a class="break-all underline" href="/layouts/{data.layout.id}/kit/{f.id}" download>{f.name}</a
							><br /><span class="text-muted text-small">{sizeOf(f.bytes)}, {f.author}, {day(f.at)}</span
							></span
						>
						<form method="POST" action="?/remove" use:enhance>
							<input type="hidden" name="file" value={f.id} />
							<ConfirmButton
								text="Remove"
								label="Remove {f.name}"
								question="Remove “{f.name}” from the kit?"
								consequence="Customers no longer find it in their plan."
								action="Remove"
							/>
						</form>
					</li>
				{:else}
					<li class="text-muted">No files yet.</li>
				{/each}
			</ul>
		</section>
	</div>
</main>
