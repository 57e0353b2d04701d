<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** Finding the cause of a difference: what moved with the part is the part, the cheapest first. */
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import { fixed, signed } from '$core/format';
	import { SWAP_TITLES, type SwapKind } from '$core/swap-kind';
	import { workOf } from '$core/swaps/plan';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { moment } from '$lib/ui/time';
	import { untrack } from 'svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const ANSWERS: Record<string, [word: string, state: string]> = {
		moved: ['It moved with the part', 'clear'],
		stayed: ['It stayed', 'watch'],
		gone: ['It is gone', 'fix'],
		'two-parts': ['Two parts do it', 'clear'],
		measured: ['Measured', 'clear'],
		undecided: ['Undecided', 'not-checked'],
		'not-comparable': ['Not comparable', 'not-checked']
	};
	const titleOf = (id: number | null) => data.logs.find((l) => l.id === id)?.title ?? 'a log that is gone';
	let subject = $state(untrack(() => data.wanted ?? data.subjects[0]?.key ?? ''));
	let creating = $state(untrack(() => data.tests.length === 0 || data.wanted !== null));
	const chosen = $derived(data.subjects.find((s) => s.key === subject));
	const kinds = $derived<SwapKind[]>(chosen?.swaps ?? data.possible);
	let picked = $state<SwapKind | null>(null);
	const kind = $derived(picked && kinds.includes(picked) ? picked : kinds[0]!);
	const difference = (d: { pct: number; se: number } | null) =>
		d ? `${signed(d.pct)} ± ${fixed(d.se, 1)} %` : '–';
	/** Logs that may stand for a part of a test: those after the one before it. */
	const after = (before: number) => data.logs.filter((l) => l.id > before);
	const problem = $derived(form && 'message' in form ? String(form.message) : '');
</script>

<svelte:head><title>Root cause – Tanto</title></svelte:head>

<PageHead
	title="Root cause"
	says={['one thing is swapped, the same is driven again', 'what moves with the part is the part']}
/>
<Alert box message={problem} class="mb-4" />

{#each data.subjects as s (s.key)}
	<section class="border-line mb-4 border-b pb-3" aria-label={preferences.say(s.title)}>
		<p>
			<Mark state={s.severity} bare size={13} />
			<span class="font-semibold">{preferences.say(s.title)}</span>
		</p>
		{#if s.standing}
			{#if s.standing.cause}<p class="mt-1" data-testid="cause">
					<span class="font-semibold">The cause is found.</span>
					{s.standing.cause}
				</p>{/if}
			{#if s.standing.ruledOut.length}<p class="mt-1">
					Ruled out: {s.standing.ruledOut.join(', ')}.
				</p>{/if}
			<h3 class="mt-1 text-small font-semibold">
				{s.standing.cause ? 'To do' : 'Next, the cheapest first'}
			</h3>
			<ol class="list-decimal pl-5">
				{#each s.standing.next as n (n)}<li>{n}</li>{/each}
			</ol>
		{:else}<p class="text-muted">Nothing was swapped yet.</p>{/if}
	</section>
{:else}
	<p class="text-muted mb-4">
		Nothing differs from bank to bank or from cylinder to cylinder in the newest log. A test can be begun all
		the same.
	</p>
{/each}

{#if data.tests.length}
	<h2 class="mb-1">Tests so far</h2>
	{#each data.tests as t (t.id)}
		{@const [word, state] = t.answer ? ANSWERS[t.answer.answer]! : ['Waits for its log', 'not-checked']}
		<article class="border-line mb-3 border-b pb-3" id="swap-{t.id}">
			<p>
				<Mark {state} bare size={13} />
				<span class="font-semibold">{SWAP_TITLES[t.swap.kind]}</span>{t.swap.what ? `: ${t.swap.what}` : ''}
				<span class="text-muted text-small">{t.author}, {moment(t.at)}</span>
			</p>
			<p data-testid="answer">
				{#if t.answer}{t.answer.why}{:else}<span class="font-semibold">{word}.</span> {workOf(t.swap)}{/if}
			</p>
			{#if t.answer}
				<table class="mt-1 text-text">
					<tbody>
						<tr
							><td class="text-muted pr-4">before</td><td class="pr-4">{titleOf(t.before)}</td><td
								class="numbers text-right">{'before' in t.answer ? difference(t.answer.before) : ''}</td
							></tr
						>
						<tr
							><td class="text-muted pr-4">after</td><td class="pr-4">{titleOf(t.after)}</td><td
								class="numbers text-right"
								>{'before' in t.answer
									? difference(t.answer.after)
									: difference(t.answer.bank2AgainstBank1)}</td
							></tr
						>
						{#if t.back !== null}<tr
								><td class="text-muted pr-4">put back</td><td class="pr-4">{titleOf(t.back)}</td><td></td></tr
							>{/if}
					</tbody>
				</table>
				<p class="text-muted text-small">
					Bank 2 against bank 1 (the second cylinder against the first), with one standard error, a day’s
					repeatability in it; over {t.answer.cells}
					{t.answer.cells === 1 ? 'cell' : 'cells'} that were driven both times.
				</p>
			{/if}
			{#if t.after === null || t.back === null}
				<form method="POST" action="?/bind" use:enhance class="no-print mt-2 flex flex-wrap items-end gap-2">
					<input type="hidden" name="test" value={t.id} />
					<input type="hidden" name="which" value={t.after === null ? 'after' : 'back'} />
					{#if after(t.after ?? t.before).length}
						<Field title={t.after === null ? 'The log after it' : 'A log with everything put back'}>
							<select name="log"
								>{#each after(t.after ?? t.before) as l (l.id)}<option value={l.id}
										>{l.title}, {l.name}</option
									>{/each}</select
							></Field
						>
						<button class="button">{t.after === null ? 'Compare' : 'Compare with it'}</button>
					{:else}<span class="text-muted text-small"
							>{t.after === null
								? 'No log has come since.'
								: 'Put back as it was and logged again, it would say more.'}</span
						>{/if}
					{#if !t.answer}<button class="button" formaction="?/drop" formnovalidate>Take it back</button>{/if}
				</form>
			{/if}
		</article>
	{/each}
{/if}

{#if data.logs.length}
	<details class="mb-6" bind:open={creating}>
		<summary class="cursor-pointer py-1"><h2 class="inline">A new test</h2></summary>
		<form method="POST" action="?/begin" use:enhance class="max-w-2xl">
			<div class="grid grid-cols-2 gap-x-4 gap-y-3">
				<Field title="For">
					<select name="finding" bind:value={subject}>
						{#each data.subjects as s (s.key)}<option value={s.key}>{preferences.say(s.title)}</option>{/each}
						<option value="">no finding</option>
					</select></Field
				>
				<Field title="The log that shows it">
					<select name="before">
						{#each data.logs as l (l.id)}<option value={l.id}>{l.title}, {l.name}</option>{/each}
					</select></Field
				>
				<Field title="What is swapped" class="col-span-2">
					<select name="kind" value={kind} onchange={(e) => (picked = e.currentTarget.value as SwapKind)}>
						{#each kinds as k (k)}<option value={k}>{SWAP_TITLES[k]}</option>{/each}
					</select></Field
				>
				{#if kind === 'lambda-side-to-side'}
					<Field title="Cables" class="col-span-2">
						<select name="labels">
							<option value="stay-with-bank">each sensor is plugged in where it sits now</option>
							<option value="follow-sensor"
								>each sensor kept its own cable (closed loop off, or idle only)</option
							>
						</select></Field
					>
				{:else if kind === 'lambda-moved'}
					<Field title="It sat in">
						<select name="from"
							><option value="bank1">bank 1</option><option value="bank2">bank 2</option></select
						></Field
					>
				{:else if kind === 'between-cylinders'}
					<Field title="Cylinder"
						><input
							type="number"
							name="first"
							min="1"
							max={data.cylinders}
							value={chosen?.cylinder ?? 1}
							required
						/></Field
					>
					<Field title="with cylinder"
						><input
							type="number"
							name="second"
							min="1"
							max={data.cylinders}
							value={chosen?.cylinder === data.cylinders ? 1 : (chosen?.cylinder ?? 1) + 1}
							required
						/></Field
					>
				{/if}
				<Field title={kind === 'repair' ? 'What was mended' : 'In words, where it helps'} class="col-span-2"
					><input name="what" maxlength="300" required={kind === 'repair'} autocomplete="off" /></Field
				>
			</div>
			<label class="mt-2 flex items-center gap-2"
				><input type="checkbox" name="send" checked />
				<span
					>Ask the customer for it, with the drive plan: the log that answers it is bound to this test</span
				></label
			>
			<button class="button button-main mt-3">Begin the test</button>
			{#if form && 'begun' in form}<span role="status" class="ml-3"
					>Begun.{form.notMailed ? ` Not mailed: ${form.notMailed}.` : ''}</span
				>{/if}
		</form>
	</details>
{:else}
	<p class="text-muted">A test begins with a log that shows the difference. There is none yet.</p>
{/if}
