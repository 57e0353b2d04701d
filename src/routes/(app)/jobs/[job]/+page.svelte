<script lang="ts">
	import { enhance } from '$app/forms';
	import { goto, invalidateAll } from '$app/navigation';
	import { refreshEvery } from '$lib/ui/refresh';
	import { page } from '$app/state';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { clock, day, moment, size } from '$lib/ui/time';
	import DropZone from '$lib/ui/upload/DropZone.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const busy = $derived(data.logs.filter((l) => l.state === 'received' || l.state === 'reading'));
	const vehicle = $derived(data.job.vehicle);
	const answered = $derived(data.lookover.filter((i) => i.state !== null).length);
	const worries = $derived(
		data.lookover.filter((i) => i.state === 'not-fine' || i.state === 'unsure').length
	);
	const link = $derived(form && 'token' in form ? `${page.url.origin}/c/${form.token}` : null);

	// A log that arrives shows by itself, without reloading.
	$effect(() => refreshEvery(busy.length ? 700 : 4000));
	useCommands([
		{ id: 'ask', title: 'Ask for a log', key: 'a', run: () => void goto(`/jobs/${data.job.id}/plan`) },
		{
			id: 'newest-log',
			title: 'Open the newest log',
			key: 'l',
			run: () => {
				if (data.newest) void goto(`/jobs/${data.job.id}/logs/${data.newest.id}`);
			}
		},
		{
			id: 'draft',
			title: 'Open the draft',
			key: 'd',
			run: () => {
				if (data.draft) void goto(`/jobs/${data.job.id}/revisions/${data.draft.id}`);
			}
		}
	]);
</script>

<svelte:head><title>{data.job.title} – Tanto</title></svelte:head>

<h1 class="mb-1 break-words">{data.job.title}</h1>
<p class="text-muted mb-5">
	{data.job.waitingOn === 'tuner' ? 'Waits for you' : 'Waits for the customer'} · in the car: R{data.current
		.number}
	{#if data.draft}· <a class="underline" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
			>R{data.draft.number} is a draft</a
		>{/if}
</p>

{#if data.newest}
	{@const r = data.newest.report}
	<section class="border-line mb-6 border-y py-3">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
			<Mark state={r.verdict} size={18} />
			<span class="text-[18px]">{r.findings[0]?.title ?? 'Nothing found in what was checked'}</span>
			<a class="button button-main ml-auto" href="/jobs/{data.job.id}/logs/{data.newest.id}"
				>Open {data.newest.name.slice(0, 40)}</a
			>
		</div>
		{#if r.findings[0]}<p class="text-muted mt-1">{r.findings[0].summary}</p>{/if}
	</section>
{/if}

<div class="border-line mb-5 flex flex-wrap items-baseline gap-x-6 gap-y-1 border-b pb-3">
	<span
		>Asked for: {#if data.plan}<a class="underline" href="/jobs/{data.job.id}/plan"
				>{data.plan.plan.title ?? 'a drive plan'}</a
			>
			<span class="text-muted">{moment(data.plan.at)}</span>{:else}<span class="text-muted">no log yet</span
			>{/if}</span
	>
	<span
		>Look over the car: <a class="underline" href="/jobs/{data.job.id}/lookover"
			>{answered === 0
				? 'no answer yet'
				: worries === 0
					? `${answered} of ${data.lookover.length} fine`
					: `${worries} to talk about`}</a
		></span
	>
	<a class="button ml-auto" href="/jobs/{data.job.id}/plan">Ask for a log</a>
</div>

<DropZone
	url="/api/v1/jobs/{data.job.id}/uploads"
	label="Add logs"
	hint="or drop exports here, several at once: text, packed or not, JSON Lines, Parquet. They are screened as they arrive."
	onsent={() => void invalidateAll()}
/>

{#if data.logs.length}
	<h2 class="mt-6 mb-1">Logs</h2>
	<table class="w-full text-left">
		<thead>
			<tr class="text-muted border-strong-line border-b text-[13px]">
				<th class="py-1 font-normal">File</th><th class="py-1 font-normal">State</th><th
					class="py-1 font-normal">Made with</th
				>
				<th class="py-1 text-right font-normal">Length</th><th class="py-1 text-right font-normal">Rows</th
				><th class="py-1 text-right font-normal">Size</th>
				<th class="py-1 text-right font-normal">Sent by</th>
			</tr>
		</thead>
		<tbody>
			{#each data.logs as l (l.id)}
				<tr class="border-line border-b">
					<td class="max-w-[320px] truncate py-1.5 pr-3" title={l.name}
						><a class="underline" href="/jobs/{data.job.id}/logs/{l.id}">{l.name}</a></td
					>
					<td class="py-1.5">
						<Mark state={l.state === 'screened' ? 'pass' : l.state} bare={l.state === 'screened'} />
						{#if l.state === 'screened'}screened{/if}
						{#if l.state === 'reading'}<progress
								class="ml-2 w-24"
								max="100"
								value={l.progress}
								aria-label="Read"
							></progress>{/if}
						{#if l.message}<span class="text-stop block text-[13px]">{l.message}</span>{/if}
					</td>
					<td class="numbers py-1.5">R{l.revision}</td>
					<td class="numbers py-1.5 text-right">{l.state === 'screened' ? clock(l.durationS) : '–'}</td>
					<td class="numbers py-1.5 text-right">{l.state === 'screened' ? l.rows : '–'}</td>
					<td class="numbers py-1.5 text-right">{size(l.bytes)}</td>
					<td class="py-1.5 text-right">{l.sentBy}</td>
				</tr>
			{/each}
		</tbody>
	</table>
{:else}
	<p class="text-muted mt-4 max-w-prose">
		No log yet. Ask the customer with a drive plan, or drop an export above.
	</p>
{/if}

<section class="mt-7" id="messages">
	<h2 class="mb-1">Notes and messages</h2>
	<form
		method="POST"
		action="?/note"
		use:enhance={() =>
			async ({ update, result }) =>
				update({ reset: result.type === 'success' })}
		class="mb-2"
	>
		<textarea
			name="body"
			rows="2"
			aria-label="Note or message"
			placeholder="A note for the tuners, or a message to the customer"
			>{form && 'entered' in form ? (form.entered?.['body'] ?? '') : ''}</textarea
		>
		<div class="mt-1 flex flex-wrap items-center gap-3">
			<button class="button">Keep as a note</button>
			<button class="button" formaction="?/message">Send to the customer</button>
			{#if form && 'message' in form}<span role="alert" class="text-stop">{form.message}</span>
			{:else if form && 'sent' in form}<span role="status"
					>{form.notMailed
						? `On the customer's page; not mailed: ${form.notMailed}.`
						: 'Sent by mail, and on the page of the customer.'}</span
				>
			{:else if form && 'noted' in form}<span role="status">Noted.</span>{/if}
		</div>
	</form>
	{#each data.messages as m (m.id)}
		<article class="border-line border-t py-2" id="message-{m.id}">
			<p class="text-muted text-[13px]">
				<span class="text-ink font-semibold"
					>{m.kind === 'note'
						? 'Note'
						: m.kind === 'to-customer'
							? 'To the customer'
							: 'From the customer'}</span
				>
				· {m.author} · {moment(m.at)} UTC
				{#if m.mail?.state === 'failed'}<span class="text-stop">· not mailed: {m.mail.error}</span
					>{:else if m.mail}· mailed{/if}
			</p>
			<p class="max-w-prose break-words whitespace-pre-line">{m.body}</p>
		</article>
	{/each}
</section>

<div class="mt-7 grid grid-cols-2 gap-8">
	<section>
		<h2 class="mb-1">Record of the job</h2>
		<form
			method="POST"
			action="?/record"
			use:enhance={() =>
				async ({ update }) =>
					update({ reset: false })}
			class="space-y-2"
		>
			<label class="block"
				><span class="text-[13px]">Title</span><input name="title" required value={data.job.title} /></label
			>
			<label class="block"
				><span class="text-[13px]">Goals: what the customer wants</span><textarea name="goals" rows="2"
					>{data.job.record.goals}</textarea
				></label
			>
			<label class="block"
				><span class="text-[13px]">What was done before</span><textarea name="doneBefore" rows="2"
					>{data.job.record.doneBefore}</textarea
				></label
			>
			<label class="block"
				><span class="text-[13px]">What was agreed</span><textarea name="agreed" rows="2"
					>{data.job.record.agreed}</textarea
				></label
			>
			<button class="button">Save the record</button>
			{#if form && 'saved' in form}<span role="status" class="ml-2">Saved.</span>{/if}
		</form>
	</section>
	<section>
		<h2 class="mb-1">Vehicle</h2>
		<dl class="mb-5 grid grid-cols-[120px_1fr] gap-y-0.5">
			<dt class="text-muted">Engine</dt>
			<dd>
				{vehicle.engine.displacementL ? `${vehicle.engine.displacementL} l ` : ''}{vehicle.engine.layout ??
					''}
				{vehicle.engine.cylinders}, {vehicle.engine.aspiration === 'na'
					? 'naturally aspirated'
					: vehicle.engine.aspiration}, to <span class="numbers">{vehicle.engine.revLimitRpm}</span> rpm
			</dd>
			<dt class="text-muted">Fuel</dt>
			<dd>
				{vehicle.fuel?.name ?? 'not stated'}{vehicle.fuel?.ethanolPct !== undefined
					? `, ${vehicle.fuel.ethanolPct} % ethanol`
					: ''}{vehicle.injectors?.flowCcMin ? `, injectors ${vehicle.injectors.flowCcMin} cc/min` : ''}
			</dd>
			<dt class="text-muted">Controller</dt>
			<dd class="break-words">
				{[vehicle.controller?.hardware, vehicle.controller?.software].filter(Boolean).join(', ') ||
					'not stated'}
			</dd>
			<dt class="text-muted">Job since</dt>
			<dd>{day(data.job.createdAt)}</dd>
		</dl>
		<h2 class="mb-1">Customer's page</h2>
		<p class="text-muted mb-2">
			Shows R{data.current.number}, what changed, the drive plan and the cautions, and takes the next log.
			Whoever has the link can open it; nothing else.
			{#if data.linkUntil}The link works until {day(data.linkUntil)}.{/if}
		</p>
		{#if link}
			<label class="block">
				<span class="text-[13px]">The link, shown only now. Send it to the customer.</span>
				<input readonly value={link} onfocus={(e) => e.currentTarget.select()} />
			</label>
			<a class="mt-1 inline-block underline" href={link}>Open the customer's page</a>
		{:else}
			<div class="flex flex-wrap gap-3">
				<form method="POST" action="?/link" use:enhance>
					<button class="button"
						>{data.linkUntil ? 'Make a new link (the old one stops working)' : 'Make a link'}</button
					>
				</form>
				{#if data.linkUntil}<form method="POST" action="?/revoke" use:enhance>
						<button class="button">Close the link</button>
					</form>{/if}
			</div>
		{/if}
	</section>
</div>
