<script lang="ts">
	import { page } from '$app/state';
	import type { LayoutProps } from './$types';

	let { children }: LayoutProps = $props();
	const base = $derived(`/jobs/${page.params['job']}/logs/${page.params['log']}`);
	const PAGES = [
		['', 'Verdict'],
		['/map', 'Cell map'],
		['/knock', 'Knock'],
		['/sensors', 'Sensors'],
		['/cylinders', 'Cylinders'],
		['/delivered', 'Delivered'],
		['/drivetrain', 'Drivetrain'],
		['/channels', 'Channels'],
		['/readiness', 'Readiness']
	] as const;
</script>

<nav aria-label="Pages of the log" class="no-print mb-2 flex gap-4 text-[13px]">
	{#each PAGES as [path, title] (path)}
		{@const here = page.url.pathname === base + path}
		<a
			class={here ? 'border-ink border-b-2 font-semibold' : 'text-muted hover:underline'}
			aria-current={here ? 'page' : undefined}
			href={base + path}>{title}</a
		>
	{/each}
</nav>
{@render children()}
