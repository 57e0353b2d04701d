<script lang="ts">
	import { enhance } from '$app/forms';
	import type { LayoutHint } from '$core/logfile/layout-hint';
	import type { LogLine } from '$lib/server/logs/logs';
	import LayoutForm from '$lib/ui/upload/LayoutForm.svelte';
	import { tick } from 'svelte';

	let { log, ondecline }: { log: Pick<LogLine, 'name' | 'message' | 'seen'>; ondecline: () => void } =
		$props();
	let layoutForm = $state<HTMLFormElement>();
	let layoutText = $state('');
	async function sayLayout(hint: LayoutHint) {
		layoutText = JSON.stringify(hint);
		await tick();
		layoutForm?.requestSubmit();
	}
</script>

<h1 class="mb-2 break-words">{log.name}</h1>
<p role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
	This log could not be read: {log.message}
</p>
{#if log.seen}
	<div class="mb-4 max-w-[900px]">
		<LayoutForm seen={log.seen} button="Read it like this" onsay={sayLayout} />
		<form bind:this={layoutForm} method="POST" action="?/layout" use:enhance class="hidden">
			<input type="hidden" name="hint" value={layoutText} />
		</form>
	</div>
{/if}
<div class="flex gap-3">
	<form method="POST" action="?/again" use:enhance>
		<button class="button {log.seen ? '' : 'button-main'}">Read again</button>
	</form>
	<button class="button" onclick={ondecline}>Ask for another log</button>
	<form method="POST" action="?/remove" use:enhance>
		<button class="button">Delete it</button>
	</form>
</div>
