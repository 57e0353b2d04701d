<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import SendLog from '$lib/ui/customer/SendLog.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<h1>Report a problem</h1>
<p class="mt-1 mb-4">
	Record it while it happens. If it does it at start-up, record the start-up: begin with the ignition on and
	the engine still. A minute is enough.
</p>
<p class="border-stop bg-stop-soft mb-5 border-l-4 px-3 py-2">
	If it misfires, knocks or gets too hot, don't drive it any further to make a better recording. Send what you
	have.
</p>
<SendLog
	url="{data.base}/uploads"
	context={data.context}
	kind="problem"
	onsent={() => void invalidateAll()}
/>
