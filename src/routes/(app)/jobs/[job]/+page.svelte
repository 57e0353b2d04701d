<script lang="ts">
	import Field from '$lib/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import { goto, invalidateAll } from '$app/navigation';
	import { refreshEvery } from '$lib/ui/refresh';
	import { page } from '$app/state';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { age, clock, day, moment, size } from '$lib/ui/time';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import DropZone from '$lib/ui/upload/DropZone.svelte';
	import VehicleFacts from '$lib/ui/vehicle/VehicleFacts.svelte';
	import type { PageProps } from './$types';

	const SHOWN = 4;
	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const busy = $derived(data.logs.filter((l) => l.state === 'received' || l.state === 'reading'));
	const vehicle = $derived(data.job.vehicle);
	const answered = $derived(data.inspection.filter((i) => i.state !== null).length);
	const worries = $derived(
		data.inspection.filter((i) => i.state === 'not-fine' || i.state === 'unsure').length
	);
	const link = $derived(data.link?.address ? `${page.url.origin}${data.link.address}` : null);
	const open = $derived(data.logs.filter((l) => l.takenOut === null));
	const out = $derived(data.logs.filter((l) => l.takenOut !== null));
	let copied = $state(false);
	async function copyLink() {
		if (!link) return;
		try {
			await navigator.clipboard.writeText(link);
			copied = true;
		} catch {
			copied = false;
		}
	}

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

{#snippet message(m: (typeof data.messages)[number])}
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
			{#if m.mail?.state === 'failed'}<span class="text-stop">· not mailed: {m.mail.error}</span>
			{:else if m.mail?.state === 'sent'}· mailed
			{:else if m.mail}· <span class="text-fix"
					>{data.mailOff
						? `not mailed: ${data.mailOff}`
						: `waits to be mailed${m.mail.error ? `: ${m.mail.error}` : ''}`}</span
				>
			{:else if m.kind === 'to-customer'}· on the customer's page{/if}
		</p>
		<p class="max-w-prose break-words whitespace-pre-line">{m.body}</p>
	</article>
{/snippet}

<h1 class="mb-1 break-words">{data.job.title}</h1>
<p class="text-muted mb-4">
	{data.job.done
		? `Done on ${day(data.job.done.at)}`
		: data.job.waitingOn === 'tuner'
			? 'Waits for you'
			: 'Waits for the customer'}{data.job.archivedAt ? ', put away' : ''} ·
	{#if data.installed}in the car: <span class="numbers">R{data.current.number}</span>
	{:else}<span class="text-fix">R{data.current.number} sent, not confirmed</span>{/if}
	{#if data.draft}· <a class="underline" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
			>R{data.draft.number} is a draft</a
		>{/if}
</p>

{#if data.word}
	<section class="border-watch mb-4 border-l-4 pl-3" aria-label="The customer's newest word">
		<p class="break-words whitespace-pre-line">“{data.word.body}”</p>
		<p class="text-muted text-[13px]">
			{data.word.author}, {age(data.word.at)} ago · <a class="underline" href="#messages">Answer</a>
		</p>
	</section>
{/if}
{#if data.problem}
	<p class="border-fix mb-4 border-l-4 pl-3">
		The customer reported a problem{data.problem.words ? `: “${data.problem.words}”` : ''}
		<a class="underline" href="/jobs/{data.job.id}/logs/{data.problem.id}">Open {data.problem.title}</a>
	</p>
{/if}
{#each data.unreadable as l (l.id)}
	<p class="border-stop mb-4 border-l-4 pl-3">
		{l.name} can't be read: {l.message}
		<a class="underline" href="/jobs/{data.job.id}/logs/{l.id}">Look at it</a>
	</p>
{/each}

{#if data.newest}
	{@const r = data.newest.report}
	<section class="border-line mb-4 border-y py-3" aria-label="Newest log">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
			<Mark state={r.verdict} size={18} />
			<span class="text-[18px]"
				>{r.findings[0]
					? preferences.finding(r.findings[0]).title
					: 'Nothing found in what was checked'}</span
			>
			<a
				class="button button-main ml-auto"
				title={data.logs.find((l) => l.id === data.newest?.id)?.name}
				href="/jobs/{data.job.id}/logs/{data.newest.id}">Open {data.newest.title}</a
			>
		</div>
		{#if r.findings[0]}<p class="text-muted mt-1">{preferences.finding(r.findings[0]).summary}</p>{/if}
	</section>
{/if}

<div class="border-line mb-4 flex flex-wrap items-baseline gap-x-6 gap-y-2 border-b pb-3">
	<span
		>Asked for: {#if data.plan}<a class="underline" href="/jobs/{data.job.id}/plan"
				>{data.plan.plan.title ?? 'a drive plan'}</a
			>
			<span class="text-muted">{moment(data.plan.at)}</span>{:else}<span class="text-muted">no log yet</span
			>{/if}</span
	>
	<span
		>Look over the car: <a class="underline" href="/jobs/{data.job.id}/inspection"
			>{answered === 0
				? 'no answer yet'
				: worries === 0
					? `${answered} of ${data.inspection.length} fine`
					: `${worries} to talk about`}</a
		></span
	>
	<span class="flex flex-wrap items-baseline gap-x-2"
		>{#if data.unreachable}<span class="text-stop" role="status"
				>{data.job.customer} knows of nothing: {data.unreachable}.</span
			>{/if}
		Customer's page:
		{#if link}<button class="cursor-pointer underline" onclick={() => void copyLink()}>copy the link</button>
			<a class="underline" href={link}>open it</a>
			{#if copied}<span class="text-clear text-[13px]" role="status">copied</span>{/if}
		{:else if data.link}<span class="text-muted">has a link that can't be read again</span>
		{:else}<form method="POST" action="?/link" use:enhance class="inline">
				<button class="cursor-pointer underline">make a link</button>
			</form>{/if}</span
	>
	<a class="button ml-auto" href="/jobs/{data.job.id}/plan">Ask for a log</a>
</div>

<DropZone
	url="/api/v1/jobs/{data.job.id}/uploads"
	label="Add logs"
	hint="or drop exports here, several at once. They are screened as they arrive."
	onsent={() => void invalidateAll()}
/>

{#if open.length}
	<h2 class="mt-5 mb-1">Logs</h2>
	<table class="w-full text-left">
		<thead>
			<tr class="table-head">
				<th class="py-1 font-normal">Log</th><th class="py-1 font-normal">State</th>
				<th class="py-1 text-right font-normal">Length</th><th class="py-1 text-right font-normal">Rows</th
				><th class="py-1 text-right font-normal">Size</th>
				<th class="py-1 text-right font-normal">Sent by</th>
			</tr>
		</thead>
		<tbody>
			{#each open.toReversed() as l (l.id)}
				<tr class="border-line border-b">
					<td class="max-w-[380px] truncate py-1.5 pr-3" title={l.name}
						><a class="underline" href="/jobs/{data.job.id}/logs/{l.id}">{l.title}</a>
						<span class="text-muted text-[13px]">{l.name}</span></td
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
{#if out.length}
	<details class="mt-2 text-[14px]">
		<summary class="text-muted cursor-pointer"
			>{out.length === 1 ? 'One log was' : `${out.length} logs were`} taken out</summary
		>
		<ul>
			{#each out as l (l.id)}<li class="py-0.5">
					<a class="underline" href="/jobs/{data.job.id}/logs/{l.id}">{l.title}</a>, {l.name}: {l.takenOut
						?.reason}
					<span class="text-muted">({l.takenOut?.by})</span>
				</li>{/each}
		</ul>
	</details>
{/if}

<section class="mt-6" id="messages">
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
						: 'On the page of the customer, and on its way by mail.'}</span
				>
			{:else if form && 'noted' in form}<span role="status">Noted.</span>{/if}
		</div>
	</form>
	{#each data.messages.slice(0, SHOWN) as m (m.id)}{@render message(m)}{/each}
	{#if data.messages.length > SHOWN}
		<details>
			<summary class="cursor-pointer py-1">{data.messages.length - SHOWN} earlier</summary>
			{#each data.messages.slice(SHOWN) as m (m.id)}{@render message(m)}{/each}
		</details>
	{/if}
</section>

<details class="mt-6">
	<summary class="cursor-pointer"><h2 class="inline">Record, vehicle and link</h2></summary>
	<div class="mt-2 grid grid-cols-2 gap-8">
		<section aria-label="Record of the job">
			<form
				method="POST"
				action="?/record"
				use:enhance={() =>
					async ({ update }) =>
						update({ reset: false })}
				class="space-y-2"
			>
				<Field title="Title" class="block"><input name="title" required value={data.job.title} /></Field>
				<Field title="Goals: what the customer wants" class="block"
					><textarea name="goals" rows="2">{data.job.record.goals}</textarea></Field
				>
				<Field title="What was done before" class="block"
					><textarea name="doneBefore" rows="2">{data.job.record.doneBefore}</textarea></Field
				>
				<Field title="What was agreed" class="block"
					><textarea name="agreed" rows="2">{data.job.record.agreed}</textarea></Field
				>
				<button class="button">Save the record</button>
				{#if form && 'saved' in form}<span role="status" class="ml-2">Saved.</span>{/if}
			</form>
		</section>
		<section aria-label="Vehicle">
			<VehicleFacts {vehicle} since={data.job.createdAt} />
			<h2 class="mb-1">Customer's page</h2>
			<p class="text-muted mb-2">
				Shows R{data.current.number}, what changed, the drive plan and the cautions, and takes the next log.
				Whoever has the link can open it; nothing else.
				{#if data.link}The link works until {day(data.link.until)}.{/if}
			</p>
			{#if link}
				<Field title="The link. Send it to the customer." class="mb-2 block">
					<input readonly value={link} onfocus={(e) => e.currentTarget.select()} />
				</Field>
			{/if}
			<div class="flex flex-wrap gap-3">
				<form method="POST" action="?/link" use:enhance>
					<button class="button"
						>{data.link ? 'Make a new link (the old one stops working)' : 'Make a link'}</button
					>
				</form>
				{#if data.link}<form method="POST" action="?/revoke" use:enhance>
						<button class="button">Close the link</button>
					</form>{/if}
			</div>
		</section>
	</div>
</details>
