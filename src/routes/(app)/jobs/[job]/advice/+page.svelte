<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { ADVICE_KINDS, type AdviceKind } from '$core/screening/check';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	// svelte-ignore state_referenced_locally
	let kind = $state<AdviceKind>(data.kind);
	// svelte-ignore state_referenced_locally
	let body = $state(data.texts[data.kind] ?? '');
	let sending = $state(false);
	/** Words that nobody has touched follow the kind; words that somebody wrote stay. */
	function pick(next: AdviceKind) {
		if (body.trim() === '' || body === data.texts[kind]) body = data.texts[next] ?? '';
		kind = next;
	}
</script>

<svelte:head><title>Advice – {data.job.title} – Tanto</title></svelte:head>

<PageHead title="Send advice" says={['an answer that isn’t a calibration']} />
<p class="text-muted mb-4 max-w-prose">
	Some answers are not a calibration. The customer gets these words by mail and on their page, as the one
	thing to do next; the revision in the car stays as it is.
	{#if data.log}From <a class="underline" href="/jobs/{data.job.id}/logs/{data.log.id}">{data.log.name}</a
		>.{:else}There is no log in this job yet.{/if}
</p>
<form
	method="POST"
	class="max-w-3xl"
	use:enhance={() => {
		sending = true;
		return async ({ update }) => {
			await update({ reset: false });
			sending = false;
		};
	}}
>
	<fieldset class="mb-3 flex flex-wrap gap-x-5 gap-y-1">
		<legend class="text-small">What it needs first</legend>
		{#each ADVICE_KINDS as k (k)}
			<label class="flex items-center gap-1.5"
				><input type="radio" name="kind" value={k} checked={kind === k} onchange={() => pick(k)} />
				{data.titles[k]}</label
			>
		{/each}
	</fieldset>
	<Field title="To the customer" class="block"
		><textarea name="body" rows="12" bind:value={body} maxlength="8000"></textarea></Field
	>
	<div class="mt-2 flex flex-wrap items-center gap-3">
		<label class="flex items-center gap-2 text-small"
			>drive plan for afterwards
			<select name="template" class="w-60!">
				<option value="">{data.plan ? `the same: ${data.plan}` : 'none yet'}</option>
				{#each data.templates as t (t.id)}<option value={t.id}>{t.title}</option>{/each}
			</select></label
		>
		<button class="button button-main" disabled={sending}>{sending ? 'Sending …' : 'Send the advice'}</button>
		<span class="text-muted text-small"
			>{data.job.email
				? `mailed to ${data.job.email}`
				: 'shown on the page of the customer; no mail address is known'}</span
		>
	</div>
	<Alert message={messageOf(form)} class="mt-2" />
</form>
