<script lang="ts">
	/** A bead of the string: its shape is its kind, that of a log its verdict, that of maxima beyond a limit how grave. */
	import Mark from '../findings/Mark.svelte';

	let { kind, state }: { kind: string; state: string } = $props();
</script>

{#if kind === 'log' || (kind === 'maxima' && state !== 'clear')}
	<Mark {state} bare size={14} />
{:else if kind === 'revision'}
	<Mark {state} bare size={12} tone="text-ink" />
{:else}
	<svg width="8" height="8" viewBox="0 0 8 8" aria-hidden="true"
		><circle cx="4" cy="4" r="2.8" fill="none" stroke="currentColor" stroke-width="1.4" /></svg
	>
{/if}
