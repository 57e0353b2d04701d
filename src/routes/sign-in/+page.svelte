<script lang="ts">
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { page } from '$app/state';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const then = $derived(page.url.searchParams.get('then'));
	const action = (name: string) => `?/${name}${then ? `&then=${encodeURIComponent(then)}` : ''}`;
</script>

<svelte:head><title>Sign in – Tanto</title></svelte:head>

<main class="mx-auto mt-[14vh] max-w-[340px] px-4">
	<p class="mb-8 text-title font-bold tracking-tight">Tanto</p>
	<h1 class="mb-4">Sign in</h1>
	<Alert box message={messageOf(form)} class="mb-4" />
	{#if page.url.searchParams.has('changed')}
		<p role="status" class="mb-4">The new password is set. Sign in with it.</p>
	{/if}
	{#if data.demo}
		<form method="POST" action={action('demo')} class="border-line mb-6 border-b pb-6">
			<button class="button button-main w-full justify-center py-2!">Sign in as the demo tuner</button>
			<p class="text-muted mt-2 text-small">
				You become {data.demo}, who runs an invented workshop. Nothing in it is real.
			</p>
		</form>
	{/if}
	<form method="POST" action={action('password')} class="space-y-3">
		<Field title="Mail address" class="block">
			<input name="email" type="email" autocomplete="username" required value={form?.email ?? ''} />
		</Field>
		<Field title="Password" class="block">
			<input name="password" type="password" autocomplete="current-password" required />
		</Field>
		<button class="button {data.demo ? '' : 'button-main'} w-full justify-center py-2!">Sign in</button>
	</form>
	<p class="mt-3 text-small"><a class="underline" href="/forgotten">Forgotten the password?</a></p>
	<p class="text-muted mt-6 text-small">
		Customers need no account: they open the link that their tuner sent.
	</p>
</main>
