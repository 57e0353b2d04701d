<script lang="ts">
	/** What a draft's logs propose, item by item: taken over whole, only where it is safer, or by region. */
	import { plural } from '$core/format';
	import { titleOf } from '$core/calibration/items';
	import { classify } from '$core/calibration/risk';
	import type { ItemProposal } from '$core/revising/proposal';
	import { regionsOf, type Region } from '$core/revising/regions';
	import { signedText } from '../cellmap/colour';
	import type { DraftEditor } from '../grid/draft.svelte';

	let {
		editor,
		onpick,
		log,
		replayUrl
	}: {
		editor: DraftEditor;
		/** Shows an item in the grid. */
		onpick: (item: string) => void;
		/** The log behind it, for a look at what would come of all of it. */
		log: { id: number; name: string } | null;
		replayUrl: string;
	} = $props();
	let openProposal = $state<string | null>(null);
	/** Cells of a proposal that only add fuel or take timing out. */
	const safer = (p: ItemProposal) =>
		p.cells.filter((c) => classify(p.item, [c.to - c.from], { olds: [c.from] }).class === 'safer');
	/** Regions of a proposal by item: one accept, one reason. */
	const regions = $derived(
		Object.fromEntries(
			editor.proposals.map((p) => [
				p.item,
				regionsOf(
					editor.items.find((i) => i.id === p.item)!,
					p.cells
				)
			])
		)
	);
	const span = (r: Region, item: string) => {
		const i = editor.items.find((x) => x.id === item);
		const range = ([a, b]: [number, number]) => (a === b ? String(a) : `${a}–${b}`);
		return i?.kind === 'map' ? `${range(r.x)} / ${range(r.y)}` : i?.kind === 'curve' ? range(r.x) : '';
	};
	const byHowMuch = (r: Region) =>
		r.meanPct === null || Math.abs(r.meanPct) > 200 ? signedText(r.mean) : `${signedText(r.meanPct)} %`;
</script>

<section class="border-line mb-4 border-y py-2" aria-label="Proposals">
	{#each editor.proposals as p (p.item)}
		<div class="flex flex-wrap items-baseline gap-x-3 py-0.5">
			<button class="cursor-pointer font-semibold underline" onclick={() => onpick(p.item)}
				>{titleOf(editor.items.find((i) => i.id === p.item) ?? { id: p.item })}</button
			>
			<span class="min-w-0 flex-1">{p.reason}.</span>
			<button
				class="button"
				onclick={() => {
					onpick(p.item);
					editor.accept(p.item, p.cells);
				}}>Accept {p.cells.length} cells</button
			>
			{#if safer(p).length > 0 && safer(p).length < p.cells.length}
				<button
					class="button"
					onclick={() => {
						onpick(p.item);
						editor.accept(p.item, safer(p));
					}}>Only the {safer(p).length} that are safer</button
				>
			{/if}
			{#if (regions[p.item]?.length ?? 0) > 1}
				<button
					class="button"
					aria-expanded={openProposal === p.item}
					onclick={() => (openProposal = openProposal === p.item ? null : p.item)}>By region</button
				>
			{/if}
			<button class="button" onclick={() => editor.reject(p.item, p.cells)}>Reject</button>
		</div>
		{#if openProposal === p.item}
			<ul class="mb-1 pl-4 text-[14px]" aria-label="Regions of {p.item}">
				{#each (regions[p.item] ?? []).slice(0, 12) as r (`${r.x} ${r.y} ${r.up}`)}
					<li class="flex items-baseline gap-3 py-0.5">
						<span class="numbers w-[190px]">{span(r, p.item)}</span>
						<span class="numbers w-[70px] text-right">{byHowMuch(r)}</span>
						<span class="text-muted w-[190px]">{plural(r.cells.length, 'cell')}, {r.measured} measured</span>
						<button
							class="cursor-pointer underline"
							onclick={() => {
								onpick(p.item);
								editor.accept(p.item, r.cells);
							}}>Accept</button
						>
						<button class="cursor-pointer underline" onclick={() => editor.reject(p.item, r.cells)}
							>Reject</button
						>
					</li>
				{/each}
			</ul>
		{/if}
	{/each}
	{#if log}
		<p class="text-[14px]">
			<a class="underline" href="{replayUrl}?proposal=1&log={log.id}"
				>What {log.name} would be with all of it</a
			>
		</p>
	{/if}
</section>
