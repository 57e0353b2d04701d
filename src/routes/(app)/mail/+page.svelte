<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { enhance } from '$app/forms';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>Mail – Tanto</title></svelte:head>

<main class="max-w-[820px] px-(--gutter) pb-6">
	<PageHead title="Mail" />
	<p class="text-muted mb-5 max-w-prose">
		{#if data.caught}
			This is the demo: nothing leaves this machine. What would have gone to customers and tuners is caught
			here, as it would have arrived.
		{:else if data.off}
			Mail is off: {data.off}.
		{:else}
			Mail goes out through your mail server. What did not go out stands here.
		{/if}
	</p>
	{#if data.failed.length}
		<h2 class="mb-1">Did not go out</h2>
		{#if form && 'message' in form}<p role="alert" class="text-stop">{form.message}</p>{/if}
		<ul class="mb-6">
			{#each data.failed as m (m.id)}
				<li class="border-line border-b py-2">
					<span class="font-semibold break-words">{m.subject}</span> to <span class="break-all">{m.to}</span>
					<span class="text-muted text-small">{moment(m.at)}</span>
					<span class="text-stop block text-small">{m.error}</span>
					{#if m.kept && !data.off}
						<form method="POST" action="?/again" use:enhance class="mt-1">
							<input type="hidden" name="id" value={m.id} />
							<button class="button">Send again</button>
						</form>
					{/if}
				</li>
			{/each}
		</ul>
	{/if}
	{#if data.caught}
		{#each data.mails as m (m.id)}
			<article class="border-line border-t py-3">
				<h3 class="font-semibold break-words">{m.subject}</h3>
				<p class="text-muted text-small">to {m.to} · {moment(m.at)}</p>
				<p class="mt-2 max-w-prose break-words whitespace-pre-line">{m.body}</p>
			</article>
		{:else}
			<p>No mail yet. Write to a customer from a job, or ask for another log.</p>
		{/each}
	{/if}
</main>
