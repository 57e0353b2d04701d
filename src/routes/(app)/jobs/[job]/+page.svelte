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
	import Messages from '$lib/ui/job/Messages.svelte';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Assignment from '$lib/ui/job/Assignment.svelte';
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
	let assignment = $state<{ show(): void }>();
	useCommands([
		{ id: 'hand-over', title: 'Hand over: assign this job to a colleague', run: () => assignment?.show() },
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

{#snippet car()}
	{#if data.installed}in the car: <span class="numbers">R{data.current.number}</span>
	{:else}<span class="text-fix">R{data.current.number} sent, not confirmed</span>{/if}
{/snippet}
{#snippet actions()}
	{#if data.draft}<a class="button" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
			>Open R{data.draft.number} draft</a
		>{/if}
	<a class="button {data.newest ? '' : 'button-main'}" href="/jobs/{data.job.id}/plan">Ask for a log</a>
	{#if data.newest}<a
			class="button button-main"
			title={data.logs.find((l) => l.id === data.newest?.id)?.name}
			href="/jobs/{data.job.id}/logs/{data.newest.id}">Open newest log</a
		>{/if}
{/snippet}
<PageHead
	title={data.job.title}
	says={[
		data.job.done
			? `complete since ${day(data.job.done.at)}`
			: data.job.waitingOn === 'tuner'
				? 'waits for you'
				: 'waits for the customer',
		data.job.archivedAt && 'archived'
	]}
	status={car}
	{actions}
	more={[
		{ title: 'Report', href: `/jobs/${data.job.id}/summary` },
		...(data.job.done ? [] : [{ title: 'Complete job', href: `/jobs/${data.job.id}/summary#complete` }])
	]}
/>

{#if data.word}
	<section class="border-watch mb-4 border-l-4 pl-3" aria-label="The customer's newest word">
		<p class="break-words whitespace-pre-line">“{data.word.body}”</p>
		<p class="text-muted text-small">
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

<div class="grid gap-8 lg:grid-cols-[minmax(0,1fr)_320px]">
	<div class="min-w-0">
		{#if data.newest}
			{@const r = data.newest.report}
			<section class="border-line mb-4 border-y py-3" aria-label="Newest log">
				<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
					<Mark state={r.verdict} size={18} />
					<span class="text-lead"
						>{r.findings[0]
							? preferences.finding(r.findings[0]).title
							: 'Nothing found in what was checked'}</span
					>
					<a class="ml-auto underline" href="/jobs/{data.job.id}/logs/{data.newest.id}">{data.newest.title}</a
					>
				</div>
				{#if r.findings[0]}<p class="text-muted mt-1">{preferences.finding(r.findings[0]).summary}</p>{/if}
			</section>
		{/if}

		<DropZone
			url="/api/v1/jobs/{data.job.id}/uploads"
			label="Add logs"
			hint="or drop exports here, several at once. They are screened as they arrive."
			onsent={() => void invalidateAll()}
		/>

		{#if open.length}
			<h2 class="mt-5 mb-1" id="logs">Logs</h2>
			<table class="w-full text-left">
				<thead>
					<tr class="table-head">
						<th class="py-1 font-normal">Log</th><th class="py-1 font-normal">State</th>
						<th class="py-1 text-right font-normal">Length</th><th class="py-1 text-right font-normal"
							>Rows</th
						><th class="py-1 text-right font-normal">Size</th>
						<th class="py-1 text-right font-normal">Sent by</th>
					</tr>
				</thead>
				<tbody>
					{#each open.toReversed() as l (l.id)}
						<tr class="border-line border-b">
							<td class="max-w-[380px] truncate py-1.5 pr-3" title={l.name}
								><a class="underline" href="/jobs/{data.job.id}/logs/{l.id}">{l.title}</a>
								<span class="text-muted text-small">{l.name}</span></td
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
								{#if l.message}<span class="text-stop block text-small">{l.message}</span>{/if}
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
			<details class="mt-2 text-text">
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

		<details class="mt-6">
			<summary class="cursor-pointer"><h2 class="inline">Record</h2></summary>
			<form
				method="POST"
				action="?/record"
				use:enhance={() =>
					async ({ update }) =>
						update({ reset: false })}
				class="mt-2 space-y-2"
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
		</details>
	</div>
	<aside class="min-w-0" aria-label="About the job">
		<dl class="border-line mb-5 grid grid-cols-[92px_minmax(0,1fr)] gap-x-3 gap-y-1.5 border-b pb-3">
			<dt class="text-muted">Tuner</dt>
			<dd><Assignment bind:this={assignment} tuner={data.job.tuner} tuners={data.tuners} me={data.me} /></dd>
			<dt class="text-muted">Asked for</dt>
			<dd>
				{#if data.plan}<a class="underline" href="/jobs/{data.job.id}/plan"
						>{data.plan.plan.title ?? 'a drive plan'}</a
					>
					<span class="text-muted">{moment(data.plan.at)}</span>{:else}<span class="text-muted"
						>no log yet</span
					>{/if}
			</dd>
			<dt class="text-muted">Inspection</dt>
			<dd>
				<a class="underline" href="/jobs/{data.job.id}/inspection"
					>{answered === 0
						? 'no answer yet'
						: worries === 0
							? `${answered} of ${data.inspection.length} fine`
							: `${worries} to talk about`}</a
				>
			</dd>
			<dt class="text-muted">Customer's page</dt>
			<dd>
				{#if data.unreachable}<span class="text-stop block" role="status"
						>{data.job.customer} knows of nothing: {data.unreachable}.</span
					>{/if}
				{#if link}<button class="cursor-pointer underline" onclick={() => void copyLink()}
						>copy the link</button
					>
					· <a class="underline" href={link}>open it</a>
					{#if copied}<span class="text-clear text-small" role="status">copied</span>{/if}
				{:else if data.link}<span class="text-muted">has a link that can't be read again</span>
				{:else}<form method="POST" action="?/link" use:enhance class="inline">
						<button class="cursor-pointer underline">make a link</button>
					</form>{/if}
			</dd>
		</dl>
		<VehicleFacts {vehicle} since={data.job.createdAt} />
		<section id="messages">
			<h2 class="mb-1">Messages</h2>
			<Messages messages={data.messages} {form} mailOff={data.mailOff} shown={SHOWN} />
		</section>
	</aside>
</div>
