<script lang="ts">
	/** A draft that was changed in two windows: both values of what both changed, and whose is kept. */
	import { titleOf } from '$core/calibration/items';
	import type { DraftEdit } from '$core/revising/edit-schema';
	import type { DraftChange } from '$core/revising/edit-schema';
	import type { DraftEditor } from '../grid/draft.svelte';

	let { editor }: { editor: DraftEditor } = $props();
	const SHOWN = 8;

	function said(part: DraftChange | DraftEdit | undefined): string {
		if (!part) return 'as before';
		if (!('kind' in part)) return String(part.to);
		return part.kind === 'setting' ? String(part.to) : part.kind === 'added' ? 'added' : 'other axes';
	}
	function where(part: DraftChange | DraftEdit | undefined): string {
		if (!part) return '';
		const title = titleOf(editor.items.find((i) => i.id === part.item) ?? { id: part.item });
		return 'kind' in part ? title : `${title}, ${part.x} · ${part.y}`;
	}
</script>

<section
	role="alert"
	aria-label="Changed elsewhere"
	class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2"
>
	<p class="font-semibold">
		This draft was changed in another window. {editor.conflicts.length === 1
			? 'One value was'
			: `${editor.conflicts.length} values were`} changed in both; all the rest is brought together.
	</p>
	<table class="mt-1 text-text">
		<thead
			><tr class="text-muted text-left text-small"
				><th class="pr-6 font-normal">Where</th><th class="pr-6 font-normal">Here</th><th class="font-normal"
					>There</th
				></tr
			></thead
		>
		<tbody>
			{#each editor.conflicts.slice(0, SHOWN) as c (c.key)}
				<tr
					><td class="pr-6">{where(c.mine ?? c.theirs)}</td><td class="numbers pr-6">{said(c.mine)}</td><td
						class="numbers">{said(c.theirs)}</td
					></tr
				>
			{/each}
		</tbody>
	</table>
	{#if editor.conflicts.length > SHOWN}<p class="text-small">
			and {editor.conflicts.length - SHOWN} more
		</p>{/if}
	<div class="mt-2 flex gap-2">
		<button class="button" onclick={() => editor.settle('mine')}>Keep what is here</button>
		<button class="button" onclick={() => editor.settle('theirs')}>Take what is there</button>
	</div>
</section>
