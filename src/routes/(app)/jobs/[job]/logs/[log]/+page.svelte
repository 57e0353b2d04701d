<script lang="ts">
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import Outcome from '$lib/ui/log/Outcome.svelte';
	import AskAgain from '$lib/ui/log/AskAgain.svelte';
	import StrategyFields from '$lib/ui/log/StrategyFields.svelte';
	import CustomerWords from '$lib/ui/log/CustomerWords.svelte';
	import ExcludeForm from '$lib/ui/log/ExcludeForm.svelte';
	import TakenOut from '$lib/ui/log/TakenOut.svelte';
	import Undecided from '$lib/ui/log/Undecided.svelte';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Sections from '$lib/ui/findings/Sections.svelte';
	import { changesInWords } from '$core/screening/brief';
	import { findingKey } from '$core/screening/types';
	import FindingCard from '$lib/ui/findings/FindingCard.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { counts, sentence } from '$lib/ui/findings/verdict';
	import Traces from '$lib/ui/lanes/Traces.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import Correction from '$lib/ui/log/Correction.svelte';
	import EarlierRuns from '$lib/ui/log/EarlierRuns.svelte';
	import PullBeside from '$lib/ui/log/PullBeside.svelte';
	import { Pulls } from '$lib/ui/log/pulls.svelte';
	import PullsTable from '$lib/ui/log/PullsTable.svelte';
	import Unreadable from '$lib/ui/log/Unreadable.svelte';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { plural } from '$core/format';
	import { clock } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	/** Title of the finding that explains another one. */
	const behindTitle = (id: string) => {
		const found = report?.findings.find((c) => findingKey(c) === id);
		return found ? preferences.finding(found).title : null;
	};
	const report = $derived(data.screening?.report ?? null);
	const pulls = new Pulls(() => ({ id: data.log.id, pulls: data.screening?.pulls ?? [] }));
	let opened = $state<number | null>(null);
	const finding = $derived(report?.findings[opened ?? 0] ?? null);
	const busy = $derived(data.log.state === 'received' || data.log.state === 'reading');
	let declining = $state(false);
	const marks = $derived(
		data.log.momentS === null ? [] : [{ at: data.log.momentS, title: 'marked by the customer' }]
	);
	let proposing = $state(false);
	let strategyOpen = $state(false);
	let excluding = $state(false);
	let proposeForm = $state<HTMLFormElement>();

	function openFinding(index: number) {
		opened = index;
		document.getElementById(`finding-${index}`)?.scrollIntoView({ block: 'center' });
		document.getElementById(`finding-${index}`)?.focus();
	}
	function toFinding(by: number) {
		if (!report?.findings.length) return;
		opened = Math.max(0, Math.min(report.findings.length - 1, (opened ?? (by > 0 ? -1 : 0)) + by));
		document.getElementById(`finding-${opened}`)?.focus();
	}
	useCommands([
		{ id: 'finding-next', title: 'Next finding', key: 'f', run: () => toFinding(1) },
		{ id: 'finding-previous', title: 'Previous finding', key: 'F', run: () => toFinding(-1) },
		{ id: 'decline', title: 'Reject log', key: 'w', also: 'again decline', run: () => (declining = true) },
		{
			id: 'channels',
			title: 'Channels of this log',
			key: 'c',
			run: () => void goto(`/jobs/${data.job.id}/logs/${data.log.id}/channels`)
		},
		{
			id: 'propose',
			title: 'Propose next revision',
			key: 'r',
			run: () => {
				if (data.draft) void goto(`/jobs/${data.job.id}/revisions/${data.draft.id}`);
				else proposeForm?.requestSubmit();
			}
		}
	]);
</script>

<svelte:head><title>{data.log.name} – Tanto</title></svelte:head>

{#snippet stated()}
	<form method="POST" action="?/restate" use:enhance class="inline">
		<label
			>made with
			<select
				name="revision"
				class="small-select"
				value={String(data.log.revisionId)}
				onchange={(e) => e.currentTarget.form?.requestSubmit()}
			>
				{#each data.revisions as r (r.id)}<option value={String(r.id)}>R{r.number}</option>{/each}
			</select></label
		>
	</form>
{/snippet}
{#snippet actions()}
	<a class="button" href="/jobs/{data.job.id}/advice">Send advice</a>
	<button class="button" onclick={() => (declining = true)}>Reject log</button>
	{#if data.draft}
		<a class="button button-main" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
			>Open R{data.draft.number} draft</a
		>
	{:else if report}
		<button class="button button-main" disabled={proposing} onclick={() => proposeForm?.requestSubmit()}
			>{proposing ? 'Working it out …' : 'Propose next revision'}</button
		>
	{/if}
{/snippet}
<PageHead
	title={data.log.title}
	says={report
		? [
				clock(report.log.durationS),
				plural(pulls.all.length, 'pull'),
				plural(report.log.channels.length, 'channel') +
					(report.log.unmapped.length ? `, ${report.log.unmapped.length} not recognised` : ''),
				data.log.name
			]
		: [data.log.name]}
	status={busy || !report ? undefined : stated}
	{actions}
	more={report && !busy
		? [
				...(data.draft
					? [{ title: `Propose into R${data.draft.number}`, run: () => proposeForm?.requestSubmit() }]
					: []),
				{ title: 'How proposals are made', run: () => (strategyOpen = !strategyOpen) },
				...(data.log.takenOut ? [] : [{ title: 'Exclude log', run: () => (excluding = true) }])
			]
		: []}
/>

{#if declining}
	<AskAgain
		text={data.askAgain}
		plan={data.plan}
		email={data.job.email}
		problem={form && 'message' in form ? String(form.message) : ''}
		onclose={() => (declining = false)}
	/>
{/if}
{#if excluding}<ExcludeForm onclose={() => (excluding = false)} />{/if}
<form
	method="POST"
	action="?/propose"
	bind:this={proposeForm}
	class={strategyOpen ? 'border-line mb-4 border-b pb-3' : ''}
	use:enhance={() => {
		proposing = true;
		return async ({ update }) => {
			await update();
			proposing = false;
		};
	}}
>
	{#if strategyOpen}<StrategyFields strategy={data.strategy} injectors={data.injectorsChanged} />{/if}
</form>
<Alert message={messageOf(form)} class="mb-3" />
{#if !busy}
	<Undecided
		questions={data.log.questions}
		action="/jobs/{data.job.id}/logs/{data.log.id}/channels?/assign"
		customer={data.job.customer}
	/>
{/if}

{#if busy}
	<p class="mb-3" role="status">
		{data.log.state === 'received' ? 'Waiting to be read' : 'Being read and screened'} …
	</p>
	<progress class="w-80" max="100" value={data.log.progress} aria-label="Read"></progress>
{:else if data.log.state === 'failed'}
	<Unreadable log={data.log} ondecline={() => (declining = true)} />
{:else if report && data.screening}
	{@const n = counts(report)}
	<div class="grid gap-6 lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
		<section aria-label="Verdict">
			<TakenOut log={data.log} />
			<p class="verdict" data-testid="verdict">
				<Mark state={report.verdict} bare size={20} />
				<span>{sentence(report, (f) => preferences.finding(f).title)}</span>
			</p>
			<CustomerWords log={data.log} />
			<dl class="border-line mt-3 mb-3 flex border-y">
				{#each [['stop', 'to stop', n.stop], ['fix', 'to fix', n.fix], ['watch', 'to watch', n.watch], ['not-checked', 'not checked', n.notChecked]] as [state, word, count] (state)}
					<div class="border-line flex-1 border-r px-2 py-1.5 first:pl-0 last:border-r-0">
						<dd class="text-lead flex items-center gap-1.5 font-semibold">
							<Mark state={String(state)} bare size={13} />{count}
						</dd>
						<dt class="text-small">{word}</dt>
					</div>
				{/each}
			</dl>
			{#if data.outcome}<Outcome
					outcome={data.outcome}
					open={data.stillOpen}
					compareUrl="/jobs/{data.job.id}/compare-logs?a={data.outcome.from}&b={data.log.id}"
				/>{/if}
			{#if data.since}
				<p class="text-muted mb-3 text-small" data-testid="since">
					Since {data.since.name}:
					{preferences.say(changesInWords(data.since.changes)) || 'nothing else was found than before'}.
				</p>
			{/if}
			<section aria-label="Findings">
				<h2 class="mb-1">Findings</h2>
				{#if report.findings.length === 0}
					<p class="text-muted">Nothing found. Look below at what was not checked before you trust it.</p>
				{/if}
				{#each report.findings as f, i (i)}
					<FindingCard
						finding={f}
						id="finding-{i}"
						open={opened === i}
						onopen={() => (opened = opened === i ? null : i)}
						behind={f.because ? behindTitle(f.because) : null}
						answer={data.answers[findingKey(f)] ?? null}
						askedAgain={data.askedAgain[findingKey(f)] ?? null}
						history={data.history[findingKey(f)] ?? []}
						causeUrl="/jobs/{data.job.id}/cause"
						swaps={data.swappable.includes(f.code)}
						rule={data.rules[f.code] ?? f.code}
					/>
				{/each}
			</section>
			{#each report.log.notes as note (note)}<p class="text-muted mt-2 text-small">{note}</p>{/each}
		</section>
		<!-- Stays in view while the findings are read. -->
		<div class="sticky top-[152px] max-h-[calc(100vh-160px)] self-start overflow-y-auto">
			<section aria-label="Best pull" hidden={opened !== null}>
				{#if pulls.shown}
					<PullBeside {pulls} pull={pulls.shown} stoich={data.stoich} earlier={data.earlier} />
				{:else}
					<p class="text-muted pt-2">There is no full-throttle pull in this log to draw.</p>
				{/if}
			</section>
			<section aria-label={opened === null ? 'Whole log' : 'Evidence'} class={opened === null ? 'mt-3' : ''}>
				{#key opened}
					<Traces
						logId={data.log.id}
						{report}
						stoich={data.stoich}
						profile={data.screening.profile}
						initial={opened === null ? data.traces : null}
						finding={opened === null ? null : finding}
						shown={opened !== null && finding ? (data.shown[finding.code] ?? null) : null}
						ownLanes={data.ownLanes}
						earlier={data.earlier}
						{marks}
						onfinding={report.findings.length ? toFinding : undefined}
					/>
				{/key}
			</section>
		</div>
	</div>

	{#if pulls.all.length}
		<PullsTable pulls={pulls.all} shown={pulls.index} onpick={(i) => void pulls.pick(i)} />
	{/if}

	{#if data.screening.cells}<Correction cells={data.screening.cells} />{/if}

	<div class="mt-7">
		<Sections
			sections={data.sections}
			onfinding={openFinding}
			planUrl="/jobs/{data.job.id}/plan"
			logUrl="/jobs/{data.job.id}/logs/{data.log.id}"
		/>
	</div>
	{#if data.runs.length}<EarlierRuns runs={data.runs} />{/if}
{/if}

<style>
	.verdict {
		display: grid;
		grid-template-columns: auto minmax(0, 1fr);
		gap: 10px;
		align-items: start;
		font-size: 16px;
		font-weight: 650;
		line-height: 24px;
	}
	.verdict :global(svg) {
		margin-top: 2px;
	}
	.small-select {
		width: auto;
		min-height: 20px;
		padding: 0 2px;
		font-size: 13px;
	}
</style>
