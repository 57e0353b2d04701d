<script lang="ts">
	import { page } from '$app/state';
	import Unsaved from '$lib/ui/shell/Unsaved.svelte';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	const home = $derived(page.url.pathname === data.base);
</script>

<svelte:head><title>{data.title}</title><meta name="robots" content="noindex" /></svelte:head>

<main class="mx-auto max-w-[560px] px-4 py-6 text-lead">
	{#if home}
		<p class="text-muted text-text break-words">{data.vehicle}</p>
		<h1 class="mb-5 break-words">{data.title}</h1>
	{:else}
		<p class="no-print mb-3"><a class="underline" href={data.base}>← Back to your page</a></p>
	{/if}
	{@render children()}
	<p class="text-muted border-line mt-8 border-t pt-3 text-text">
		What is said here is advice from data; a person decides. Emissions, noise and road registration are
		matters of your local rules.
	</p>
</main>
<Unsaved />
