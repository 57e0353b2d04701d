<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import ConfirmButton from '$lib/ui/ConfirmButton.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import FileDrop from '$lib/ui/FileDrop.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { plural } from '$core/format';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	let copying = $state<number | null>(null);
</script>

<svelte:head><title>Layouts – Tanto</title></svelte:head>

<main class="max-w-[980px] px-(--gutter) pb-6">
	<PageHead title="Table layouts" />
	<p class="text-muted mb-4 max-w-[68ch]">
		How a controller’s tables look in your own program. They are made while tables are pasted, and shared by
		the workshop.
	</p>
	<Alert message={messageOf(form)} class="mb-3" />
	{#if data.layouts.length === 0}
		<p class="mb-4">None yet: the first job whose tables you paste makes one.</p>
	{:else}
		<table class="mb-4 w-full text-left text-text">
			<thead>
				<tr class="table-head">
					<th class="py-1 font-normal">Layout</th><th class="font-normal">Controller</th><th
						class="font-normal">Holds</th
					><th class="font-normal">Last used</th><th></th>
				</tr>
			</thead>
			<tbody>
				{#each data.layouts as l (l.id)}
					<tr class="border-line border-b align-top">
						<td class="py-1 pr-3 font-semibold">{l.name}</td>
						<td class="pr-3">{l.controller || '–'}</td>
						<td class="pr-3">{plural(l.tables, 'table')}, {plural(l.scalars, 'value')}</td>
						<td class="text-muted pr-3">{moment(l.updatedAt)}</td>
						<td class="text-right">
							<a class="underline" href="/layouts/{l.id}/kit">Recording kit</a>
							<a class="ml-2 underline" href="/layouts/{l.id}" download>Export</a>
							<button
								class="ml-2 cursor-pointer underline"
								aria-expanded={copying === l.id}
								onclick={() => (copying = copying === l.id ? null : l.id)}>Copy</button
							>
							<form method="POST" action="?/drop" class="ml-2 inline" use:enhance>
								<input type="hidden" name="layout" value={l.id} />
								<ConfirmButton
									text="Delete"
									question="Delete the layout “{l.name}”?"
									consequence="Jobs that use it keep their tables; the next one has to be told again what each is."
									action="Delete it"
								/>
							</form>
							{#if copying === l.id}
								<form
									method="POST"
									action="?/copy"
									class="mt-2 grid gap-1 text-left"
									use:enhance={() =>
										async ({ update, result }) => {
											await update();
											if (result.type === 'success') copying = null;
										}}
								>
									<input type="hidden" name="layout" value={l.id} />
									<Field title="Name"><input name="name" required value="{l.name} (copy)" /></Field>
									<Field title="Controller hardware"><input name="hardware" required /></Field>
									<Field title="Software"><input name="software" required /></Field>
									<button class="button">Copy it for that controller</button>
								</form>
							{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
	<form
		method="POST"
		action="?/import"
		enctype="multipart/form-data"
		use:enhance
		class="mb-6 flex items-end gap-2"
	>
		<div class="w-96">
			<FileDrop title="A layout from a file (tanto.layout/1)" name="file" accept=".json" required />
		</div>
		<button class="button">Import</button>
	</form>
	<h2 class="mb-1">Starters</h2>
	<ul class="text-text">
		{#each data.starters as s (s.model)}
			<li class="border-line border-b py-1">
				{s.name}: {plural(s.tables, 'table')}.
				<a class="underline" href="/layouts/{s.model}" download>Export</a>
			</li>
		{/each}
	</ul>
</main>
