<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { useCommands } from '$lib/ui/commands.svelte';
	import { remember, usePreferences } from '$lib/ui/preferences.svelte';
	import JobRail from '$lib/ui/shell/JobRail.svelte';
	import { JOB_SECTIONS } from '$lib/ui/shell/sections';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	const preferences = usePreferences();
	// Cookies are read once a visit; from then on the page itself holds the choice.
	// svelte-ignore state_referenced_locally
	let collapsed = $state({ ...data.collapsed });
	/** A table wants all the width there is: its pages open with the rail folded. */
	const kind = $derived(/\/revisions\/\d+$/.test(page.url.pathname) ? 'draft' : 'page');
	function fold(folded: boolean) {
		collapsed[kind] = folded;
		remember(
			'rail',
			[!collapsed.draft && 'draft-open', collapsed.page && 'page-folded'].filter(Boolean).join(' ')
		);
	}
	const toJob = (by: 1 | -1) => () => void goto(`/jobs/${data.job.id}/neighbour?by=${by}`);
	useCommands([
		...JOB_SECTIONS.flatMap((section) =>
			section.pages.map(({ path, title, also }) => ({
				id: `page-${path}`,
				title: `This job: ${title}`,
				...(also ? { also } : {}),
				run: () => void goto(`/jobs/${data.job.id}${path}`)
			}))
		),
		{ id: 'job-next', title: 'Next job of the queue', key: 'J', run: toJob(1) },
		{ id: 'job-previous', title: 'Previous job of the queue', key: 'K', run: toJob(-1) }
	]);
</script>

<div class="flex">
	<JobRail
		job={data.job}
		rail={data.rail}
		events={data.events}
		openStop={data.openStop}
		folded={collapsed[kind]}
		onfold={fold}
	/>
	<main class="min-w-0 flex-1 px-(--gutter) pb-6" style:--gutter={collapsed[kind] ? '16px' : undefined}>
		{#if data.practice}
			<p class="practice no-print">
				Practice, level {data.practice.level}: the customer is a stand-in, and nothing is mailed.
				<a class="underline" href="/practice/{data.practice.id}">Ask for the next log, or end it</a>
			</p>
		{/if}
		<!-- On paper the string beside it is missing: the sheet says itself whose it is, and what holds the job up. -->
		<p class="border-line mb-3 hidden border-b pb-1 text-small print:block">
			{data.job.title} · {data.job.customer} · {data.job.vehicle.name}
			{#if data.openStop}<strong class="text-stop block text-text"
					>Open at stop: {preferences.say(data.openStop)}. Not to be driven hard.</strong
				>{/if}
		</p>
		<!-- Another log or revision is another page: nothing that was opened in one stays open in the next. -->
		{#key page.url.pathname}
			{@render children()}
		{/key}
	</main>
</div>

<style>
	.practice {
		margin: 0 calc(-1 * var(--gutter));
		padding: 4px var(--gutter);
		border-bottom: 1px solid var(--line);
		background: var(--watch-soft);
		font-size: 13px;
	}
</style>
