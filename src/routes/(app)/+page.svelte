<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { plural } from '$core/format';
	import { changesInWords } from '$core/screening/brief';
	import { untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { refreshEvery } from '$lib/ui/refresh';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { age } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	/** Row of the page that the keys stand on. */
	let at = $state(0);
	const plain = $derived(data.search === '' && data.only === null);
	const mine = $derived(plain ? data.rows.filter((r) => r.waitingOn === 'tuner') : data.rows);
	const theirs = $derived(plain ? data.rows.filter((r) => r.waitingOn === 'customer') : []);
	const reading = $derived(data.rows.some((r) => r.logState === 'received' || r.logState === 'reading'));

	/** Of one line: what the customer said last, then the worst that was found, then what is new since the log before. */
	const sinceText = (changes: NonNullable<(typeof data.rows)[number]['since']>) =>
		preferences.say(changesInWords(changes)) || 'nothing else was found than before';
	const inCar = (r: (typeof data.rows)[number]) =>
		r.draft
			? 'draft'
			: r.unconfirmed
				? 'sent, not confirmed'
				: r.revision === 0
					? 'as received'
					: 'in the car';
	let theirsOpen = $state(untrack(() => data.mine === 0));
	let field = $state<HTMLInputElement>();
	let timer: ReturnType<typeof setTimeout> | undefined;
	/** Address of this list with other words, list or page. */
	function address(change: {
		q?: string;
		list?: string | null;
		page?: number;
		whose?: string | null;
	}): string {
		const q = change.q ?? data.search;
		const list = change.list === undefined ? data.only : change.list;
		const whose = change.whose === undefined ? data.whose : change.whose;
		const parts = [
			...(whose ? [`whose=${whose}`] : []),
			...(q ? [`q=${encodeURIComponent(q)}`] : []),
			...(list ? [`list=${list}`] : []),
			...(change.page && change.page > 1 ? [`page=${change.page}`] : [])
		];
		return parts.length ? `/?${parts.join('&')}` : '/';
	}
	function search(q: string) {
		clearTimeout(timer);
		timer = setTimeout(
			() => void goto(address({ q }), { keepFocus: true, replaceState: true, noScroll: true }),
			150
		);
	}
	/** To the row before or after; from the ends of a page to the next one. */
	function move(by: number) {
		if (at + by < 0 || at + by >= data.rows.length) return turn(by);
		at += by;
		if (at >= mine.length) theirsOpen = true;
		document.getElementById(`job-${data.rows[at]?.id}`)?.focus();
	}
	useCommands([
		{ id: 'next', title: 'Next job', key: 'j', run: () => move(1) },
		{ id: 'previous', title: 'Previous job', key: 'k', run: () => move(-1) },
		{ id: 'filter', title: 'Filter the queue', key: '/', run: () => field?.focus() },
		{
			id: 'into',
			title: 'Open the marked job',
			key: 'J',
			run: () => {
				const row = data.rows[Math.max(0, at)];
				if (row) void goto(`/jobs/${row.id}`);
			}
		},
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
		void goto(address({ page: to }));
	}
	$effect(() => refreshEvery(reading ? 1000 : 5000));
	/** What comes after the first job, for somebody who has none yet. */
	const FIRST = [
		[
			'The vehicle',
			'what it is, as far as you know: whatever is missing is named as what can’t be checked without it.'
		],
		[
			'Its tables',
			'copied out of your own program, table by table; the layout of the controller is asked once.'
		],
		[
			'The customer’s link',
			'a page for the phone: a drive plan to follow, a log that is looked through before it is sent.'
		],
		[
			'The verdict',
			'each log is screened before you look: what stops, what to fix, and what could not be checked.'
		],
		[
			'The revision',
			'proposed from the log, changed by you, every change with its reason; holds say what is against it.'
		],
		['The next log', 'says whether it worked, cell by cell, and what is still open.']
	] as const;
</script>

<svelte:head><title>Queue – Tanto</title></svelte:head>

{#snippet table(rows: typeof data.rows, offset: number)}
	<table class="w-full table-fixed border-collapse text-left">
		<thead>
			<tr class="table-head">
				<th class="w-[124px] py-1.5 font-normal">Newest log</th>
				<th class="w-[31%] py-1.5 font-normal">Job</th>
				<th class="py-1.5 font-normal">What is known</th>
				<th class="w-[150px] py-1.5 font-normal">Customer</th>
				<th class="w-[150px] py-1.5 font-normal">Revision</th>
				<th class="w-[64px] py-1.5 font-normal">Before</th>
				<th class="w-[64px] py-1.5 text-right font-normal">Waiting</th>
			</tr>
		</thead>
		<tbody>
			{#each rows as r, i (r.id)}
				<tr class="border-line hover:bg-shade border-b">
					<td class="py-2 whitespace-nowrap">
						{#if r.verdict}<a
								class="hover:underline"
								href="/jobs/{r.id}/logs/{r.logId}"
								aria-label="{r.verdict}: open the newest log"><Mark state={r.verdict} /></a
							>
							{#if r.logState !== 'screened'}<span
									class="ml-1"
									title="a newer file {r.logState === 'failed' ? 'can’t be read' : 'is being read'}"
									><Mark state={r.logState ?? ''} bare /></span
								>{/if}
						{:else if r.logState}<Mark state={r.logState} />
						{:else}<span class="text-muted">no log yet</span>{/if}
					</td>
					<td class="truncate py-2 pr-4" title="{r.title}: {r.vehicle}">
						<a
							id="job-{r.id}"
							class="font-semibold underline"
							href="/jobs/{r.id}"
							onfocus={() => (at = offset + i)}>{r.title}</a
						>
						<span class="text-muted text-small">{r.vehicle}</span>
					</td>
					<td
						class="truncate py-2 pr-4"
						title={r.since ? `since the log before: ${sinceText(r.since)}` : undefined}
					>
						{#if r.word}<span class="font-semibold">“{r.word}”</span>{/if}
						{#if r.finding}{preferences.say(r.finding)}
						{:else if r.verdict === 'clear'}<span class="text-muted">Nothing found</span>
						{:else if !r.word}<span class="text-muted">–</span>{/if}
						{#if r.since}<span class="text-muted text-small">since the log before: {sinceText(r.since)}</span
							>{/if}
					</td>
					<td class="truncate py-2 pr-4" title="{r.customer}{r.tuner ? `; the job of ${r.tuner}` : ''}"
						>{r.customer}{#if data.several}<span class="text-muted text-small">
								{r.tuner ?? 'unassigned'}</span
							>{/if}</td
					>
					<td class="truncate py-2"
						><span class="numbers">R{r.revision}</span>
						<span class="{r.unconfirmed && !r.draft ? 'text-fix' : 'text-muted'} text-small">{inCar(r)}</span
						></td
					>
					<td class="py-2">
						<span class="flex gap-1 opacity-70"
							>{#each r.before.slice(-4) as verdict, n (n)}<Mark state={verdict} bare size={9} />{/each}</span
						>
					</td>
					<td class="numbers py-2 text-right">{age(r.waitingSince, data.now)}</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/snippet}

<main class="px-(--gutter) pb-6">
	{#if data.mine + data.theirs + data.done + data.archived === 0 && data.whose === null}
		<PageHead title="No jobs yet" />
		<p class="text-muted mb-4 max-w-prose">
			A job begins with a customer, a vehicle and the calibration that is in the car now: revision R0. It can
			begin with your own tables, pasted out of your program, or with nothing but a vehicle.
		</p>
		<a class="button button-main" href="/jobs/new">New job</a>
		<a class="button" href="/practice">Practice on a stand-in vehicle</a>
		<ol class="border-line mt-8 max-w-[760px] border-t" aria-label="How a job goes">
			{#each FIRST as [title, text], i (title)}
				<li class="border-line grid grid-cols-[28px_180px_minmax(0,1fr)] gap-3 border-b py-2.5">
					<span class="numbers text-muted">{i + 1}</span><span class="font-semibold">{title}</span><span
						>{text}</span
					>
				</li>
			{/each}
		</ol>
		<p class="text-muted mt-4 max-w-prose text-text">
			Everything works by keyboard: <kbd>Ctrl+K</kbd> finds every page and action, <kbd>?</kbd> lists the keys
			of a page. Units, gauge pressure and the night theme are at the top right. Before there is a job, the
			<a class="underline" href="/planner">planner</a> answers which injectors a power takes.
		</p>
	{:else}
		{#snippet lists()}
			<form role="search" class="w-[260px]" onsubmit={(e) => e.preventDefault()}>
				<input
					bind:this={field}
					type="search"
					value={data.search}
					placeholder="Customer, vehicle or job"
					aria-label="Filter the queue"
					autocomplete="off"
					oninput={(e) => search(e.currentTarget.value)}
					onkeydown={(e) => {
						if (e.key === 'Escape') field?.blur();
						if (e.key === 'Enter' && data.rows[0]) void goto(`/jobs/${data.rows[0].id}`);
					}}
				/>
			</form>
			{#if data.several}
				<nav aria-label="Whose jobs" class="flex gap-3">
					{#each [[null, 'Ours'], ['me', 'Mine'], ['nobody', 'Unassigned']] as const as [whose, title] (title)}
						<a
							class="whitespace-nowrap underline {data.whose === whose ? 'font-semibold' : ''}"
							aria-current={data.whose === whose ? 'page' : undefined}
							href={address({ whose, page: 1 })}>{title}</a
						>
					{/each}
				</nav>
			{/if}
			<nav aria-label="Lists" class="flex gap-4">
				{#each [[null, 'Open', data.mine + data.theirs], ['done', 'Complete', data.done], ['archived', 'Archive', data.archived]] as const as [list, title, n] (title)}
					<a
						class="whitespace-nowrap underline {data.only === list ? 'font-semibold' : ''}"
						aria-current={data.only === list ? 'page' : undefined}
						href={address({ list, page: 1 })}>{title} <span class="numbers">{n}</span></a
					>
				{/each}
			</nav>
			<a class="button button-main" href="/jobs/new">New job</a>
		{/snippet}
		<PageHead
			title={data.mine === 0
				? 'Nothing waits for you'
				: `${plural(data.mine, 'job waits', 'jobs wait')} for you`}
			says={[
				data.stops > 0 && `${data.stops} at stop`,
				data.theirs > 0 && `${data.theirs} with the customer`
			]}
			actions={lists}
		/>
		{#if !plain}
			{#if mine.length}{@render table(mine, 0)}
			{:else}<p class="text-muted">
					{data.search
						? `Nothing here is called “${data.search}”. Fewer letters find more.`
						: data.only === 'done'
							? 'No job is complete yet: that is said on the report of a job.'
							: 'The archive is empty.'}
				</p>{/if}
		{:else}
			{#if mine.length}
				<h2 class="mb-1">Waiting for me</h2>
				{@render table(mine, 0)}
			{:else}
				<p class="text-muted">
					Time for <a class="text-ink underline" href="/practice">a stand-in vehicle</a>: a log in seconds,
					and the truth at the end.
				</p>
			{/if}
			{#if theirs.length}
				<details class="mt-6" bind:open={theirsOpen}>
					<summary class="cursor-pointer"
						><h2 class="inline">Waiting for the customer</h2>
						<span class="numbers text-muted">{data.theirs}</span></summary
					>
					{@render table(theirs, mine.length)}
				</details>
			{/if}
		{/if}
		{#if data.pages > 1}
			<nav aria-label="Pages of the queue" class="mt-5 flex items-center gap-4">
				{#if data.page > 1}<a class="button" href={address({ page: data.page - 1 })} rel="prev">Page before</a
					>{/if}
				<span class="text-muted"
					>page <span class="numbers">{data.page}</span> of <span class="numbers">{data.pages}</span></span
				>
				{#if data.page < data.pages}<a class="button" href={address({ page: data.page + 1 })} rel="next"
						>Next page</a
					>{/if}
			</nav>
		{/if}
	{/if}
</main>
