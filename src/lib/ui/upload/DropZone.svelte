<script lang="ts">
	import Upload from '@lucide/svelte/icons/upload';
	import { sendFile, type Sent } from './send';

	let {
		url,
		label,
		hint,
		onsent
	}: { url: string; label: string; hint: string; onsent: (sent: Sent, name: string) => void } = $props();

	interface Item {
		name: string;
		share: number;
		state: 'sending' | 'done' | 'duplicate' | 'failed';
		message: string;
		cancel: () => void;
	}
	let items = $state<Item[]>([]);
	let over = $state(false);
	let input: HTMLInputElement;

	async function take(files: FileList | null) {
		for (const file of files ?? []) {
			const { done, cancel } = sendFile(url, file, {}, (share) => {
				const at = items.find((i) => i.name === file.name && i.state === 'sending');
				if (at) at.share = share;
			});
			items.push({ name: file.name, share: 0, state: 'sending', message: '', cancel });
			const item = items[items.length - 1]!;
			try {
				const sent = await done;
				item.state = sent.duplicate ? 'duplicate' : 'done';
				onsent(sent, file.name);
			} catch (e) {
				item.state = 'failed';
				item.message = e instanceof Error ? e.message : String(e);
			}
		}
	}
</script>

<div
	class="border-strong-line bg-sheet border border-dashed p-4 {over ? 'bg-shade' : ''}"
	role="group"
	aria-label={label}
	ondragover={(e) => {
		e.preventDefault();
		over = true;
	}}
	ondragleave={() => (over = false)}
	ondrop={(e) => {
		e.preventDefault();
		over = false;
		void take(e.dataTransfer?.files ?? null);
	}}
>
	<div class="flex flex-wrap items-center gap-4">
		<button type="button" class="button button-main" onclick={() => input.click()}>
			<Upload size={16} aria-hidden="true" />{label}
		</button>
		<span class="text-muted">{hint}</span>
		<input
			bind:this={input}
			type="file"
			multiple
			class="hidden"
			aria-label={label}
			onchange={() => {
				void take(input.files).then(() => (input.value = ''));
			}}
		/>
	</div>
	{#if items.length}
		<ul class="mt-3 space-y-1" aria-live="polite">
			{#each items as item, i (i)}
				<li class="flex flex-wrap items-center gap-3">
					<span class="min-w-0 flex-1 truncate" title={item.name}>{item.name}</span>
					{#if item.state === 'sending'}
						<progress class="w-40" max="1" value={item.share} aria-label="Sent"></progress>
						<span class="numbers w-12 text-right">{Math.round(item.share * 100)} %</span>
						<button type="button" class="button" onclick={item.cancel}>Cancel</button>
					{:else if item.state === 'done'}<span class="text-clear font-semibold">received</span>
					{:else if item.state === 'duplicate'}<span>already here: the same file, not stored twice</span>
					{:else}<span class="text-stop w-full sm:w-auto" role="alert">{item.message}</span>{/if}
				</li>
			{/each}
		</ul>
	{/if}
</div>
