<script lang="ts">
	import { page } from '$app/state';
	import JobString from '$lib/ui/string/JobString.svelte';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
</script>

<div class="flex min-h-[calc(100vh-48px)]">
	<aside class="border-line no-print w-[232px] shrink-0 border-r px-4 py-5">
		<a href="/jobs/{data.job.id}" class="mb-1 block font-semibold break-words hover:underline"
			>{data.job.title}</a
		>
		<p class="text-muted mb-5 text-[13px] break-words">{data.job.customer} · {data.job.vehicle.name}</p>
		<JobString jobId={data.job.id} beads={data.beads} />
	</aside>
	<main class="min-w-0 flex-1 px-6 py-5">
		<!-- Another log or revision is another page: nothing that was opened in one stays open in the next. -->
		{#key page.url.pathname}
			{@render children()}
		{/key}
	</main>
</div>
