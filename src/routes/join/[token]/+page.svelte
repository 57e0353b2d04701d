<script lang="ts">
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>Invitation – Tanto</title></svelte:head>

<main class="mx-auto mt-[14vh] max-w-[340px] px-4">
	<p class="mb-8 text-title font-bold tracking-tight">Tanto</p>
	<h1 class="mb-1">You are invited</h1>
	<p class="text-muted mb-4">You will sign in as {data.email}.</p>
	<Alert box message={messageOf(form)} class="mb-4" />
	<form method="POST" class="space-y-3">
		<Field title="Your name" class="block"
			><input name="name" required autocomplete="name" value={form?.entered?.['name'] ?? ''} /></Field
		>
		<Field title="Password, at least 10 characters" class="block"
			><input name="password" type="password" required minlength="10" autocomplete="new-password" /></Field
		>
		<button class="button button-main w-full justify-center py-2!">Make the account</button>
	</form>
</main>
