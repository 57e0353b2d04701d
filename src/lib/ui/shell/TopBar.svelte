<script lang="ts">
	/** The bar at the top of every page: where one can go, the command list, units and theme, who is signed in. */
	import { page } from '$app/state';
	import Search from '@lucide/svelte/icons/search';
	import SunMoon from '@lucide/svelte/icons/sun-moon';
	import type { Commands } from '../commands.svelte';
	import { usePreferences } from '../preferences.svelte';
	import Choices from './Choices.svelte';

	let { commands, me }: { commands: Commands; me: string } = $props();
	const preferences = usePreferences();
	const PLACES = [
		['/', 'Queue'],
		['/customers', 'Customers'],
		['/jobs/new', 'New job'],
		['/planner', 'Planner'],
		['/practice', 'Practice'],
		['/mail', 'Mail']
	] as const;
	const initials = $derived(
		me
			.split(/\s+/)
			.slice(0, 2)
			.map((word) => word[0]?.toUpperCase() ?? '')
			.join('')
	);
	const here = (path: string) =>
		path === '/' ? page.url.pathname === '/' : `${page.url.pathname}/`.startsWith(`${path}/`);
</script>

<header class="top no-print">
	<a class="brand" href="/"
		><svg width="12" height="24" viewBox="0 0 12 24" aria-hidden="true" fill="none"
			><path d="M6 0v24" stroke="var(--strong-line)" /><rect
				x="2"
				y="3"
				width="8"
				height="8"
				fill="var(--ink)"
			/><circle cx="6" cy="17" r="3.25" fill="var(--paper)" stroke="var(--ink)" stroke-width="1.5" /></svg
		>Tanto</a
	>
	<nav aria-label="Main">
		{#each PLACES as [path, title] (path)}
			<a href={path} aria-current={here(path) ? 'page' : undefined}>{title}</a>
		{/each}
	</nav>
	<div class="tools">
		<button class="command" onclick={() => (commands.open = true)} aria-label="Search or command, Ctrl+K"
			><Search size={16} strokeWidth={1.75} aria-hidden="true" /><span>Search or command</span><kbd
				>Ctrl K</kbd
			></button
		>
		<Choices />
		<button
			class="square"
			title="Light or dark"
			aria-label="Light or dark"
			onclick={() => preferences.setTheme(preferences.isDark() ? 'light' : 'dark')}
			><SunMoon size={16} strokeWidth={1.75} aria-hidden="true" /></button
		>
		<a
			href="/team"
			class="who"
			title="{me}: account, tuners and sessions"
			aria-label="{me}: account, tuners and sessions">{initials}</a
		>
	</div>
</header>

<style>
	.top {
		position: sticky;
		top: 0;
		z-index: 30;
		display: flex;
		gap: 24px;
		align-items: center;
		height: var(--top);
		padding: 0 16px;
		background: var(--paper);
		border-bottom: 1px solid var(--line);
	}
	.brand {
		display: inline-flex;
		gap: 8px;
		align-items: center;
		width: 172px;
		font-size: 18px;
		font-weight: 700;
		letter-spacing: -0.01em;
		text-decoration: none;
	}
	nav {
		display: flex;
		gap: 4px;
		height: 100%;
	}
	nav a {
		position: relative;
		display: flex;
		align-items: center;
		padding: 0 12px;
		color: var(--muted);
		text-decoration: none;
		white-space: nowrap;
	}
	nav a:hover,
	nav a[aria-current] {
		color: var(--ink);
	}
	nav a[aria-current]::after {
		content: '';
		position: absolute;
		inset: auto 12px -1px;
		height: 2px;
		background: var(--ink);
	}
	.tools {
		display: flex;
		gap: 8px;
		align-items: center;
		margin-left: auto;
	}
	.command {
		display: inline-flex;
		gap: 8px;
		align-items: center;
		width: 216px;
		height: 28px;
		padding: 0 4px 0 8px;
		color: var(--muted);
		font-size: 13px;
		background: var(--sheet);
		border: 1px solid var(--line);
		border-radius: 3px;
		cursor: pointer;
	}
	.command:hover {
		border-color: var(--strong-line);
	}
	.command kbd {
		margin-left: auto;
		padding: 0 5px;
		font: 11px/18px var(--font-mono);
		border: 1px solid var(--line);
		border-radius: 3px;
	}
	.square {
		display: grid;
		place-items: center;
		width: 28px;
		height: 28px;
		cursor: pointer;
	}
	.who {
		display: grid;
		place-items: center;
		width: 28px;
		height: 28px;
		font-size: 12px;
		font-weight: 650;
		text-decoration: none;
		background: var(--shade);
		border-radius: 14px;
	}
	/* Less room: the search is its key, then the name of the product its sign. */
	@media (max-width: 1180px) {
		.command {
			width: auto;
		}
		.command span {
			display: none;
		}
		.brand {
			width: auto;
		}
	}
</style>
