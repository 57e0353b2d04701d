<script lang="ts">
	/** What was written in a job, the newest first, and where the next word is written. */
	import { enhance } from '$app/forms';
	import type { Message } from '$lib/server/jobs/messages';
	import { moment } from '../time';

	interface Props {
		messages: Message[];
		/** As the last form that was sent was answered. */
		form: Record<string, unknown> | null | undefined;
		/** Why no mail goes to this customer. */
		mailOff: string | null;
		/** How many are shown before the rest is folded. */
		shown?: number;
	}
	let { messages, form, mailOff, shown = 4 }: Props = $props();
	const entered = $derived((form?.['entered'] as Record<string, string> | undefined)?.['body'] ?? '');
	const WHO = { note: 'Note', 'to-customer': 'To the customer', 'from-customer': 'From the customer' };
</script>

{#snippet message(m: Message)}
	<article class="border-line border-t py-2" id="message-{m.id}">
		<p class="text-muted text-small">
			<span class="text-ink font-semibold">{WHO[m.kind]}</span>
			· {m.author} · {moment(m.at)} UTC
			{#if m.mail?.state === 'failed'}<span class="text-stop">· not mailed: {m.mail.error}</span>
			{:else if m.mail?.state === 'sent'}· mailed
			{:else if m.mail}· <span class="text-fix"
					>{mailOff
						? `not mailed: ${mailOff}`
						: `waits to be mailed${m.mail.error ? `: ${m.mail.error}` : ''}`}</span
				>
			{:else if m.kind === 'to-customer'}· on the customer's page{/if}
		</p>
		<p class="max-w-prose break-words whitespace-pre-line">{m.body}</p>
	</article>
{/snippet}

<form
	method="POST"
	action="?/note"
	use:enhance={() =>
		async ({ update, result }) =>
			update({ reset: result.type === 'success' })}
	class="mb-2"
>
	<textarea
		name="body"
		rows="2"
		aria-label="Note or message"
		placeholder="A note for the tuners, or a message to the customer">{entered}</textarea
	>
	<div class="mt-1 flex flex-wrap items-center gap-2">
		<button class="button">Keep as a note</button>
		<button class="button" formaction="?/message">Send to the customer</button>
		{#if form && 'message' in form}<span role="alert" class="text-stop">{form['message']}</span>
		{:else if form && 'sent' in form}<span role="status"
				>{form['notMailed']
					? `On the customer's page; not mailed: ${String(form['notMailed'])}.`
					: 'On the page of the customer, and on its way by mail.'}</span
			>
		{:else if form && 'noted' in form}<span role="status">Noted.</span>{/if}
	</div>
</form>
{#each messages.slice(0, shown) as m (m.id)}{@render message(m)}{/each}
{#if messages.length > shown}
	<details>
		<summary class="cursor-pointer py-1">{messages.length - shown} earlier</summary>
		{#each messages.slice(shown) as m (m.id)}{@render message(m)}{/each}
	</details>
{/if}
