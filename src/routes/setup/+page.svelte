<script lang="ts">
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>First start – Tanto</title></svelte:head>

<main class="mx-auto mt-[10vh] max-w-[380px] px-4">
	<p class="mb-8 text-title font-bold tracking-tight">Tanto</p>
	<h1 class="mb-1">The first account</h1>
	<p class="text-muted mb-4">
		It belongs to the owner, who invites the other tuners. The code stands in what the server printed when it
		started.
	</p>
	<Alert box message={messageOf(form)} class="mb-4" />
	<form method="POST" class="space-y-3">
		<Field title="Code" class="block"
			><input name="code" required autocomplete="off" value={form?.entered?.['code'] ?? data.code} /></Field
		>
		<Field title="Your name" class="block"
			><input name="name" required autocomplete="name" value={form?.entered?.['name'] ?? ''} /></Field
		>
		<Field title="Mail address" class="block"
			><input
				name="email"
				type="email"
				required
				autocomplete="username"
				value={form?.entered?.['email'] ?? ''}
			/></Field
		>
		<Field title="Password, at least 10 characters" class="block"
			><input name="password" type="password" required minlength="10" autocomplete="new-password" /></Field
		>
		<button class="button button-main w-full justify-center py-2!">Make the account</button>
	</form>
</main>
