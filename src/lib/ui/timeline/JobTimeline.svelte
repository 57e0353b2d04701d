<script lang="ts">
	/**
	 * The string of a job: its revisions and logs in the order of time with what was said and tested between them, the newest at the end, and a
	 * knot where something holds the job up. A click opens a bead; after Compare two are chosen that are set against each other.
	 */
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import GitCompare from '@lucide/svelte/icons/git-compare-arrows';
	import InfinityIcon from '@lucide/svelte/icons/infinity';
	import type { TimelineEvent } from '$lib/server/jobs/timeline-event';
	import { useCommands } from '../commands.svelte';
	import { usePreferences } from '../preferences.svelte';
	import Bead from '../shell/Bead.svelte';
	import { moment, shortDay } from '../time';
	import { comparisonOf, isComparable } from './comparison';

	interface Props {
		jobId: number;
		events: TimelineEvent[];
		/** The revision in the car. */
		inCar: number | null;
		/** The finding at stop that the job waits for. */
		openStop: string | null;
		folded: boolean;
	}
	let { jobId, events, inCar, openStop, folded }: Props = $props();
	const preferences = usePreferences();
	let comparing = $state(false);
	let first = $state.raw<TimelineEvent | null>(null);
	let list = $state<HTMLElement>();

	function href(b: TimelineEvent): string {
		if (b.kind === 'message') return `/jobs/${jobId}/messages#message-${b.id}`;
		if (b.kind === 'plan') return `/jobs/${jobId}/plan`;
		if (b.kind === 'hardware') return `/jobs/${jobId}/evidence`;
		if (b.kind === 'stage' || b.kind === 'fill') return `/jobs/${jobId}/fuel#${b.kind}s`;
		if (b.kind === 'swap') return `/jobs/${jobId}/cause#swap-${b.id}`;
		if (b.kind === 'maxima') return `/jobs/${jobId}/maxima#reading-${b.id}`;
		if (b.kind === 'plugs') return `/jobs/${jobId}/plugs?reading=${b.id}`;
		return `/jobs/${jobId}/${b.kind === 'log' ? 'logs' : 'revisions'}/${b.id}`;
	}
	const opens = (b: TimelineEvent) => b.kind === 'log' || b.kind === 'revision';
	const here = (b: TimelineEvent) => opens(b) && `${page.url.pathname}/`.startsWith(`${href(b)}/`);
	const pages = $derived(events.filter(opens));
	/** What a bead is, in full: its line is cut where there is no room. */
	const whole = (b: TimelineEvent) => `${b.label}, ${moment(b.at)} UTC${b.detail ? `: ${b.detail}` : ''}`;

	function choose(b: TimelineEvent) {
		if (first === null) {
			first = b;
			return;
		}
		const path = first === b ? null : comparisonOf(jobId, first, b);
		first = null;
		comparing = false;
		if (path) void goto(path);
	}
	function toggle() {
		comparing = !comparing;
		first = null;
	}
	const at = $derived(pages.findIndex(here));
	function step(by: number) {
		const next = pages[at < 0 ? (by > 0 ? 0 : pages.length - 1) : at + by];
		if (next) void goto(href(next));
	}
	// The newest is what one looks for: the string stands at its end.
	$effect(() => {
		void events.length;
		if (list) list.scrollTop = list.scrollHeight;
	});
	useCommands([
		{ id: 'event-next', title: 'Next log or revision of the job', key: ']', run: () => step(1) },
		{ id: 'event-previous', title: 'Previous log or revision of the job', key: '[', run: () => step(-1) },
		{ id: 'job', title: 'Overview of the job', key: 'h', run: () => void goto(`/jobs/${jobId}`) }
	]);
</script>

<div class="string-head {folded ? 'sr-only' : ''}">
	<h2>Timeline</h2>
	<button
		class="flex cursor-pointer items-center gap-1.5 px-2 py-1 {comparing ? 'bg-shade font-semibold' : ''}"
		aria-pressed={comparing}
		title="Choose two logs or revisions to compare"
		onclick={toggle}><GitCompare size={16} strokeWidth={1.75} aria-hidden="true" />Compare</button
	>
</div>
{#if comparing}
	<p class="text-muted text-note px-4 pb-1" role="status">
		{first ? `${first.label} and …` : 'Choose two: two revisions, two logs, or one of each.'}
	</p>
{/if}
<nav aria-label="String of the job" class="string" bind:this={list} class:slim={folded}>
	<ol>
		{#each events as b (`${b.kind}${b.id}`)}
			<li>
				{#if comparing}
					<button
						class="bead-line"
						disabled={!isComparable(b)}
						aria-pressed={first === b}
						aria-label="Compare {b.label}"
						onclick={() => choose(b)}>{@render line(b)}</button
					>
				{:else}
					<a
						class="bead-line"
						class:aside={!opens(b)}
						href={href(b)}
						title={whole(b)}
						aria-current={here(b) ? 'page' : undefined}>{@render line(b)}</a
					>
				{/if}
			</li>
		{/each}
		{#if openStop}
			<li>
				<a class="bead-line" href="/jobs/{jobId}/logs" title={preferences.say(openStop)}>
					<span class="bead text-stop"><InfinityIcon size={16} strokeWidth={2} aria-hidden="true" /></span>
					<span class="label {folded ? 'sr-only' : ''}">{preferences.say(openStop)}</span>
					{#if !folded}<span class="when">open</span>{/if}
				</a>
			</li>
		{/if}
	</ol>
</nav>

{#snippet line(b: TimelineEvent)}
	<span class="bead"><Bead kind={b.kind} state={b.state} /></span>
	<span class="label {folded ? 'sr-only' : ''}"
		>{b.label} <span class="detail">{b.kind === 'revision' ? b.detail : ''}</span></span
	>
	{#if !folded}<span class="when">{b.kind === 'revision' && b.id === inCar ? 'in car' : shortDay(b.at)}</span
		>{/if}
{/snippet}

<style>
	.string-head {
		display: flex;
		flex: none;
		align-items: center;
		justify-content: space-between;
		height: 36px;
		padding: 0 8px 0 16px;
	}
	.string {
		position: relative;
		flex: 1;
		min-height: 0;
		padding-bottom: 8px;
		overflow: hidden auto;
	}
	.slim {
		padding-top: 8px;
	}
	li {
		position: relative;
	}
	li::before {
		content: '';
		position: absolute;
		top: 0;
		bottom: 0;
		left: 23.5px;
		width: 1px;
		background: var(--strong-line);
	}
	li:first-child::before {
		top: 14px;
	}
	li:last-child::before {
		bottom: 14px;
	}
	.bead-line {
		position: relative;
		display: grid;
		grid-template-columns: 16px minmax(0, 1fr) auto;
		gap: 8px;
		align-items: center;
		width: 100%;
		height: 28px;
		padding: 0 12px 0 16px;
		font-size: 13px;
		line-height: 20px;
		text-align: left;
		text-decoration: none;
	}
	.slim .bead-line {
		display: block;
		padding-top: 5px;
	}
	.bead-line:hover:not(:disabled) {
		background: color-mix(in oklab, var(--shade) 55%, transparent);
		cursor: pointer;
	}
	.bead-line:disabled {
		opacity: 0.55;
	}
	.bead-line[aria-current],
	.bead-line[aria-pressed='true'] {
		background: var(--shade);
		box-shadow: inset 3px 0 0 var(--ink);
		font-weight: 650;
	}
	.bead {
		position: relative;
		z-index: 1;
		display: grid;
		place-items: center;
		width: 16px;
		height: 16px;
		background: var(--rail);
	}
	.bead-line[aria-current] .bead {
		background: var(--shade);
	}
	.label {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.detail {
		margin-left: 2px;
		font-weight: 400;
		color: var(--muted);
	}
	.aside .label,
	.when {
		color: var(--muted);
	}
	.when {
		font-size: 12px;
		font-weight: 400;
	}
	.bead-line[aria-current] .when {
		color: var(--ink);
	}
</style>
