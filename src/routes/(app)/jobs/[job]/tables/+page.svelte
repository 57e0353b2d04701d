<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import ConfirmButton from '$lib/ui/ConfirmButton.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import FileDrop from '$lib/ui/FileDrop.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { titleOf } from '$core/calibration/items';
	import { plural } from '$core/format';
	import { Paste } from '$lib/ui/tables/paste.svelte';
	import Preview from '$lib/ui/tables/Preview.svelte';
	import ScalarItems from '$lib/ui/tables/ScalarItems.svelte';
	import BaseSanity from '$lib/ui/tables/BaseSanity.svelte';
	import WantedTables from '$lib/ui/tables/WantedTables.svelte';
	import WhatItIs from '$lib/ui/tables/WhatItIs.svelte';
	import { tick } from 'svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const there = $derived(new Set(data.items.map((i) => i.id)));
	const wanted = $derived(data.layout.tables);
	const paste = new Paste(() => ({ tables: wanted, scalars: data.layout.scalars, there }));
	let sending = $state(false);
	let area = $state<HTMLTextAreaElement>();
	async function again() {
		await paste.again();
		await tick();
		area?.focus();
	}
	function keys(e: KeyboardEvent) {
		// Enter keeps what was read; a text is pasted, hardly ever typed.
		if (e.key === 'Enter' && !e.shiftKey && paste.ready) {
			e.preventDefault();
			(e.currentTarget as HTMLElement).closest('form')?.requestSubmit();
		}
	}
</script>

<svelte:head><title>Tables of {data.job.title} – Tanto</title></svelte:head>

<PageHead
	title="Tables"
	says={[
		'copy a table in your own program, paste it here, Enter',
		'what it is is asked once for each controller'
	]}
/>
<Alert box message={messageOf(form)} class="mb-3" />
{#if form && 'title' in form && form.title}<p role="status" class="text-clear mb-3">
		{form.title} is in R{'number' in form ? form.number : 0}.
	</p>{/if}

<div class="grid gap-6 lg:grid-cols-[minmax(0,1fr)_280px]">
	<section aria-label="Paste" class="min-w-0">
		{#if data.frozen}
			<p class="border-watch mb-3 border-l-4 pl-3">
				R0 stays as it is: {data.frozen}. {#if data.place}What you paste here is added to
					<a class="underline" href="/jobs/{data.job.id}/revisions/{data.place.id}"
						>the draft R{data.place.number}</a
					>.
				{:else}To add a table, start a draft first.{/if}
			</p>
		{/if}
		{#if data.place}
			<form
				method="POST"
				action={paste.read.scalars ? '?/values' : '?/keep'}
				use:enhance={() => {
					sending = true;
					return async ({ update, result }) => {
						await update({ reset: false });
						sending = false;
						if (result.type === 'success') await again();
					};
				}}
			>
				<Field
					title={paste.expected
						? `Next: ${paste.expected.title ?? titleOf({ id: paste.expected.item })}`
						: 'Paste a table, or lines of name, value, unit'}
					class="block"
				>
					<!-- svelte-ignore a11y_autofocus -->
					<textarea
						bind:this={area}
						name="text"
						rows={paste.read.table || paste.read.scalars ? 3 : 9}
						class="numbers w-full text-small"
						bind:value={paste.text}
						onkeydown={keys}
						autofocus
						spellcheck="false"
						aria-invalid={paste.read.problem !== ''}
						aria-describedby="read-problem"></textarea></Field
				>
				<p id="read-problem" role="alert" class="text-stop min-h-5 text-text">{paste.read.problem}</p>
				{#if paste.axesOpen || paste.needsAxes || paste.xText || paste.yText}
					<div class="mb-2 grid grid-cols-2 gap-3">
						<Field title="Points of x on their own">
							<textarea
								name="x"
								rows="2"
								class="numbers w-full text-small"
								bind:value={paste.xText}
								spellcheck="false"></textarea></Field
						>
						<Field title="Points of y on their own">
							<textarea
								name="y"
								rows="2"
								class="numbers w-full text-small"
								bind:value={paste.yText}
								spellcheck="false"></textarea></Field
						>
					</div>
				{:else}
					<button
						type="button"
						class="mb-2 cursor-pointer text-small underline"
						onclick={() => (paste.axesOpen = true)}>the axes are pasted on their own</button
					>
				{/if}
				{#if paste.read.table}
					<WhatItIs {paste} />
					{#if paste.guessed}<p class="text-muted text-small">{paste.guessed.why}.</p>{/if}
					{#if paste.needsAxes}<p class="text-fix text-text">
							It has no points of its own: paste them above, or copy the table with its axes.
						</p>{/if}
					<input type="hidden" name="entry" value={JSON.stringify(paste.entry)} />
					<Preview table={paste.read.table} />
					{#if paste.read.table.notes.length}<p class="text-muted mt-1 text-small">
							{paste.read.table.notes.join('; ')}.
						</p>{/if}
				{:else if paste.read.scalars}
					<input type="hidden" name="mapping" value={JSON.stringify(paste.mapping)} />
					<ScalarItems {paste} />
				{/if}
				{#if data.place.draft && (paste.entry || paste.read.scalars)}
					<Field title="Why it is added" class="mt-2 block max-w-xl">
						<input name="reason" placeholder="Pasted from the tuner’s own program" /></Field
					>
				{/if}
				<div class="mt-3 flex flex-wrap gap-2">
					<button class="button button-main" disabled={sending || !paste.ready}
						>{sending ? 'Saving …' : 'Save and next'}</button
					>
					{#if paste.expected && paste.next}
						<button
							type="button"
							class="button"
							onclick={() => {
								if (paste.expected) paste.skip(paste.expected.item);
								void again();
							}}>Skip {paste.expected.title ?? titleOf({ id: paste.expected.item })}</button
						>
					{/if}
					<a class="button" href="/jobs/{data.job.id}">Done</a>
				</div>
			</form>
			<div class="mt-6 text-text">
				<FileDrop
					title="Tables as files, one each (CSV or text): they are read one after the other"
					label="Choose files"
					multiple
					accept=".csv,.tsv,.txt"
					onfiles={(list) => {
						paste.waiting = list;
						void paste.nextFile();
					}}
				/>
				{#if paste.fileName}<p class="text-muted" role="status">
						{paste.fileName}{paste.waiting.length
							? `, then ${plural(paste.waiting.length, 'file')} more`
							: ''}
					</p>{/if}
			</div>
			<details class="mt-4 text-text" hidden={data.place.draft}>
				<summary class="cursor-pointer">All of R0 from a file instead</summary>
				<form
					method="POST"
					action="?/file"
					enctype="multipart/form-data"
					use:enhance
					class="mt-2 grid justify-items-start gap-2"
				>
					<div class="w-full">
						<FileDrop
							title="tanto.calibration/1 JSON or CDF 2.0 XML: replaces what is here"
							name="file"
							accept=".json,.xml"
							required
						/>
					</div>
					<button class="button">Replace R0</button>
				</form>
			</details>
		{/if}
	</section>
	<aside aria-label="What is there">
		<WantedTables
			name={data.layout.name}
			tables={wanted}
			{there}
			expected={paste.expected?.item}
			onchoose={(item) => {
				paste.chosen = item;
				area?.focus();
			}}
		/>
		{#if data.items.length}
			{#await data.sanity then sanity}<BaseSanity {sanity} />{:catch}<p class="text-muted mb-4">
					What stands out in R0 could not be worked out. Load the page again.
				</p>{/await}
		{/if}
		<h2 class="mb-1">In R{data.place?.number ?? 0}</h2>
		{#if data.items.length === 0}<p class="text-muted text-text">Nothing yet.</p>{/if}
		<ul class="mb-4 text-text">
			{#each data.items as i (i.id)}
				<li class="border-line flex items-baseline gap-2 border-b py-0.5">
					<span class="min-w-0 flex-1 truncate">{i.title}</span><span class="numbers text-muted"
						>{i.size} {i.unit}</span
					>
					{#if !data.frozen}
						<form method="POST" action="?/drop" use:enhance>
							<input type="hidden" name="item" value={i.id} />
							<ConfirmButton
								text="out"
								label="Take {i.title} out"
								class="text-muted cursor-pointer text-small underline"
								question="Take “{i.title}” out of R0?"
								consequence="Logs of this job are judged without it. It can be pasted again."
								action="Take it out"
							/>
						</form>
					{/if}
				</li>
			{/each}
		</ul>
		<details class="text-text">
			<summary class="cursor-pointer">Another layout</summary>
			<form method="POST" action="?/layout" enctype="multipart/form-data" use:enhance class="mt-2 grid gap-2">
				{#if data.kept.length}
					<select name="layout" value={String(data.layout.id ?? '')}>
						{#each data.kept.filter((k) => k.fuelModel === data.fuelModel) as k (k.id)}<option
								value={String(k.id)}>{k.name}</option
							>{/each}
					</select>
				{/if}
				<FileDrop title="or a layout from a file" name="file" accept=".json" />
				<button class="button">Take it</button>
				<a class="underline" href="/layouts">All layouts</a>
			</form>
		</details>
	</aside>
</div>
