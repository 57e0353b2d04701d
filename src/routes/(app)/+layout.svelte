<script lang="ts">
	import { goto } from '$app/navigation';
	import CommandIcon from '@lucide/svelte/icons/command';
	import { provideCommands, useCommands } from '$lib/ui/commands.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import Choices from '$lib/ui/shell/Choices.svelte';
	import CommandList from '$lib/ui/shell/CommandList.svelte';
	import Unsaved from '$lib/ui/shell/Unsaved.svelte';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	const commands = provideCommands();
	const preferences = usePreferences();
	useCommands([
		{ id: 'queue', title: 'Go to the queue', key: 'q', run: () => void goto('/') },
		{ id: 'find', title: 'Find a job, a customer, a page', key: '/', run: () => (commands.open = true) },
		{ id: 'customers', title: 'Customers, vehicles and jobs', run: () => void goto('/customers') },
		{ id: 'layouts', title: 'Layouts of controllers’ tables', run: () => void goto('/layouts') },
		{ id: 'mail', title: 'Mail that went out', run: () => void goto('/mail') },
		{ id: 'team', title: 'Tuners and sessions', run: () => void goto('/team') },
		{ id: 'server', title: 'Server, for its owner: disk, backup, mail', run: () => void goto('/server') },
		{ id: 'planner', title: 'Fuel planner, without a job', run: () => void goto('/planner') },
		{ id: 'new-job', title: 'Take on a job', key: 'n', run: () => void goto('/jobs/new') },
		{
			id: 'theme',
			title: 'Switch between paper and night',
			run: () => preferences.setTheme(preferences.theme === 'dark' ? 'light' : 'dark')
		}
	]);
</script>

<svelte:window onkeydown={(e) => commands.press(e)} />
<a href="#main" class="button sr-only z-50 focus:not-sr-only focus:fixed focus:top-2 focus:left-2"
	>To the content</a
>
<header class="border-line no-print flex h-12 items-center gap-6 border-b px-6">
	<a href="/" class="text-[19px] font-bold tracking-tight no-underline">Tanto</a>
	<nav aria-label="Main" class="flex gap-5">
		<a href="/" class="hover:underline">Queue</a>
		<a href="/customers" class="hover:underline">Customers</a>
		<a href="/jobs/new" class="hover:underline">Take on a job</a>
		<a href="/planner" class="hover:underline">Planner</a>
		<a href="/mail" class="hover:underline">Mail</a>
	</nav>
	<div class="ml-auto flex items-center gap-2">
		<button class="button" onclick={() => (commands.open = true)} aria-label="Command list, Ctrl+K">
			<CommandIcon size={15} aria-hidden="true" />Ctrl+K
		</button>
		<Choices />
		<a href="/team" class="ml-2 max-w-[140px] truncate hover:underline" title="Tuners and sessions"
			>{data.me}</a
		>
	</div>
</header>
<div id="main">
	{@render children()}
</div>
<CommandList {commands} />
<Unsaved />
