<script lang="ts">
	/** A log out of the job, with the reason; it stays in the record and speaks for nothing. */
	import { enhance } from '$app/forms';

	let asking = $state(false);
</script>

{#if asking}
	<form
		method="POST"
		action="?/takeOut"
		use:enhance={() =>
			async ({ update }) => {
				await update();
				asking = false;
			}}
		class="flex w-full items-center gap-2"
	>
		<!-- svelte-ignore a11y_autofocus -->
		<input
			name="reason"
			required
			minlength="3"
			maxlength="300"
			autofocus
			aria-label="Why it is taken out"
			placeholder="why: another car, sent by mistake …"
		/>
		<button class="button shrink-0">Take it out</button>
		<button type="button" class="button shrink-0" onclick={() => (asking = false)}>Keep it</button>
	</form>
{:else}
	<button type="button" class="button" onclick={() => (asking = true)}>Take it out …</button>
{/if}
