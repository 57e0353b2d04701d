<script lang="ts">
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>Invitation – Tanto</title></svelte:head>

<main class="mx-auto mt-[14vh] max-w-[340px] px-4">
	<p class="mb-8 text-[19px] font-bold tracking-tight">Tanto</p>
	<h1 class="mb-1">You are invited</h1>
	<p class="text-muted mb-4">You will sign in as {data.email}.</p>
	{#if form?.message}<p role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
			{form.message}
		</p>{/if}
	<form method="POST" class="space-y-3">
		<label class="block"
			><span class="text-[13px]">Your name</span><input
				name="name"
				required
				autocomplete="name"
				value={form?.entered?.['name'] ?? ''}
			/></label
		>
		<label class="block"
			><span class="text-[13px]">Password, at least 10 characters</span><input
				name="password"
				type="password"
				required
				minlength="10"
				autocomplete="new-password"
			/></label
		>
		<button class="button button-main w-full justify-center py-2!">Make the account</button>
	</form>
</main>
