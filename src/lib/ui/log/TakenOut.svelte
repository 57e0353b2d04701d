<script lang="ts">
	/** Says that a log was taken out of its job, and takes it in again. */
	import { enhance } from '$app/forms';
	import type { LogLine } from '$lib/server/logs/logs';

	let { log }: { log: LogLine } = $props();
</script>

{#if log.takenOut}
	<form
		method="POST"
		action="?/takeOut"
		use:enhance
		class="border-fix my-2 flex items-center gap-3 border-l-4 pl-3"
	>
		<span class="min-w-0 flex-1"
			><span class="font-semibold">Excluded</span> by {log.takenOut.by}: {log.takenOut.reason}. It stays in
			the record and speaks for nothing.</span
		>
		<button class="button">Include again</button>
	</form>
{/if}
