<script lang="ts">
	/**
	 * The timeline of a job: its revisions and logs as events in the order of time, and the way round in it.
	 * Click opens an event; marking a second one sets the two against each other.
	 */
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import type { TimelineEvent } from '$lib/server/timeline-event';
	import { useCommands } from '../commands.svelte';
	import Mark from '../findings/Mark.svelte';
	import { moment } from '../time';

	let { jobId, events }: { jobId: number; events: TimelineEvent[] } = $props();
	let marked = $state<TimelineEvent | null>(null);

	function href(b: TimelineEvent): string {
		if (b.kind === 'message') return `/jobs/${jobId}#message-${b.id}`;
		if (b.kind === 'plan') return `/jobs/${jobId}/plan`;
		if (b.kind === 'hardware') return `/jobs/${jobId}/evidence`;
		if (b.kind === 'stage' || b.kind === 'fill') return `/jobs/${jobId}/fuel#${b.kind}s`;
		if (b.kind === 'swap') return `/jobs/${jobId}/cause#swap-${b.id}`;
		if (b.kind === 'plugs') return `/jobs/${jobId}/plugs?reading=${b.id}`;
		return `/jobs/${jobId}/${b.kind === 'log' ? 'logs' : 'revisions'}/${b.id}`;
	}
	const opens = (b: TimelineEvent) => b.kind === 'log' || b.kind === 'revision';
	const here = (b: TimelineEvent) => opens(b) && `${page.url.pathname}/`.startsWith(`${href(b)}/`);
	const pages = $derived(events.filter(opens));
	const same = (a: TimelineEvent | null, b: TimelineEvent) =>
		a !== null && a.kind === b.kind && a.id === b.id;

	function mark(b: TimelineEvent) {
		if (same(marked, b)) {
			marked = null;
			return;
		}
		if (marked && marked.kind === 'revision' && b.kind === 'revision') {
			const [a, z] = [marked, b].sort((x, y) => x.id - y.id) as [TimelineEvent, TimelineEvent];
			marked = null;
			void goto(`/jobs/${jobId}/compare?a=${a.id}&b=${z.id}`);
			return;
		}
		if (marked && marked.kind === 'log' && b.kind === 'log') {
			const [a, z] = [marked, b].sort((x, y) => x.id - y.id) as [TimelineEvent, TimelineEvent];
			marked = null;
			void goto(`/jobs/${jobId}/compare-logs?a=${a.id}&b=${z.id}`);
			return;
		}
		// A log and a revision: what the one would have been with the other.
		if (marked && marked.kind !== b.kind) {
			const [log, revision] = marked.kind === 'log' ? [marked, b] : [b, marked];
			marked = null;
			if (revision.state !== 'baseline')
				void goto(`/jobs/${jobId}/revisions/${revision.id}/replay?log=${log.id}`);
			else void goto(`/jobs/${jobId}/logs/${log.id}`);
			return;
		}
		marked = b;
	}
	const at = $derived(pages.findIndex(here));
	function step(by: number) {
		const next = pages[at < 0 ? (by > 0 ? 0 : pages.length - 1) : at + by];
		if (next) void goto(href(next));
	}
	useCommands([
		{ id: 'event-next', title: 'Next event of the job', key: ']', run: () => step(1) },
		{ id: 'event-previous', title: 'Previous event of the job', key: '[', run: () => step(-1) },
		{ id: 'job', title: 'Go to the start of the job', key: 'h', run: () => void goto(`/jobs/${jobId}`) }
	]);
</script>

<nav aria-label="String of the job">
	<ol class="relative">
		{#each events as b (`${b.kind}${b.id}`)}
			{@const danger = b.state === 'stop' || b.state === 'failed'}
			<li class="relative pb-4 pl-7">
				<span class="bg-strong-line absolute top-2 bottom-[-8px] left-[8px] w-px" aria-hidden="true"></span>
				<span
					class="absolute top-[5px] left-[2px] h-[13px] w-[13px] border-2
						{b.kind === 'log' ? 'rounded-full' : b.kind === 'revision' ? 'rounded-[1px]' : 'scale-60 rotate-45'}
						{danger
						? 'border-stop bg-stop'
						: b.state === 'draft'
							? 'border-ink bg-paper border-dashed'
							: b.kind === 'revision'
								? 'border-ink bg-ink'
								: 'border-ink bg-paper'}"
					aria-hidden="true"
				></span>
				<div class="flex items-baseline gap-2 {here(b) ? 'bg-shade -ml-1 pl-1' : ''}">
					<a
						href={href(b)}
						class="min-w-0 flex-1 truncate font-semibold hover:underline"
						title={b.label}
						aria-current={here(b) ? 'page' : undefined}>{b.label}</a
					>
					{#if b.kind === 'revision' || (b.kind === 'log' && b.state !== 'failed' && b.state !== 'received' && b.state !== 'reading')}
						<button
							class="text-muted hover:text-ink px-1 text-[13px] {same(marked, b)
								? 'text-ink font-semibold underline'
								: ''}"
							aria-pressed={same(marked, b)}
							onclick={() => mark(b)}
							aria-label="Mark {b.label} to compare">{same(marked, b) ? 'marked' : 'mark'}</button
						>
					{/if}
				</div>
				<div class="text-muted flex justify-between gap-2 text-[13px]">
					{#if b.kind === 'log' || b.state === 'draft'}<Mark state={b.state} size={12} />{:else}<span
							class="line-clamp-2 min-w-0 break-words">{b.detail}</span
						>{/if}
					<span class="shrink-0">{moment(b.at)}</span>
				</div>
				{#if b.kind === 'log'}<div class="text-muted text-[13px]">{b.detail}</div>{/if}
			</li>
		{/each}
	</ol>
	{#if marked}
		<p class="text-muted mt-2 text-[13px]" role="status">
			{marked.label} is marked. Mark another one: two revisions or two logs are compared, a log is replayed with
			a revision.
		</p>
	{/if}
</nav>
