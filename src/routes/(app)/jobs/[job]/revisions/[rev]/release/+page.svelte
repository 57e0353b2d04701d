<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { untrack } from 'svelte';
	import { list, plural } from '$core/format';
	import { REASON_LENGTH } from '$core/revising/reason';
	import { Dialog } from 'bits-ui';
	import { enhance } from '$app/forms';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import AttachFile from '$lib/ui/revision/AttachFile.svelte';
	import { size } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const check = $derived(data.check);
	const prepares = $derived(data.role === 'apprentice');
	const blocked = $derived(prepares || check.empty || check.holds.some((h) => !h.answerable));
	let asking = $state(false);
	let sure = false;
	/** What has to be filled in before it is asked whether to send it. */
	let missing = $state('');
	let confirmed = $state(false);
	let tables = $state(untrack(() => (form?.entered ? form.entered['tables'] === 'on' : data.offersTables)));
	/** By name, exactly what the customer can download afterwards. */
	const gets = $derived([
		...data.attachments.map((a) => a.name),
		...(tables ? [`R${data.draft.number}.json (every table in plain numbers)`] : [])
	]);
	let releaseForm = $state<HTMLFormElement>();
	let send = $state<HTMLButtonElement>();
	let notes = $state(untrack(() => form?.entered?.['notes'] ?? data.notes));
	let template = $state(untrack(() => form?.entered?.['template'] ?? 'next-revision'));
	const CLASS: Record<string, string> = {
		safer: 'text-clear',
		riskier: 'text-stop',
		neutral: 'text-muted',
		unknown: 'text-fix'
	};
	/** One reason often answers several holds: inherited, and still editable in each. */
	function sameReason() {
		const fields = reasons();
		const first = fields.find((f) => f.value.trim())?.value ?? '';
		for (const f of fields) if (!f.value.trim()) f.value = first;
	}
	const reasons = () => [...document.querySelectorAll<HTMLInputElement>('input[name^="hold:"]')];
	let button = $state<HTMLButtonElement>();
	useCommands([
		{
			id: 'next-answer',
			title: 'To the next reason that is missing, else to the release',
			key: 'e',
			run: () => (reasons().find((f) => !f.value.trim()) ?? button)?.focus()
		},
		{ id: 'same-reason', title: 'Give the first reason to all holds', key: 's', run: sameReason }
	]);
</script>

<svelte:head><title>Release R{data.draft.number} – Tanto</title></svelte:head>

{#snippet actions()}
	<a class="button" href="/jobs/{data.job.id}/revisions/{data.draft.id}">Back to the draft</a>
{/snippet}
<PageHead title="Release R{data.draft.number}" {actions} />
<Alert box message={messageOf(form)} class="mb-4" />

<div class="max-w-3xl space-y-6">
	<section>
		<h2 class="mb-1">1 · What goes out</h2>
		{#if check.empty}<p class="text-muted">Nothing differs from the revision before.</p>{/if}
		<ul>
			{#each check.changes as c (c.item)}
				<li class="border-line flex justify-between gap-3 border-b py-1">
					<span
						><span class="font-semibold">{data.titles[c.item] ?? c.item}</span>, {c.cellsChanged}
						{c.cellsChanged === 1 ? 'value' : 'cells'}
						<span class="text-muted block text-small">{c.rule}</span></span
					>
					<span class="font-semibold {CLASS[c.class]}">{c.class}</span>
				</li>
			{/each}
		</ul>
		<p class="mt-2 text-text">
			{#if data.replayed}
				<a class="underline" href="/jobs/{data.job.id}/revisions/{data.draft.id}/replay"
					>The last log with this revision</a
				>
			{:else}<span class="text-muted">Not replayed: {data.replayProblem}.</span>{/if}
		</p>
		<h2 class="mt-5 mb-1">2 · Holds</h2>
		{#if check.holds.some((h) => h.answerable)}<p class="text-muted no-print mb-1 text-small">
				Key <kbd>e</kbd> leads to the next reason that is missing, then to the release{check.holds.length > 1
					? '; s gives the first to all'
					: ''}.
			</p>{/if}
		{#if check.holds.length === 0}
			<p>
				<Mark state="pass" bare />
				{check.onlySafer && !check.empty
					? 'This revision only makes things safer, so it gets through.'
					: 'Nothing holds it.'}
			</p>
		{:else}
			<ol class="mb-2">
				{#each check.holds as h (h.id)}
					<li class="border-line border-b py-1.5">
						<p>
							<Mark state={h.answerable ? 'fix' : 'stop'} bare size={13} />
							<span class="font-semibold">{h.title}.</span>
							<span class="text-muted">{h.why}</span>
							{#if h.id === 'reason'}<a class="underline" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
									>Give the reasons</a
								>{:else if h.id.startsWith('finding') && check.log}<a
									class="underline"
									href="/jobs/{data.job.id}/logs/{check.log.id}">Look at it</a
								>{/if}
						</p>
						{#if h.answerable}
							<label class="mt-1 block text-small"
								>Why it may go out all the same (stays in the record)
								<input
									form="release"
									name="hold:{h.id}"
									value={form?.entered?.[`hold:${h.id}`] ?? data.causes[h.id] ?? ''}
									autocomplete="off"
								/></label
							>
						{:else}
							<p class="text-stop text-small">No reason opens this: the revision has to change.</p>
						{/if}
					</li>
				{/each}
			</ol>
			{#if check.holds.filter((h) => h.answerable).length > 1}
				<button type="button" class="button" onclick={sameReason}>Give the first reason to all of them</button
				>
			{/if}
		{/if}

		<h2 class="mt-5 mb-1">3 · Closed file for the flashing program</h2>
		<p class="mb-1 text-text">
			<a class="underline" href="/jobs/{data.job.id}/revisions/{data.draft.id}/carry"
				>Copy the tables to your program, and prove the file by pasting them back</a
			>
		</p>
		{#each data.attachments as a (a.id)}
			<form
				method="POST"
				action="?/detach"
				use:enhance
				class="border-line mb-2 flex items-start justify-between gap-3 border-b pb-2"
			>
				<input type="hidden" name="id" value={a.id} />
				<span class="min-w-0"
					><span class="font-semibold break-all">{a.name}</span>, {size(a.bytes)}, for {a.hardware} / {a.software}
					<span class="numbers text-muted block break-all">sha-256 {a.sha256}</span></span
				>
				<button class="button">Take away</button>
			</form>
		{/each}
		<AttachFile revisionId={data.draft.id} controller={data.job.vehicle.controller} />
	</section>

	<section>
		<h2 class="mb-1">4 · The message, and out</h2>
		<form
			bind:this={releaseForm}
			method="POST"
			action="?/release"
			id="release"
			use:enhance={({ cancel }) => {
				// What can't be taken back asks once: what, to whom, with which file.
				if (!sure) {
					cancel();
					// What is missing is led to, not asked about.
					const empty = reasons().find((f) => f.value.trim().length < REASON_LENGTH);
					missing = empty
						? `A hold has no reason yet, or one that says too little: at least ${REASON_LENGTH} characters.`
						: data.attachments.length && !confirmed
							? 'Look whether the closed file holds what the tables say, and confirm it.'
							: '';
					if (empty) empty.focus();
					asking = missing === '';
					return;
				}
				sure = false;
				return ({ update }) => update({ reset: false });
			}}
		>
			<input type="hidden" name="contentHash" value={data.examined.contentHash} />
			<input type="hidden" name="files" value={data.examined.files} />
			<input type="hidden" name="findings" value={data.examined.findings} />
			<Field
				title="What the customer reads: what changed and what to do first, made from the changes, yours to word"
				class="block"
			>
				<textarea name="notes" rows="9" required bind:value={notes}></textarea>
			</Field>
			<Field title="Next drive plan" class="mt-3 block max-w-md">
				<select name="template" bind:value={template}>
					{#each data.templates as t (t.id)}<option value={t.id}>{t.title}</option>{/each}
					<option value="">none now</option>
				</select>
			</Field>
			<h3 class="mt-4 mb-1 font-semibold">What {data.job.customer} can download</h3>
			<ul class="mb-2">
				{#each data.attachments as a (a.id)}
					<li class="border-line border-b py-1">
						<span class="font-semibold break-all">{a.name}</span>, the closed file
					</li>
				{/each}
				{#if tables}<li class="border-line border-b py-1">
						<span class="font-semibold">R{data.draft.number}.json</span>, every table in plain numbers
					</li>{/if}
				{#if gets.length === 0}<li class="text-fix">
						Nothing: no closed file is attached, and the tables stay here. They read the message alone.
					</li>{/if}
			</ul>
			<label class="flex items-start gap-2">
				<input type="checkbox" name="tables" class="mt-1" bind:checked={tables} />
				<span>The tables as well, readable by anybody who has the link.</span>
			</label>
			{#if data.attachments.length}
				<label class="mt-2 flex items-start gap-2">
					<input type="checkbox" name="confirmed" class="mt-1" bind:checked={confirmed} />
					<span>The closed file holds what the tables say; I have looked.</span>
				</label>
			{/if}
			<button bind:this={button} class="button button-main mt-4" disabled={blocked}
				>Release R{data.draft.number}</button
			>
			{#if missing}<p class="text-stop mt-2 text-text" role="alert">{missing}</p>{/if}
			{#if blocked}<span class="text-stop ml-3 text-text"
					>{prepares
						? 'You prepare it; a tuner looks at it and sends it out.'
						: check.empty
							? 'Nothing differs from the revision before.'
							: 'A hold above has to be resolved first: no reason opens it.'}</span
				>{/if}
		</form>
	</section>
</div>

<Dialog.Root bind:open={asking}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="bg-sheet border-strong-line fixed top-32 left-1/2 z-50 w-[480px] max-w-[92vw] -translate-x-1/2 border p-5 shadow-lg"
			onOpenAutoFocus={(e) => {
				e.preventDefault();
				send?.focus();
			}}
		>
			<Dialog.Title class="mb-2 font-semibold">Send R{data.draft.number} to {data.job.customer}</Dialog.Title>
			<Dialog.Description class="mb-3">It can't be changed any more after this.</Dialog.Description>
			<ul class="mb-4 list-disc pl-5">
				<li>
					{gets.length ? `They can download ${list(gets)}.` : 'They can download nothing: the message alone.'}
				</li>
				{#if data.unreachable}
					<li class="text-stop">
						They won't know of it: {data.unreachable}. It waits for you until there is a link, on the page of
						the job.
					</li>
				{:else}
					<li>
						On their page{data.mailOff
							? `; not mailed: ${data.mailOff}`
							: `, and by mail to ${data.job.email}`}.
					</li>
				{/if}
				<li>
					{template
						? `Next plan: ${data.templates.find((t) => t.id === template)?.title}.`
						: 'No drive plan.'}
				</li>
				{#if check.holds.length}<li>
						Over {plural(check.holds.length, 'hold')}, with the reasons that you wrote; they stay in the
						record and don't go to the customer.
					</li>{/if}
			</ul>
			<div class="flex justify-end gap-2">
				<button type="button" class="button" onclick={() => (asking = false)}>Not yet</button>
				<button
					bind:this={send}
					type="button"
					class="button button-main"
					onclick={() => {
						asking = false;
						sure = true;
						releaseForm?.requestSubmit();
					}}>Send R{data.draft.number}</button
				>
			</div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
