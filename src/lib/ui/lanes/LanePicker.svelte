<script lang="ts">
	/** Lanes by hand: which channels of this log are drawn, kept with the tuner's account. */
	import { channelKind } from '$core/channels/canonical';

	let {
		have,
		picked,
		onpick
	}: { have: readonly string[]; picked: readonly string[]; onpick: (ids: string[]) => void } = $props();

	let filter = $state('');
	const shown = $derived(
		have.filter((id) => channelKind(id).title.toLowerCase().includes(filter.trim().toLowerCase()))
	);
	const MOST = 24;
</script>

<div class="border-line bg-sheet mb-3 border p-3" role="group" aria-label="Lanes by hand">
	<div class="mb-2 flex items-center gap-3">
		<input class="w-60!" bind:value={filter} placeholder="Find a channel" aria-label="Find a channel" />
		<span class="text-muted text-small">{picked.length} of at most {MOST} chosen; kept with your account</span
		>
	</div>
	<div class="grid max-h-[220px] grid-cols-3 gap-x-4 overflow-y-auto">
		{#each shown as id (id)}
			<label class="flex items-center gap-1.5">
				<input
					type="checkbox"
					checked={picked.includes(id)}
					disabled={!picked.includes(id) && picked.length >= MOST}
					onchange={(e) => onpick(e.currentTarget.checked ? [...picked, id] : picked.filter((p) => p !== id))}
				/>
				<span class="truncate" title={channelKind(id).title}>{channelKind(id).title}</span>
			</label>
		{:else}
			<p class="text-muted">No channel of this log is called that.</p>
		{/each}
	</div>
</div>
