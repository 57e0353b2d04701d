<script lang="ts">
	import { page } from '$app/state';
</script>

<svelte:head><title>Not found – Tanto</title></svelte:head>
<main class="mx-auto max-w-xl px-6 py-24">
	<h1 class="mb-3">{page.status === 404 ? 'There is nothing here' : 'That did not work'}</h1>
	<p class="mb-6">{page.error?.message ?? 'Unknown error'}</p>
	<a class="button" href="/">Back to the start</a>
</main>
