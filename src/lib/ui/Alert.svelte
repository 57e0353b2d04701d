<script lang="ts">
	/** What was refused, and why: one message, said at once to whoever listens. Nothing where there is none. */
	interface Props {
		message: string;
		/** A box at the head of a page, else a line beside what it is about. */
		box?: boolean;
		class?: string;
	}
	let { message, box = false, class: more = '' }: Props = $props();
</script>

{#if message}
	<p role="alert" class="{box ? 'border-stop bg-stop-soft border-l-4 px-3 py-2' : 'text-stop'} {more}">
		{message}
	</p>
{/if}
