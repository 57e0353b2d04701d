<script lang="ts">
	/** "This log won't do, please log again": the faults in the customer's words and the plan to follow, sent. */
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import { TEMPLATES } from '$core/planning/templates';

	let {
		text,
		plan,
		email,
		problem,
		onclose
	}: { text: string; plan: string | null; email: string | null; problem: string; onclose: () => void } =
		$props();
	let sending = $state(false);
	// Begun as it came, changed by the tuner.
	// svelte-ignore state_referenced_locally
	let body = $state(text);
	let area = $state<HTMLTextAreaElement>();
	// Into the words, not onto the button: nothing is sent by a key that was pressed once too often.
	$effect(() => area?.focus());
</script>

<section class="border-ink mb-4 border p-3" aria-label="Ask for another log">
	<form
		method="POST"
		action="?/decline"
		use:enhance={() => {
			sending = true;
			return async ({ update }) => {
				await update({ reset: false });
				sending = false;
			};
		}}
	>
		<Field title="To the customer" class="block"
			><textarea
				name="body"
				rows="7"
				required
				bind:this={area}
				bind:value={body}
				onkeydown={(e) => {
					if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) area?.form?.requestSubmit();
				}}></textarea></Field
		>
		<div class="mt-2 flex flex-wrap items-center gap-3">
			<label class="flex items-center gap-2 text-small"
				>to follow
				<select name="template" class="w-56!">
					{#if plan}<option value="">the same plan: {plan}</option>{/if}
					{#each TEMPLATES as t (t.id)}<option value={t.id}>{t.title}</option>{/each}
				</select></label
			>
			<button class="button button-main" title="Ctrl+Enter" disabled={sending || body.trim() === ''}
				>{sending ? 'Sending …' : 'Reject and send'}</button
			>
			<button type="button" class="button" onclick={onclose}>Cancel</button>
			<span class="text-muted text-small"
				>{email ? `mailed to ${email}` : 'shown on the page of the customer; no mail address is known'}</span
			>
		</div>
		<Alert message={problem} class="mt-2" />
	</form>
</section>
