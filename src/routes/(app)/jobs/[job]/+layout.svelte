<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { useCommands } from '$lib/ui/commands.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import JobTimeline from '$lib/ui/timeline/JobTimeline.svelte';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	const preferences = usePreferences();
	const PAGES = [
		['evidence', 'Evidence'],
		['cause', 'Cause'],
		['plugs', 'Plugs'],
		['cylinders', 'By cylinder'],
		['fuel', 'Goal and fuel'],
		['ladder', 'Ladder'],
		['plan', 'Drive plan'],
		['tables', 'Tables'],
		['vehicle', 'Vehicle'],
		['limits', 'Limits'],
		['inspection', 'Look-over'],
		['advice', 'Advice'],
		['summary', 'Summary']
	] as const;
	const toJob = (by: 1 | -1) => () => void goto(`/jobs/${data.job.id}/neighbour?by=${by}`);
	useCommands([
		...PAGES.map(([path, title]) => ({
			id: `page-${path}`,
			title: `This job: ${title}`,
			run: () => void goto(`/jobs/${data.job.id}/${path}`)
		})),
		{ id: 'job-next', title: 'Next job of the queue', key: 'J', run: toJob(1) },
		{ id: 'job-previous', title: 'Previous job of the queue', key: 'K', run: toJob(-1) }
	]);
</script>

<div class="flex min-h-[calc(100vh-48px)]">
	<aside class="border-line no-print w-[232px] shrink-0 border-r px-4 py-5">
		<a href="/jobs/{data.job.id}" class="mb-1 block font-semibold break-words hover:underline"
			>{data.job.title}</a
		>
		<p class="text-muted mb-2 line-clamp-4 text-[13px] break-words">
			<a class="hover:underline" href="/customers/{data.job.customerId}">{data.job.customer}</a> · {data.job
				.vehicle.name}
		</p>
		<nav aria-label="Pages of the job" class="mb-5 flex flex-wrap gap-x-3 text-[13px]">
			{#each PAGES as [path, title] (path)}
				<a
					class="underline {page.url.pathname === `/jobs/${data.job.id}/${path}` ? 'font-semibold' : ''}"
					aria-current={page.url.pathname === `/jobs/${data.job.id}/${path}` ? 'page' : undefined}
					href="/jobs/{data.job.id}/{path}">{title}</a
				>
			{/each}
		</nav>
		<JobTimeline jobId={data.job.id} events={data.events} />
	</aside>
	<main class="min-w-0 flex-1 px-6 py-5">
		<!-- On paper the string beside it is missing: the sheet says itself whose it is, and what holds the job up. -->
		<p class="border-line mb-3 hidden border-b pb-1 text-[13px] print:block">
			{data.job.title} · {data.job.customer} · {data.job.vehicle.name}
			{#if data.openStop}<strong class="text-stop block text-[15px]"
					>Open at stop: {preferences.say(data.openStop)}. Not to be driven hard.</strong
				>{/if}
		</p>
		<!-- Another log or revision is another page: nothing that was opened in one stays open in the next. -->
		{#key page.url.pathname}
			{@render children()}
		{/key}
	</main>
</div>
