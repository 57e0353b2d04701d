<script lang="ts">
	/** While a log is on its way into the worker, or why it didn't get there. */
	import type { EvidenceState } from './worker.svelte';

	let { evidence }: { evidence: EvidenceState } = $props();
</script>

{#if evidence.problem}
	<p role="alert" class="border-stop bg-stop-soft border-l-4 px-3 py-2">
		The samples of this log could not be loaded: {evidence.problem}. Load the page again; the stored screening
		is not touched.
	</p>
{:else if !evidence.about}
	<p role="status" aria-busy="true" class="text-muted py-6">Loading the samples …</p>
{/if}
