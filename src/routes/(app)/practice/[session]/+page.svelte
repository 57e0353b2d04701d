<script lang="ts">
	/** One practice: ask for a log, say what is in it, see what was there; tune with everything of the real thing; end it, and hear how the engine fared. */
	import { enhance } from '$app/forms';
	import { plural, fixed } from '$core/format';
	import Alert from '$lib/ui/Alert.svelte';
	import ConfirmButton from '$lib/ui/ConfirmButton.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import PullChart from '$lib/ui/lanes/PullChart.svelte';
	import Traces from '$lib/ui/lanes/Traces.svelte';
	import GradeTable from '$lib/ui/pictures/GradeTable.svelte';
	import { refreshEvery } from '$lib/ui/refresh';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import type { SubmitFunction } from '@sveltejs/kit';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const s = $derived(data.session);
	const judged = $derived(s.rounds.filter((r) => r.grade));
	const last = $derived(judged.at(-1));
	const waiting = $derived(data.waiting);
	const reading = $derived(waiting !== null && waiting.channels === null);
	$effect(() => (reading ? refreshEvery(1500) : undefined));
	let busy = $state('');
	let subjects = $state<string[]>([]);
	/** A pull that was picked by hand, and in which log. */
	let picked = $state<{ log: number; pull: number } | null>(null);
	const widest = $derived(
		(waiting?.pulls ?? []).reduce(
			(best, p, i, all) =>
				p.summary.toRpm - p.summary.fromRpm > all[best]!.summary.toRpm - all[best]!.summary.fromRpm
					? i
					: best,
			0
		)
	);
	const pull = $derived(picked && picked.log === waiting?.id ? picked.pull : widest);
	const VERDICTS = [
		['stop', 'Stop: not to be driven hard'],
		['fix', 'Fix before it goes on'],
		['watch', 'Watch'],
		['clear', 'Clear']
	] as const;
	const numbers = (whom: 'bank' | 'cylinder') =>
		Array.from({ length: whom === 'bank' ? data.whoms.banks : data.whoms.cylinders }, (_, i) => i + 1);
	/** What of the log is drawn, without a word of what was found in it. */
	const bare = $derived(
		waiting?.channels && {
			schema: 'tanto.screen/1' as const,
			log: waiting.channels,
			verdict: 'clear' as const,
			findings: [],
			checks: [],
			segments: []
		}
	);
	/** While a step is under way nothing else is begun; what was refused stays as it was typed. */
	const during =
		(what: string, done?: () => void): SubmitFunction =>
		() => {
			busy = what;
			return async ({ update, result }) => {
				await update({ reset: false });
				// The next log begins with an empty sheet.
				if (result.type === 'success') done?.();
				busy = '';
			};
		};
</script>

<svelte:head><title>Practice {data.level.id}: {data.level.title} – Tanto</title></svelte:head>

<main class="page">
	<PageHead
		title="Practice {data.level.id}: {data.level.title}"
		says={[data.vehicle, `seed ${s.seed}`, plural(s.rounds.length, 'log'), s.endedAt && 'ended']}
	>
		{#snippet actions()}
			<a class="button" href="/practice">All levels</a>
			{#if !s.endedAt && s.rounds.length && !waiting}
				<form method="POST" action="?/end" use:enhance={during('end')} id="end">
					<ConfirmButton
						text={busy === 'end' ? 'Looking into the engine …' : 'End practice'}
						class="button"
						question="End this practice?"
						consequence="The engine is looked into, and what a practised hand did with the same car is shown. It can’t be gone on with."
						action="End it"
					/>
				</form>
			{/if}
			{#if last && !waiting && !s.endedAt}<a
					class="button button-main"
					href={data.draft
						? `/jobs/${s.jobId}/revisions/${data.draft.id}`
						: `/jobs/${s.jobId}/logs/${last.logId}`}
					>{data.draft ? `Open R${data.draft.number}` : 'Open the log, and tune'}</a
				>{/if}
		{/snippet}
	</PageHead>
	<Alert box message={messageOf(form)} class="mb-4" />

	{#if s.end}
		{@const { standing, hand, harm } = s.end}
		{@const hurt = [...s.rounds.flatMap((r) => r.harm), ...harm]}
		<section aria-label="How it ended" class="end {standing.left.length === 0 ? 'won' : ''}">
			<p class="text-title font-semibold">
				<Mark state={standing.left.length === 0 ? 'pass' : 'fix'} bare size={18} />
				{standing.left.length === 0
					? 'Won: the engine is as it should be.'
					: `Not there yet: ${standing.left.join('; ')}.`}
			</p>
			<p>
				Truly, under load: leanest place <span class="numbers">{fixed(standing.leanestPct, 1)} %</span> lean,
				off its target by <span class="numbers">{fixed(standing.meanPct, 1)} %</span> in the mean, knock up to
				<span class="numbers">{fixed(standing.knockDeg, 1)}°</span>.
			</p>
			{#if hurt.length}
				<p class="text-stop mt-1">
					<b>The engine was hurt</b> on the way, worst at {hurt[0]!.place}: {fixed(hurt[0]!.was.pct, 1)} to {fixed(
						hurt[0]!.now.pct,
						1
					)} % lean, {fixed(hurt[0]!.was.knock, 1)} to {fixed(hurt[0]!.now.knock, 1)}° of knock.
				</p>
			{:else}<p class="mt-1">No place of it was hurt on the way.</p>{/if}
			<table class="mt-3 text-text">
				<thead
					><tr class="table-head"
						><th></th><th class="w-40 text-right font-normal">you</th><th class="w-40 text-right font-normal"
							>a practised hand</th
						></tr
					></thead
				>
				<tbody>
					{#each [['Logs asked for', s.rounds.length, hand.logs], ['Revisions', data.current, hand.revisions], ['Asked of the customer', s.cures.length, hand.cures.length], ['Seen in the first log', judged[0]?.grade?.hits ?? 0, hand.seen]] as [word, own, other] (word)}
						<tr class="border-line border-b"
							><td class="py-1 pr-6">{word}</td><td class="numbers text-right">{own}</td><td
								class="numbers text-right">{other}</td
							></tr
						>
					{/each}
				</tbody>
			</table>
			<p class="mt-3">
				<a class="underline" href="/jobs/{s.jobId}">Look through the job again</a>{#if !data.level.last}, or
					go on with <a class="underline" href="/practice">level {data.level.id + 1}</a>{/if}.
			</p>
		</section>
	{/if}

	{#if !s.endedAt}
		{#if waiting}
			<section aria-label="The log" class="split">
				<div class="min-w-0">
					{#if reading}
						<p role="status" aria-busy="true" class="text-muted">The log came in and is being read …</p>
					{:else if waiting.state === 'failed'}
						<p role="status">The log can’t be read. End this practice and begin another.</p>
					{:else if bare && waiting.profile}
						{#if waiting.pulls[pull]}
							<div class="mb-1 flex items-center gap-3">
								<h2>Pull {pull + 1}</h2>
								{#each waiting.pulls as p, i (p.fromS)}<button
										class="choice border-line border"
										aria-pressed={pull === i}
										onclick={() => (picked = { log: waiting.id, pull: i })}
										>{p.gear ? `gear ${p.gear}, ` : ''}<span class="numbers"
											>{p.summary.fromRpm}–{p.summary.toRpm}</span
										></button
									>{/each}
							</div>
							<PullChart pull={waiting.pulls[pull]!} stoich={data.stoich} height={52} />
						{/if}
						<div class="mt-4">
							<Traces logId={waiting.id} report={bare} stoich={data.stoich} profile={waiting.profile} />
						</div>
					{/if}
				</div>
				<form
					method="POST"
					action="?/judge"
					class="card"
					use:enhance={during('judge', () => (subjects = []))}
					aria-label="Your own word"
				>
					<h2>What do you see?</h2>
					<p class="text-muted mb-2 text-small">
						Say it before Tanto does. Tick what is there; nothing, if nothing is.
					</p>
					<fieldset class="mb-3">
						<legend class="sr-only">What is in the log</legend>
						{#each data.subjects as subject (subject.id)}
							<label class="flex items-center gap-2 py-0.5"
								><input
									type="checkbox"
									name="subject"
									value={subject.id}
									class="w-auto!"
									bind:group={subjects}
								/>
								<span class="flex-1">{subject.title}</span>
								{#if subject.whom && subjects.includes(subject.id)}
									<select name="whom.{subject.id}" class="w-28!" aria-label="{subject.title}: which">
										<option value="">which?</option>
										{#each numbers(subject.whom) as n (n)}<option value={n}>{subject.whom} {n}</option>{/each}
									</select>
								{/if}
							</label>
						{/each}
					</fieldset>
					<fieldset class="mb-3">
						<legend>Your verdict</legend>
						{#each VERDICTS as [value, words] (value)}
							<label class="flex items-center gap-2 py-0.5"
								><input type="radio" name="verdict" {value} class="w-auto!" required />
								<span aria-hidden="true"><Mark state={value} bare size={12} /></span>
								{words}</label
							>
						{/each}
					</fieldset>
					<button class="button button-main" disabled={reading || busy !== ''}>That is what I see</button>
				</form>
			</section>
		{:else}
			<div class="split">
				<div class="min-w-0">
					{#if last?.grade}
						<section aria-label="What was there">
							<h2 class="mb-1">Your word on log {judged.length}</h2>
							<GradeTable grade={last.grade} />
							{#if last.harm.length}
								<p class="text-stop mt-2">
									<b>What was done before this log hurt the engine</b>, worst at {last.harm[0]!.place}.
								</p>
							{/if}
						</section>
					{:else}
						<p class="text-lead max-w-prose">
							“{data.level.words}”
						</p>
						<p class="text-muted mt-2 max-w-prose">
							This level teaches: {data.level.teaches.charAt(0).toLowerCase() + data.level.teaches.slice(1)}.
							Ask for a log; it takes seconds. You say what is in it, then Tanto does, then you see what is
							true. After that tune as you would: everything of a real job works here, and the stand-in drives
							with whatever you release.
						</p>
					{/if}
				</div>
				<aside class="grid gap-3 self-start">
					<form method="POST" action="?/log" use:enhance={during('log')} class="card">
						<h2 class="mb-1">{s.rounds.length ? 'The next log' : 'The first log'}</h2>
						<p class="text-muted mb-2 text-small">
							{s.rounds.length
								? `Driven with ${data.current ? `R${data.current}` : 'R0'}, as it stands now${s.cures.length ? `, after ${plural(s.cures.length, 'job')} on the car` : ''}.`
								: 'Driven with the file as it came.'}
						</p>
						<button class="button {last ? '' : 'button-main'}" disabled={busy !== ''}
							>{busy === 'log' ? 'The stand-in drives …' : 'Ask for a log'}</button
						>
					</form>
					{#if last}
						<form method="POST" action="?/cure" use:enhance={during('cure')} class="card">
							<h2 class="mb-1">Or no file at all</h2>
							<label class="block"
								><span class="text-muted text-small">Ask the customer to</span>
								<select name="cure" required>
									<option value="">choose …</option>
									{#each data.cures.filter((c) => !s.cures.includes(c.id)) as c (c.id)}<option value={c.id}
											>{c.title}</option
										>{/each}
								</select></label
							>
							<button class="button mt-2" disabled={busy !== ''}>Ask for it</button>
							{#if s.cures.length}
								<ul class="mt-2 list-disc pl-5 text-small">
									{#each s.cures as id (id)}<li>Done: {data.cures.find((c) => c.id === id)?.title}</li>{/each}
								</ul>
							{/if}
						</form>
					{/if}
				</aside>
			</div>
		{/if}
	{/if}
	{#if judged.length > (s.endedAt ? 0 : 1)}
		<section aria-label="Logs so far" class="mt-6">
			<h2 class="mb-1">{s.endedAt ? 'Log by log' : 'Before that'}</h2>
			{#each s.endedAt ? judged : judged.slice(0, -1) as r, i (r.logId)}
				<details class="border-line border-b py-1.5">
					<summary
						>Log {i + 1}, R{r.revision}: {r.grade!.hits} hit, {r.grade!.missed} missed, {r.grade!.wrong} wrong{r
							.harm.length
							? '; the engine was hurt before it'
							: ''}</summary
					>
					<div class="mt-2"><GradeTable grade={r.grade!} /></div>
				</details>
			{/each}
		</section>
	{/if}
</main>

<style>
	.page {
		max-width: 1280px;
		margin: 0 auto;
		padding: 0 var(--gutter) 32px;
	}
	.split {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 340px;
		gap: 24px;
		align-items: start;
	}
	.card {
		padding: 12px 16px;
		border: 1px solid var(--line);
		background: var(--sheet);
	}
	.end {
		margin-bottom: 16px;
		padding: 12px 16px;
		border-left: 4px solid var(--fix);
		background: var(--sheet);
	}
	.won {
		border-color: var(--clear);
	}
</style>
