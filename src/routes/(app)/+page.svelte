<script lang="ts">
	import { plural } from '$core/format';
	import { changesInWords } from '$core/screening/brief';
	import { goto } from '$app/navigation';
	import { refreshEvery } from '$lib/ui/refresh';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { age } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	/** Row of the page that the keys stand on. */
	let at = $state(0);
	const mine = $derived(data.rows.filter((r) => r.waitingOn === 'tuner'));
	const theirs = $derived(data.rows.filter((r) => r.waitingOn === 'customer'));
	const reading = $derived(data.rows.some((r) => r.logState === 'received' || r.logState === 'reading'));

	const sinceText = (changes: NonNullable<(typeof data.rows)[number]['since']>) =>
		changesInWords(changes) || 'nothing else was found than before';

	/** To the row before or after; from the ends of a page to the next one. */
	function move(by: number) {
		if (at + by < 0 || at + by >= data.rows.length) return turn(by);
		at += by;
		document.getElementById(`job-${data.rows[at]?.id}`)?.focus();
	}
	useCommands([
		{ id: 'next', title: 'Next job', key: 'j', run: () => move(1) },
		{ id: 'previous', title: 'Previous job', key: 'k', run: () => move(-1) },
		{
			id: 'first',
			title: 'Open the first job of the queue',
			key: 'o',
			run: () => {
				if (data.rows[0]) void goto(`/jobs/${data.rows[0].id}`);
			}
		},
		{
			id: 'verdict',
			title: 'Open the newest log of the marked job',
			key: 'l',
			run: () => {
				const row = data.rows[at];
				if (row?.logId) void goto(`/jobs/${row.id}/logs/${row.logId}`);
			}
		}
	]);
	function turn(by: number) {
		const to = data.page + by;
		if (to < 1 || to > data.pages) return;
		at = -1;
		void goto(`?page=${to}`);
	}
	$effect(() => refreshEvery(reading ? 1000 : 5000));
</script>

<svelte:head><title>Queue – Tanto</title></svelte:head>

{#snippet table(rows: typeof data.rows, offset: number)}
	<table class="w-full table-fixed border-collapse text-left">
		<thead>
			<tr class="text-muted border-strong-line border-b text-[13px]">
				<th class="w-[124px] py-1.5 font-normal">Newest log</th>
				<th class="py-1.5 font-normal">Worst finding</th>
				<th class="w-[270px] py-1.5 font-normal">Job</th>
				<th class="w-[170px] py-1.5 font-normal">Customer</th>
				<th class="w-[92px] py-1.5 font-normal">Revision</th>
				<th class="w-[72px] py-1.5 text-right font-normal">Waiting</th>
			</tr>
		</thead>
		<tbody>
			{#each rows as r, i (r.id)}
				<tr class="border-line hover:bg-shade border-b align-top">
					<td class="py-2">
						{#if r.logState === 'screened' && r.verdict}<a
								class="hover:underline"
								href="/jobs/{r.id}/logs/{r.logId}"
								aria-label="{r.verdict}: open the newest log"><Mark state={r.verdict} /></a
							>
						{:else if r.logState}<Mark state={r.logState} />
						{:else}<span class="text-muted">no log yet</span>{/if}
					</td>
					<td class="py-2 pr-4">
						{#if r.finding}{r.finding}
						{:else if r.verdict === 'clear'}<span class="text-muted">Nothing found</span>
						{:else}<span class="text-muted">–</span>{/if}
						{#if r.since}
							<span class="text-muted block truncate text-[13px]" title={sinceText(r.since)}
								>since the log before: {sinceText(r.since)}</span
							>
						{/if}
					</td>
					<td class="py-2 pr-4">
						<a
							id="job-{r.id}"
							class="font-semibold break-words underline"
							href="/jobs/{r.id}"
							onfocus={() => (at = offset + i)}>{r.title}</a
						>
						<span class="text-muted block truncate text-[13px]" title={r.vehicle}>{r.vehicle}</span>
					</td>
					<td class="py-2 pr-4 break-words">{r.customer}</td>
					<td class="py-2"><span class="numbers">R{r.revision}</span>{r.draft ? ' draft' : ''}</td>
					<td class="numbers py-2 text-right">{age(r.waitingSince, data.now)}</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/snippet}

<main class="px-6 py-5">
	{#if data.rows.length === 0}
		<h1 class="mb-2">No jobs yet</h1>
		<p class="text-muted mb-4 max-w-prose">
			A job begins with a customer, a vehicle and the calibration that is in the car now: revision R0.
		</p>
		<a class="button button-main" href="/jobs/new">Take on the first job</a>
	{:else}
		<h1 class="mb-4">
			{data.mine === 0
				? 'Nothing waits for you'
				: `${plural(data.mine, 'job waits', 'jobs wait')} for you`}{data.stops > 0
				? `, ${data.stops} at stop`
				: ''}
		</h1>
		{#if mine.length}
			<h2 class="mb-1">Waiting for me</h2>
			{@render table(mine, 0)}
		{/if}
		{#if theirs.length}
			<h2 class="mt-7 mb-1">Waiting for the customer</h2>
			{@render table(theirs, mine.length)}
		{/if}
		{#if data.pages > 1}
			<nav aria-label="Pages of the queue" class="mt-5 flex items-center gap-4">
				{#if data.page > 1}<a class="button" href="?page={data.page - 1}" rel="prev">Page before</a>{/if}
				<span class="text-muted"
					>page <span class="numbers">{data.page}</span> of <span class="numbers">{data.pages}</span>, {data.mine +
						data.theirs} jobs</span
				>
				{#if data.page < data.pages}<a class="button" href="?page={data.page + 1}" rel="next">Next page</a
					>{/if}
			</nav>
		{/if}
	{/if}
</main>
