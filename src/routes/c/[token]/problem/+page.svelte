<script lang="ts">
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import SendLog from '$lib/ui/customer/SendLog.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
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
<details class="border-line mt-6 border-t pt-2" open={form !== null}>
	<summary class="cursor-pointer py-1 font-semibold"
		>It can't be recorded: a lamp came on, something came off</summary
	>
	{#if form && 'said' in form}
		<p class="border-clear mt-2 border-l-4 py-1 pl-3" role="status">
			Your tuner has it. Drive gently, or park it, until you hear back.
		</p>
	{:else}
		<form method="POST" action="?/say" use:enhance class="mt-2">
			<label class="block"
				><span class="text-text">What did it do, when, and what were you doing?</span>
				<textarea name="words" rows="4" required maxlength="4000"
					>{form && 'entered' in form ? (form.entered?.['words'] ?? '') : ''}</textarea
				></label
			>
			<Alert message={messageOf(form)} class="mt-1" />
			<button class="button mt-2 w-full justify-center py-2!">Tell your tuner</button>
		</form>
	{/if}
</details>
