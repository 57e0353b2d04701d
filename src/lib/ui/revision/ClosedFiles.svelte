<script lang="ts">
	/** The closed files of a revision, with what proves them; one can still be attached after the release. */
	import { enhance } from '$app/forms';
	import { list, plural } from '$core/format';
	import { moment, size } from '../time';
	import AttachFile from './AttachFile.svelte';

	let {
		attachments,
		givenTables,
		proofs,
		rev,
		controller,
		jobId,
		withdrawn
	}: {
		attachments: {
			id: number;
			name: string;
			bytes: number;
			sha256: string;
			hardware: string;
			software: string;
			author: string;
			at: string;
		}[];
		/** Who opened the tables to the customer; `null` where they stay in the workshop. */
		givenTables: { author: string; at: string } | null;
		proofs: { match: boolean; stale: boolean; author: string; at: string }[];
		rev: { id: number; number: number; state: string; releasedAt: string | null };
		controller: { hardware?: string | undefined; software?: string | undefined } | undefined;
		jobId: number;
		withdrawn: boolean;
	} = $props();
	const current = $derived(proofs.filter((p) => !p.stale));
	const proved = $derived(current.filter((p) => p.match));
	const differ = $derived(current.length - proved.length);
	const newest = $derived(proved.reduce((a, p) => (p.at > a ? p.at : a), ''));
</script>

<section class="mt-6 text-text" aria-label="Closed files">
	<h2 class="mb-1">Closed files</h2>
	{#if attachments.length === 0}<p class="text-muted mb-2">None is attached.</p>{/if}
	<ul class="mb-2">
		{#each attachments as a (a.id)}
			<li class="border-line border-b py-1">
				<span class="font-semibold break-all">{a.name}</span>, {size(a.bytes)}, for {a.hardware} / {a.software}.
				Attached {moment(a.at)} UTC{a.author ? ` by ${a.author}` : ''}{rev.releasedAt && a.at > rev.releasedAt
					? ', after the release'
					: ''}.
				<span class="numbers text-muted block text-small break-all">sha-256 {a.sha256}</span>
			</li>
		{/each}
	</ul>
	{#if attachments.length}
		<p class="mb-2">
			{#if differ}<span class="text-stop"
					>{plural(differ, 'table differs', 'tables differ')} from the revision.</span
				>
			{/if}
			{#if proved.length}<span class="text-clear"
					>{plural(proved.length, 'table')} pasted back and the same, last {moment(newest)} UTC.</span
				>
			{:else}<span class="text-fix">Not proved.</span>{/if}
			<a class="underline" href="/jobs/{jobId}/revisions/{rev.id}/carry">Copy to your program and prove</a>
		</p>
	{/if}
	{#if rev.state === 'released'}
		<p class="mb-2">
			The customer can download {attachments.length
				? `${list(attachments.map((a) => a.name))}${givenTables ? ', and ' : '. '}`
				: givenTables
					? ''
					: 'nothing of it. '}{#if givenTables}every table in plain numbers (given by {givenTables.author}, {moment(
					givenTables.at
				)} UTC).{:else}The tables stay here.{/if}
		</p>
		<form method="POST" action="?/tables" use:enhance class="mb-2">
			<input type="hidden" name="open" value={givenTables ? 'no' : 'yes'} />
			<button class="button"
				>{givenTables ? 'Keep the tables here from now on' : 'Give the customer the tables too'}</button
			>
		</form>
	{/if}
	{#if rev.state === 'released' && !withdrawn}
		<details>
			<summary class="cursor-pointer">Attach a file to R{rev.number}</summary>
			<div class="mt-2"><AttachFile revisionId={rev.id} {controller} released /></div>
		</details>
	{/if}
</section>
