<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import Field from '$lib/ui/Field.svelte';
	import Messages from '$lib/ui/job/Messages.svelte';
	import { refreshEvery } from '$lib/ui/refresh';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { day } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	// What the customer writes shows by itself.
	$effect(() => refreshEvery(4000));
	const link = $derived(data.link?.address ? `${page.url.origin}${data.link.address}` : null);
</script>

<svelte:head><title>Messages of {data.job.title} – Tanto</title></svelte:head>

<PageHead title="Messages" says={[data.job.customer, data.job.email ?? 'no mail address']} />

<div class="grid gap-8 lg:grid-cols-[minmax(0,1fr)_340px]">
	<section id="messages" aria-label="Notes and messages">
		<Messages messages={data.messages} {form} mailOff={data.mailOff} shown={50} />
	</section>
	<section aria-label="Customer's page">
		<h2 class="mb-1">Customer's page</h2>
		{#if data.unreachable}<p class="text-stop mb-2" role="status">
				{data.job.customer} knows of nothing: {data.unreachable}.
			</p>{/if}
		<p class="text-muted mb-3">
			Shows R{data.current}, what changed, the drive plan and the cautions, and takes the next log. Whoever
			has the link can open it; nothing else.
			{#if data.link}The link works until {day(data.link.until)}.{/if}
		</p>
		{#if link}
			<Field title="The link. Send it to the customer." class="mb-3 block">
				<input readonly value={link} onfocus={(e) => e.currentTarget.select()} />
			</Field>
		{/if}
		<div class="flex flex-wrap gap-2">
			<form method="POST" action="?/link" use:enhance>
				<button class="button"
					>{data.link ? 'Make a new link (the old one stops working)' : 'Make a link'}</button
				>
			</form>
			{#if data.link}<form method="POST" action="?/revoke" use:enhance>
					<button class="button">Close the link</button>
				</form>{/if}
		</div>
	</section>
</div>
