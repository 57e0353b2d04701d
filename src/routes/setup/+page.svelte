<script lang="ts">
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>First start – Tanto</title></svelte:head>

<main class="mx-auto mt-[10vh] max-w-[380px] px-4">
	<p class="mb-8 text-[19px] font-bold tracking-tight">Tanto</p>
	<h1 class="mb-1">The first account</h1>
	<p class="text-muted mb-4">
		It belongs to the owner, who invites the other tuners. The code stands in what the server printed when it
		started.
	</p>
	{#if form?.message}<p role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
			{form.message}
		</p>{/if}
	<form method="POST" class="space-y-3">
		<label class="block"
			><span class="text-[13px]">Code</span><input
				name="code"
				required
				autocomplete="off"
				value={form?.entered?.['code'] ?? data.code}
			/></label
		>
		<label class="block"
			><span class="text-[13px]">Your name</span><input
				name="name"
				required
				autocomplete="name"
				value={form?.entered?.['name'] ?? ''}
			/></label
		>
		<label class="block"
			><span class="text-[13px]">Mail address</span><input
				name="email"
				type="email"
				required
				autocomplete="username"
				value={form?.entered?.['email'] ?? ''}
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
