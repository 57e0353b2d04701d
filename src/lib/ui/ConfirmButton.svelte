<script lang="ts">
	/** A button of a form that asks before it sends: what can't be undone is done by two clicks. */
	import { AlertDialog } from 'bits-ui';

	interface Props {
		text: string;
		/** Its name for whoever can't see what it stands beside. */
		label?: string;
		class?: string;
		/** What is asked, what follows from it, and what the answer is called. */
		question: string;
		consequence: string;
		action: string;
	}
	let {
		text,
		label,
		class: look = 'cursor-pointer underline',
		question,
		consequence,
		action
	}: Props = $props();
	let asking = $state(false);
	let form: HTMLFormElement | null = null;
</script>

<button
	type="button"
	class={look}
	aria-label={label}
	onclick={(e) => {
		form = e.currentTarget.form;
		asking = true;
	}}>{text}</button
>
<AlertDialog.Root bind:open={asking}>
	<AlertDialog.Portal>
		<AlertDialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<AlertDialog.Content
			class="bg-sheet border-strong-line fixed top-32 left-1/2 z-50 w-[420px] max-w-[92vw] -translate-x-1/2 border p-5 shadow-lg"
		>
			<AlertDialog.Title class="mb-2 font-semibold">{question}</AlertDialog.Title>
			<AlertDialog.Description class="mb-4">{consequence}</AlertDialog.Description>
			<div class="flex justify-end gap-2">
				<AlertDialog.Cancel class="button">Cancel</AlertDialog.Cancel>
				<AlertDialog.Action
					class="button button-main"
					onclick={() => {
						asking = false;
						form?.requestSubmit();
					}}>{action}</AlertDialog.Action
				>
			</div>
		</AlertDialog.Content>
	</AlertDialog.Portal>
</AlertDialog.Root>
