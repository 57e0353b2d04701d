<script lang="ts">
	import { browser } from '$app/environment';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { plural } from '$core/format';
	import { titleOf } from '$core/calibration/items';
	import { untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import { beforeNavigate, goto } from '$app/navigation';
	import { Dialog } from 'bits-ui';
	import type { Item } from '$core/calibration/document';
	import { STANDARD_PRESSURE_KPA } from '$core/vehicle/facts';
	import { useCommands } from '$lib/ui/commands.svelte';
	import { DraftEditor } from '$lib/ui/grid/draft.svelte';
	import Proposals from '$lib/ui/revision/Proposals.svelte';
	import ItemPane from '$lib/ui/revision/ItemPane.svelte';
	import Conflicts from '$lib/ui/revision/Conflicts.svelte';
	import BesideTable from '$lib/ui/revision/BesideTable.svelte';
	import ClosedFiles from '$lib/ui/revision/ClosedFiles.svelte';
	import { moment } from '$lib/ui/time';
	import type { ItemProposal } from '$core/revising/proposal';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const rev = $derived(data.rev);
	const edited = $derived(`${data.rev.id} ${data.rev.state}`);
	// One editor per revision: navigation to another one makes another, news of the same one doesn't (it may hold unsaved steps).
	const editor = $derived.by(() => {
		void edited;
		return untrack(
			() =>
				new DraftEditor(
					data.rev.id,
					data.job.id,
					data.rev.version,
					(data.parent ?? data.rev).calibration,
					data.rev.state === 'draft' ? (data.rev.proposal?.changes ?? []) : [],
					data.rev.changes,
					data.rev.edits,
					data.rev.state === 'draft',
					data.rev.rejected,
					browser ? sessionStorage : null
				)
		);
	});
	const parent = $derived((data.parent ?? data.rev).calibration);
	const items = $derived(editor.items);
	const proposedItems = $derived(new Set(editor.proposals.map((p) => p.item)));
	const first = $derived(
		[...proposedItems][0] ??
			data.rev.changes[0]?.item ??
			items.find((i) => i.kind === 'map')?.id ??
			items[0]?.id ??
			''
	);
	let picked = $state<string | null>(null);
	const current = $derived(items.find((i) => i.id === (picked ?? first)) ?? items[0]);
	/** The same in the revision before; missing where this draft added it. */
	const parentItem = $derived(parent.items.find((i) => i.id === current?.id));
	let asking = $state(false);
	const editable = $derived(rev.state === 'draft');
	/** Changed here, or proposed to be: they stand first; the rest by group, folded while there are any. */
	const touched = $derived(items.filter((i) => editor.changedIn(i.id) > 0));
	const near = $derived(
		editable ? items.filter((i) => editor.changedIn(i.id) > 0 || proposedItems.has(i.id)) : touched
	);
	const far = $derived(items.filter((i) => !near.includes(i)));
	const groups = $derived.by(() => {
		const by: Record<string, Item[]> = {};
		for (const i of far) (by[i.group ?? 'Other'] ??= []).push(i);
		return Object.entries(by);
	});
	const held = $derived(data.rev.proposal?.held ?? []);

	beforeNavigate(({ type, cancel }) => {
		if (editor.saving === 'saved') return;
		void editor.save();
		// Closing the tab doesn't wait for a request: the browser asks first.
		if (type === 'leave') cancel();
	});
	async function leaveTo(path: string) {
		if (await editor.save()) await goto(path, { invalidateAll: true });
	}
	useCommands([
		{ id: 'accept-all', title: 'Accept all proposals', key: 'a', run: () => editor.acceptAll() },
		{ id: 'undo', title: 'Undo', key: 'u', run: () => editor.undo() },
		{ id: 'redo', title: 'Redo', key: 'U', run: () => editor.redo() },
		{
			id: 'compare',
			title: 'Compare with the revision before',
			key: 'c',
			run: () => {
				if (data.parent) void leaveTo(`/jobs/${data.job.id}/compare?a=${data.parent.id}&b=${rev.id}`);
			}
		},
		{
			id: 'release',
			title: 'Review release',
			key: 'r',
			run: () => {
				if (editable) void leaveTo(`/jobs/${data.job.id}/revisions/${rev.id}/release`);
			}
		},
		{
			id: 'replay',
			title: 'Replay the last log with it',
			key: 'v',
			run: () => {
				if (data.parent) void leaveTo(`/jobs/${data.job.id}/revisions/${rev.id}/replay`);
			}
		},
		{
			id: 'grid',
			title: 'Into the grid',
			key: 'g',
			run: () => document.querySelector<HTMLElement>('[role=grid]')?.focus()
		}
	]);
	const SAVING = {
		saved: 'saved',
		waiting: 'not saved yet',
		saving: 'saving …',
		failed: 'not saved',
		conflict: 'changed elsewhere'
	};
	const preferences = usePreferences();
	/** What is offered beside the proposal, and what taking it is called. Proposals of before name no kind: one number, or a stop-gap. */
	const OFFERS: Record<
		NonNullable<ItemProposal['kind']>,
		{ title: string; more: string; take: (cells: number) => string }
	> = {
		'stop-gap': { title: 'Stop-gap', more: '', take: (n) => `Take the stop-gap, ${n} cells richer` },
		level: { title: 'One number instead', more: '', take: () => 'Take the one number' },
		missing: {
			title: 'A table that is missing',
			more: ' This calibration has no such table: add it where the controller has one.',
			take: (n) => `Add it, ${plural(n, 'cylinder')} trimmed`
		},
		target: {
			title: 'Another target',
			more: ' Nothing of it is taken by itself.',
			take: (n) => `Take it, ${plural(n, 'cell')}`
		},
		air: {
			title: 'Air model and meter differ',
			more: ' Nothing in the log says which of both is right: a person does.',
			take: (n) => `Take it, ${plural(n, 'cell')}`
		}
	};
</script>

<svelte:head><title>R{rev.number} – {data.job.title} – Tanto</title></svelte:head>

{#if editor.conflicts.length > 0}<Conflicts {editor} />{/if}
{#snippet saved()}
	<span
		class={['failed', 'conflict'].includes(editor.saving) ? 'text-stop' : ''}
		role="status"
		data-saving={editor.saving}>{SAVING[editor.saving]}{editor.problem ? `: ${editor.problem}` : ''}</span
	>
{/snippet}
{#snippet actions()}
	{#if editable}
		<button
			class="button"
			disabled={editor.empty}
			onclick={() => void leaveTo(`/jobs/${data.job.id}/revisions/${rev.id}/replay`)}>Replay log</button
		>
		<button
			class="button"
			onclick={() => void leaveTo(`/jobs/${data.job.id}/compare?a=${data.parent!.id}&b=${rev.id}`)}
			>Compare with R{data.parent?.number}</button
		>
		<button
			class="button button-main"
			disabled={editor.empty}
			onclick={() => void leaveTo(`/jobs/${data.job.id}/revisions/${rev.id}/release`)}>Review release</button
		>
	{:else}
		{#if data.parent}
			<a class="button" href="/jobs/{data.job.id}/revisions/{rev.id}/replay">Replay log</a>
			<a class="button" href="/jobs/{data.job.id}/compare?a={data.parent.id}&b={rev.id}"
				>Compare with R{data.parent.number}</a
			>
		{/if}
		{#if data.draft}<a class="button button-main" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
				>Open R{data.draft.number} draft</a
			>
		{:else}<form method="POST" action="?/draft" use:enhance>
				<button class="button button-main">Start a draft from it</button>
			</form>{/if}
	{/if}
{/snippet}
<PageHead
	title="R{rev.number}{editable ? ' draft' : ''}"
	says={[
		{ draft: null, released: 'released', baseline: 'as received' }[rev.state],
		data.parent && `from R${data.parent.number}`,
		editable && editor.changes.size + editor.edits.size > 0
			? `${plural(editor.changes.size + editor.edits.size, 'change')}`
			: null,
		held.length > 0 && editable && plural(held.length, 'hold')
	]}
	status={editable ? saved : undefined}
	{actions}
	more={editable
		? [{ title: 'Discard draft', run: () => (asking = true), danger: true }]
		: ['JSON', 'CDF', 'CSV'].map((name) => ({
				title: `Download ${name}`,
				href: `/api/v1/revisions/${rev.id}/calibration${name === 'JSON' ? '' : `?format=${name.toLowerCase()}`}`,
				download: true
			}))}
/>
<Alert box message={messageOf(form)} class="mb-4" />

{#if held.length}
	<section class="border-fix mb-4 border-l-4 pl-3" aria-label="Holds">
		<h2>Holds</h2>
		<ul>
			{#each held as h, i (i)}<li>
					<span class="font-semibold">{titleOf(items.find((x) => x.id === h.item) ?? { id: h.item })}</span>: {h.reason}.
				</li>{/each}
		</ul>
	</section>
{/if}
{#each editable ? (data.rev.proposal?.offers ?? []) : [] as offer (offer.item)}
	{@const kind = OFFERS[offer.kind ?? (offer.cells.length > 1 ? 'stop-gap' : 'level')]}
	<section class="border-line mb-4 border-y py-2" aria-label={kind.title}>
		<div class="flex flex-wrap items-baseline gap-x-3">
			<span class="font-semibold"
				>{titleOf(items.find((i) => i.id === offer.item) ?? { id: offer.item })}</span
			>
			<span class="min-w-0 flex-1">{preferences.say(offer.reason)}.{kind.more}</span>
			<button
				class="button"
				onclick={() => {
					picked = offer.item;
					editor.take(offer);
				}}>{kind.take(offer.cells.length)}</button
			>
		</div>
	</section>
{/each}
{#if editable && data.rev.proposal}<BesideTable proposal={data.rev.proposal} {items} />{/if}
{#if !editable && rev.notes}
	<section class="border-line mb-4 border-y py-2">
		<h2>What changed</h2>
		<p class="whitespace-pre-line">{rev.notes}</p>
	</section>
{/if}
{#each data.events as e (e.kind)}
	<p class="mb-3 border-l-4 pl-3 {e.kind === 'withdrawn' ? 'border-stop' : 'border-clear'}">
		{e.kind === 'withdrawn' ? `Withdrawn by ${e.author}: ${e.reason}` : `In the car, says ${e.author}`}
		<span class="text-muted text-small">{moment(e.at)} UTC</span>
	</p>
{/each}
{#if data.holdAnswers.length}
	<details class="border-fix mb-4 border-l-4 pl-3">
		<summary class="cursor-pointer"
			>Released over {plural(data.holdAnswers.length, 'hold')}, each with a written reason</summary
		>
		<ul class="mt-1">
			{#each data.holdAnswers as h (h.title)}
				<li>
					<span class="font-semibold">{h.title}</span>: {h.reason}
					<span class="text-muted text-small">{h.author}, {moment(h.at)} UTC</span>
				</li>
			{/each}
		</ul>
	</details>
{/if}

{#snippet itemButton(i: Item)}
	{@const n = editor.changedIn(i.id)}
	<li>
		<button
			class="flex w-full cursor-pointer items-baseline justify-between gap-2 px-2 py-1 text-left {i.id ===
			current?.id
				? 'bg-shade font-semibold'
				: 'hover:bg-shade/50'}"
			aria-current={i.id === current?.id ? 'true' : undefined}
			onclick={() => (picked = i.id)}
			><span class="min-w-0 truncate">{titleOf(i)}</span>
			{#if n}<span class="numbers">{n}</span>
			{:else if editable && proposedItems.has(i.id)}<span class="text-muted" title="proposed">◌</span
				>{/if}</button
		>
	</li>
{/snippet}
<div class="grid grid-cols-[204px_minmax(0,1fr)] gap-3.5">
	<div>
		<nav aria-label="Items of the calibration" class="mb-4">
			<div class="mb-1 flex items-baseline justify-between">
				<h2>Tables</h2>
				<span class="text-muted text-note">{touched.length} of {items.length} changed</span>
			</div>
			<ul>
				{#each near as i (i.id)}{@render itemButton(i)}{/each}
			</ul>
			{#if far.length}
				<details open={near.length === 0}>
					<summary class="text-muted cursor-pointer px-2 py-1">{far.length} more, unchanged</summary>
					{#each groups as [group, list] (group)}
						<h3 class="text-muted text-note px-2 pt-1.5">{group}</h3>
						<ul>
							{#each list as i (i.id)}{@render itemButton(i)}{/each}
						</ul>
					{/each}
				</details>
			{/if}
			{#if editable}<a class="block px-2 pt-1 underline" href="/jobs/{data.job.id}/tables">Add a table</a
				>{/if}
		</nav>
		{#if editable && editor.proposals.length}
			<Proposals
				{editor}
				onpick={(item) => (picked = item)}
				log={data.lastLog}
				replayUrl="/jobs/{data.job.id}/revisions/{rev.id}/replay"
				answers={data.rev.proposal?.answers ?? []}
				vehicle={data.job.vehicle}
			/>
		{:else if editable && data.rev.proposal && held.length === 0 && !(data.rev.proposal.offers ?? []).length}
			<p class="text-muted mb-4">The log asks for no change: nothing is off by more than its own scatter.</p>
		{/if}
	</div>
	{#if current}<ItemPane
			item={current}
			{parentItem}
			{parent}
			parentNumber={data.parent?.number ?? null}
			{editor}
			{editable}
			lastLog={data.lastLog}
			baroKpa={data.job.vehicle.baselines?.ambientPressureKpa ?? STANDARD_PRESSURE_KPA}
		/>{/if}
</div>

<dl class="text-muted mt-6 grid grid-cols-[120px_1fr] gap-y-0.5 text-small">
	<dt>Content</dt>
	<dd class="numbers break-all">sha-256 {rev.contentHash}</dd>
	<dt>{rev.releasedAt ? 'Released' : 'Made'}</dt>
	<dd>{moment(rev.releasedAt ?? rev.createdAt)} UTC</dd>
	{#if rev.state === 'released' && !data.events.some((e) => e.kind === 'withdrawn')}
		<dt>Withdraw</dt>
		<dd>
			<form method="POST" action="?/withdraw" use:enhance class="flex max-w-xl items-center gap-2">
				<input
					name="reason"
					placeholder="why nobody should drive on it"
					aria-label="Why it is withdrawn"
					required
				/>
				<button class="button">Withdraw R{rev.number}</button>
			</form>
		</dd>
	{/if}
</dl>
{#if rev.state !== 'baseline'}<ClosedFiles
		attachments={data.attachments}
		givenTables={data.givenTables}
		proofs={data.proofs}
		{rev}
		controller={data.job.vehicle.controller}
		jobId={data.job.id}
		withdrawn={data.events.some((e) => e.kind === 'withdrawn')}
	/>{/if}

<Dialog.Root bind:open={asking}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="bg-sheet border-strong-line fixed top-32 left-1/2 z-50 w-[420px] max-w-[92vw] -translate-x-1/2 border p-5 shadow-lg"
		>
			<Dialog.Title class="mb-2 font-semibold">Discard draft R{rev.number}</Dialog.Title>
			<Dialog.Description class="mb-4"
				>Its {editor.changes.size + editor.edits.size} changes and its proposal are gone for good. The logs stay.</Dialog.Description
			>
			<form method="POST" action="?/discard" use:enhance class="flex justify-end gap-2">
				<button type="button" class="button" onclick={() => (asking = false)}>Keep it</button>
				<button class="button button-main">Discard the draft</button>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
