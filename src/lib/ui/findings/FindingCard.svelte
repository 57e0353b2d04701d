<script lang="ts">
	import type { Report } from '$core/screening/report';
	import { enhance } from '$app/forms';
	import { CHANNELS } from '$core/channels/canonical';
	import { list, uncapital } from '$core/format';
	import { findingKey } from '$core/screening/types';
	import { parseUnit } from '$core/units/units';
	import type { Appearance, FindingAnswer } from '$lib/server/logs/finding-answers';
	import { clock, day } from '../time';
	import { usePreferences } from '../preferences.svelte';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import Mark from './Mark.svelte';

	let {
		finding,
		open = false,
		onopen,
		id,
		answer = null,
		askedAgain = null,
		history = [],
		behind = null,
		causeUrl = null,
		swaps = false,
		rule
	}: {
		finding: Report['findings'][number];
		open?: boolean;
		onopen: () => void;
		id: string;
		/** The newest answer of a tuner to this finding, in whichever log of the job. */
		answer?: FindingAnswer | null;
		/** An older answer that doesn't cover this: it was given in a milder case, or on another revision. */
		askedAgain?: FindingAnswer | null;
		/** Where it stood before, oldest first. */
		history?: Appearance[];
		/** Title of the finding that explains this one. */
		behind?: string | null;
		/** Page of the job on which its cause is looked for. */
		causeUrl?: string | null;
		/** Something can be swapped to find its cause. */
		swaps?: boolean;
		/** Title of the check that found it. */
		rule: string;
	} = $props();
	const preferences = usePreferences();
	const words = $derived(preferences.finding(finding));
	const valued = (v: number | undefined) =>
		v === undefined ? '–' : finding.unit ? preferences.text(v, finding.unit) : String(v);
	const WORD = { accepted: 'Accepted', 'false-alarm': 'False alarm', resolved: 'Resolved' } as const;
	const EDGE = { stop: 'border-l-stop', fix: 'border-l-fix', watch: 'border-l-watch', note: 'border-l-line' };
	/** A count of channels or manoeuvres is in the title; beside it stands what was measured. */
	const measured = $derived((parseUnit(finding.unit ?? '')?.quantity ?? 'count') !== 'count');
	let answering = $state(false);
</script>

<article
	class="border-line border-b {open ? `bg-sheet -mx-3 border-l-3 px-3 pb-3 ${EDGE[finding.severity]}` : ''}"
>
	<button
		{id}
		class="grid w-full cursor-pointer grid-cols-[16px_minmax(0,1fr)_auto_auto_16px] items-baseline gap-x-3 py-1.5 text-left"
		aria-expanded={open}
		onclick={onopen}
	>
		<Mark state={finding.severity} bare />
		<span class="min-w-0"
			><span class="font-semibold">{words.title}</span>
			{#if behind}<span class="text-muted text-small">· explained by: {behind}</span>{/if}
			{#if answer}<span class="text-muted text-small">· {WORD[answer.kind].toLowerCase()}</span>{/if}
			{#if history.length}<span class="text-muted text-small">· seen before</span>{/if}</span
		>
		<span class="numbers">{measured ? valued(finding.value) : ''}</span>
		<span class="numbers text-muted">{finding.ranges?.[0] ? clock(finding.ranges[0].from) : ''}</span>
		<ChevronDown size={16} class="self-center {open ? 'rotate-180' : ''}" aria-hidden="true" />
	</button>
	{#if open}
		<div class="pl-7">
			<p>{words.summary}</p>
			{#if finding.limit !== undefined}
				<p class="text-muted text-small">
					Rule “{rule}”: value
					<span class="numbers">{valued(finding.value)}</span>, limit
					<span class="numbers">{valued(finding.limit)}</span>{#if finding.channels.length}, seen in {list(
							finding.channels.map((c) => uncapital(CHANNELS.get(c)?.title ?? c))
						)}{/if}.
				</p>
			{/if}
			{#if history.length}
				<p class="mt-1 text-small">
					It stood in earlier logs:
					{#each history as h, i (h.logId)}{i ? ', ' : ''}<span class="break-all">{h.name}</span>
						({h.severity}{h.value === null ? '' : `, ${preferences.text(h.value, h.unit)}`}){/each}.
				</p>
			{/if}
			{#if answer}
				<p class="border-line mt-2 border-l-4 pl-3">
					<span class="font-semibold">{WORD[answer.kind]}</span> by {answer.author}, {day(answer.at)}: {answer.reason}
				</p>
			{/if}
			{#if askedAgain}
				<p class="border-line text-muted mt-2 border-l-4 pl-3 text-small">
					Asked again: {WORD[askedAgain.kind].toLowerCase()} by {askedAgain.author}, {day(askedAgain.at)},
					when it was milder or on another revision: {askedAgain.reason}
				</p>
			{/if}
			<div class="mt-2 grid grid-cols-2 gap-x-6 gap-y-2 text-small">
				<div>
					<h3 class="text-small font-semibold">Usual causes, in the order to look</h3>
					<ol class="list-decimal pl-5">
						{#each finding.causes as c, i (i)}<li>{c}</li>{/each}
					</ol>
				</div>
				<div>
					<h3 class="text-small font-semibold">Next</h3>
					<ul class="list-disc pl-5">
						{#each finding.next as n, i (i)}<li>{n}</li>{/each}
					</ul>
				</div>
			</div>
			<div class="mt-2 flex flex-wrap gap-2">
				<button
					type="button"
					class="button"
					onclick={() => (answering = !answering)}
					aria-expanded={answering}>{answer ? 'Answer anew' : 'Answer'}</button
				>
				{#if causeUrl && swaps}<a
						class="button"
						href="{causeUrl}?finding={encodeURIComponent(findingKey(finding))}">Root cause</a
					>{/if}
				<a class="button" href="/findings?what={finding.code}">Where else?</a>
				{#if answer}
					<form method="POST" action="?/takeBack" use:enhance>
						<input type="hidden" name="key" value={findingKey(finding)} />
						<button class="button">Remove the answer</button>
					</form>
				{/if}
			</div>
			{#if answering}
				<form
					method="POST"
					action="?/answer"
					class="mt-2 flex flex-wrap items-end gap-2"
					use:enhance={() =>
						async ({ update, result }) => {
							await update({ reset: result.type === 'success' });
							if (result.type === 'success') answering = false;
						}}
				>
					<input type="hidden" name="key" value={findingKey(finding)} />
					<label
						><span class="block text-small">It is</span><select name="kind" class="w-40!">
							{#each Object.entries(WORD) as [kind, word] (kind)}<option value={kind}
									>{word.toLowerCase()}</option
								>{/each}
						</select></label
					>
					<label class="min-w-[200px] flex-1"
						><span class="block text-small">Why (the revision or repair, where it is resolved)</span><input
							name="reason"
							required
							minlength="3"
							maxlength="2000"
							autocomplete="off"
						/></label
					>
					<button class="button button-main">Save</button>
				</form>
			{/if}
		</div>
	{/if}
</article>
