<script lang="ts">
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>Forgotten password – Tanto</title></svelte:head>

<main class="mx-auto mt-[14vh] max-w-[340px] px-4">
	<p class="mb-8 text-title font-bold tracking-tight">Tanto</p>
	<h1 class="mb-2">Forgotten password</h1>
	<Alert box message={messageOf(form)} class="mb-4" />
	{#if data.mailOff}
		<p>
			This server sends no mail. The owner makes a link for you under Tuners; for the owner,
			<code>npm run password</code> on the server makes one.
		</p>
	{:else if form && 'asked' in form}
		<p role="status">
			If {form.asked} has an account here, a mail with a link is on its way. The link works once, for an hour.
		</p>
	{:else}
		<form method="POST" class="space-y-3">
			<Field title="Mail address" class="block">
				<input
					name="email"
					type="email"
					autocomplete="username"
					required
					value={form?.entered?.['email'] ?? ''}
				/>
			</Field>
			<button class="button button-main w-full justify-center py-2!">Send me a link</button>
		</form>
	{/if}
	<p class="mt-6"><a class="underline" href="/sign-in">Back to signing in</a></p>
</main>
