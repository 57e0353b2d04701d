<script lang="ts">
	/** Excludes a log from its job, with the reason; it stays in the record and counts for nothing. */
	import { enhance } from '$app/forms';

	let { onclose }: { onclose: () => void } = $props();
</script>

<form
	method="POST"
	action="?/takeOut"
	use:enhance={() =>
		async ({ update }) => {
			await update();
			onclose();
		}}
	class="mb-4 flex max-w-3xl items-center gap-2"
>
	<!-- svelte-ignore a11y_autofocus -->
	<input
		name="reason"
		required
		minlength="3"
		maxlength="300"
		autofocus
		aria-label="Why it is excluded"
		placeholder="why: another car, sent by mistake …"
	/>
	<button class="button shrink-0">Exclude log</button>
	<button type="button" class="button shrink-0" onclick={onclose}>Cancel</button>
</form>
