<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { plural } from '$core/format';
	import { enhance } from '$app/forms';
	import { day } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const c = $derived(data.customer);
	let exported = $state(false);
	let typed = $state('');
	const was = (name: 'name' | 'email' | 'notes', now: string) =>
		form && 'entered' in form ? (form.entered?.[name] ?? now) : now;
</script>

<svelte:head><title>{c.name} – Tanto</title></svelte:head>

<main class="max-w-[980px] px-(--gutter) pb-6">
	<PageHead title={c.name} says={[c.email, plural(c.jobs.length, 'job')]} />
	<Alert box message={messageOf(form)} class="mb-4" />
	{#if form && 'saved' in form}<p role="status" class="border-clear mb-4 border-l-4 px-3 py-2">Saved.</p>{/if}
	<form
		method="POST"
		action="?/save"
		use:enhance={() =>
			async ({ update }) =>
				update({ reset: false })}
		class="grid grid-cols-2 gap-4"
	>
		<Field title="Name · needed" class="block"
			><input name="name" required value={was('name', c.name)} /></Field
		>
		<Field title="Mail address" class="block"
			><input name="email" type="email" value={was('email', c.email ?? '')} /></Field
		>
		<Field title="Notes, for the tuners only" class="col-span-2 block"
			><textarea name="notes" rows="3">{was('notes', c.notes)}</textarea></Field
		>
		<div><button class="button button-main">Save</button></div>
	</form>
	<h2 class="mt-7 mb-1">Jobs</h2>
	<ul>
		{#each c.jobs as j (j.id)}
			<li class="border-line flex gap-4 border-b py-1.5">
				<a class="min-w-0 flex-1 underline" href="/jobs/{j.id}">{j.title}</a>
				<span class="text-muted max-w-[320px] truncate" title={j.vehicle}>{j.vehicle}</span>
				<span class="text-muted">{day(j.createdAt)}</span>
			</li>
		{/each}
	</ul>
	<h2 class="mt-6 mb-1">Vehicles</h2>
	<ul>
		{#each c.vehicles as v (v.id)}
			<li class="border-line flex gap-4 border-b py-1.5">
				<span class="min-w-0 flex-1 break-words"
					>{#if v.jobId}<a class="underline" href="/jobs/{v.jobId}/vehicle">{v.name}</a
						>{:else}{v.name}{/if}</span
				>
				<a class="underline" href="/jobs/new?from={v.id}&customer={c.id}">New job with a copy of it</a>
			</li>
		{/each}
	</ul>
	<a class="button mt-5" href="/jobs/new?customer={c.id}">New job</a>
	<details class="mt-8">
		<summary class="cursor-pointer">This customer leaves</summary>
		<p class="mt-2 mb-2 max-w-prose">
			Everything of {c.name} would go: {plural(data.leaving.jobs, 'job')}, {plural(
				data.leaving.revisions,
				'revision'
			)},
			{plural(data.leaving.logs, 'log')}, {plural(data.leaving.photos, 'photo')}, {plural(
				data.leaving.messages,
				'message'
			)}, the link, the closed files. It can't be taken back.
		</p>
		<p class="mb-3">
			<a class="button" href="/api/v1/customers/{c.id}/record" download onclick={() => (exported = true)}
				>Export all of it first</a
			>
		</p>
		<form method="POST" action="?/delete" use:enhance class="flex max-w-xl items-end gap-2">
			<Field title="Type “{c.name}” to delete it" class="flex-1">
				<input name="typed" required autocomplete="off" bind:value={typed} /></Field
			>
			<button class="button" disabled={!exported || typed.trim() !== c.name.trim()}>Delete for good</button>
		</form>
		{#if !exported}<p class="text-muted mt-1 text-text">Export it first: then it can be deleted.</p>{/if}
	</details>
</main>
