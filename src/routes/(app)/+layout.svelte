<script lang="ts">
	import { goto } from '$app/navigation';
	import { provideCommands, useCommands } from '$lib/ui/commands.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import CommandList from '$lib/ui/shell/CommandList.svelte';
	import TopBar from '$lib/ui/shell/TopBar.svelte';
	import Unsaved from '$lib/ui/shell/Unsaved.svelte';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	const commands = provideCommands();
	const preferences = usePreferences();
	useCommands([
		{ id: 'queue', title: 'Go to the queue', key: 'q', run: () => void goto('/') },
		{ id: 'find', title: 'Find a job, a customer, a page', key: '/', run: () => (commands.open = true) },
		{ id: 'customers', title: 'Customers, vehicles and jobs', run: () => void goto('/customers') },
		{
			id: 'findings',
			title: 'Findings of the workshop: where else was this seen',
			run: () => void goto('/findings')
		},
		{ id: 'layouts', title: 'Layouts of controllers’ tables', run: () => void goto('/layouts') },
		{ id: 'mail', title: 'Mail that went out', run: () => void goto('/mail') },
		{ id: 'team', title: 'Tuners and sessions', run: () => void goto('/team') },
		{ id: 'ways', title: 'Ways of working of the workshop', run: () => void goto('/ways') },
		{ id: 'server', title: 'Server, for its owner: disk, backup, mail', run: () => void goto('/server') },
		{ id: 'planner', title: 'Fuel planner, without a job', run: () => void goto('/planner') },
		{ id: 'practice', title: 'Practice with a stand-in vehicle', run: () => void goto('/practice') },
		{ id: 'new-job', title: 'New job', key: 'n', run: () => void goto('/jobs/new') },
		{
			id: 'theme',
			title: 'Light or dark theme',
			run: () => preferences.setTheme(preferences.isDark() ? 'light' : 'dark')
		}
	]);
</script>

<svelte:window onkeydown={(e) => commands.press(e)} />
<a href="#main" class="button sr-only z-50 focus:not-sr-only focus:fixed focus:top-2 focus:left-2"
	>To the content</a
>
<TopBar {commands} me={data.me} />
<div id="main">
	{@render children()}
</div>
<CommandList {commands} />
<Unsaved />
