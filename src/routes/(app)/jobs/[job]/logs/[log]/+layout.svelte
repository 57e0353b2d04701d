<script lang="ts">
	import { page } from '$app/state';
	import type { LayoutProps } from './$types';

	let { children }: LayoutProps = $props();
	const base = $derived(`/jobs/${page.params['job']}/logs/${page.params['log']}`);
	const here = $derived(page.url.pathname.slice(base.length));
	/** Where nitrous isn't part of the vehicle, its page is only in the way. */
	const nitrous = $derived(page.data['job']?.vehicle?.nitrous !== undefined || here === '/nitrous');
	const PAGES = [
		['', 'Verdict'],
		['/map', 'Cell map'],
		['/knock', 'Knock'],
		['/sensors', 'Sensors'],
		['/cylinders', 'Cylinders'],
		['/delivered', 'Delivered'],
		['/drivetrain', 'Drivetrain'],
		['/nitrous', 'Nitrous'],
		['/channels', 'Channels'],
		['/readiness', 'Readiness']
	] as const;
</script>

<nav aria-label="Pages of the log" class="no-print mb-2 flex gap-4 text-[13px]">
	{#each PAGES.filter(([path]) => nitrous || path !== '/nitrous') as [path, title] (path)}
		<a
			class={here === path ? 'border-ink border-b-2 font-semibold' : 'text-muted hover:underline'}
			aria-current={here === path ? 'page' : undefined}
			href={base + path}>{title}</a
		>
	{/each}
</nav>
{@render children()}
