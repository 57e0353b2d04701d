<script lang="ts">
	/** What a draft's logs propose, item by item: taken over whole, only where it is safer, or by region. */
	import { plural } from '$core/format';
	import { titleOf } from '$core/calibration/items';
	import { classify } from '$core/calibration/risk';
	import type { FindingAnswer, ItemProposal } from '$core/revising/proposal';
	import { PLACES, placesIn } from '$core/revising/places';
	import { regionsOf, type Region } from '$core/revising/regions';
	import { STANDARD_KPA } from '$core/calibration/resample';
	import type { Vehicle } from '$core/vehicle/document';
	import { signedText } from '../cellmap/colour';
	import Mark from '../findings/Mark.svelte';
	import type { DraftEditor } from '../grid/draft.svelte';
	import type { Decided } from '../grid/snapshot';

	let {
		editor,
		onpick,
		log,
		replayUrl,
		answers,
		vehicle
	}: {
		editor: DraftEditor;
		/** Shows an item in the grid. */
		onpick: (item: string) => void;
		/** The log behind it, for a look at what would come of all of it. */
		log: { id: number; name: string } | null;
		replayUrl: string;
		/** What all of it does about the findings. */
		answers: readonly FindingAnswer[];
		/** Whose idle, rev limit and air say what a place is called. */
		vehicle: Vehicle;
	} = $props();
	let openProposal = $state<string | null>(null);
	/** Cells of a proposal that only add fuel or take timing out. */
	const safer = (p: ItemProposal) =>
		editor.decided(p.item, p.cells).open.filter(
			(c) =>
				classify(p.item, [c.to - c.from], {
					olds: [c.from],
					unit: editor.items.find((i) => i.id === p.item)?.unit
				}).class === 'safer'
		);
	function regionsFor(p: ItemProposal): Region[] {
		const item = editor.items.find((i) => i.id === p.item)!;
		const places =
			item.kind === 'map' || item.kind === 'curve'
				? placesIn(item, vehicle, vehicle.baselines?.ambientPressureKpa ?? STANDARD_KPA)
				: null;
		return regionsOf(item, p.cells, places);
	}
	/** Regions of a proposal by item: one accept, one reason. */
	const regions = $derived(Object.fromEntries(editor.proposals.map((p) => [p.item, regionsFor(p)])));
	const span = (r: Region, item: string) => {
		const i = editor.items.find((x) => x.id === item);
		const range = ([a, b]: [number, number]) => (a === b ? String(a) : `${a}–${b}`);
		return i?.kind === 'map' ? `${range(r.x)} / ${range(r.y)}` : i?.kind === 'curve' ? range(r.x) : '';
	};
	const saidOf = (d: Decided) =>
		[
			[d.accepted, 'accepted'],
			[d.byHand, 'by hand'],
			[d.rejected, 'rejected']
		]
			.filter(([n]) => Number(n) > 0)
			.map(([n, word]) => `${n} ${word}`)
			.join(', ');
	const stateOf = (d: Decided, cells: number) =>
		d.open.length
			? ''
			: d.rejected === cells
				? 'rejected'
				: d.rejected === 0 && d.byHand === 0
					? 'accepted'
					: 'decided';
	/** How far one has come: cells that somebody decided, of all that are proposed. */
	const progress = $derived.by(() => {
		const all = editor.proposals.map((p) => ({ n: p.cells.length, d: editor.decided(p.item, p.cells) }));
		const of = all.reduce((n, p) => n + p.n, 0);
		return { of, decided: of - all.reduce((n, p) => n + p.d.open.length, 0) };
	});
	const DOES = { cleared: 'cleared', partly: 'partly', nothing: 'not touched' };
	const byHowMuch = (r: Region) =>
		r.meanPct === null || Math.abs(r.meanPct) > 200 ? signedText(r.mean) : `${signedText(r.meanPct)} %`;
</script>

<section class="border-line mb-4 border-y py-2" aria-label="Proposals">
	<p class="mb-1 flex items-center gap-3 text-[13px]">
		<progress
			class="h-1.5 w-40"
			style:accent-color="var(--clear)"
			max={progress.of}
			value={progress.decided}
			aria-label="Cells of the proposals that are decided"
		></progress>
		<span class="text-muted" role="status"
			>{progress.decided === progress.of
				? 'Everything proposed is decided.'
				: `${progress.decided} of ${plural(progress.of, 'proposed cell')} decided`}</span
		>
	</p>
	{#each editor.proposals as p (p.item)}
		{@const d = editor.decided(p.item, p.cells)}
		{@const asked = d.open.filter((c) => c.ask)}
		{@const plain = d.open.filter((c) => !c.ask)}
		{@const safe = safer(p).filter((c) => !c.ask)}
		<div class="flex flex-wrap items-baseline gap-x-3 py-0.5" data-decided={stateOf(d, p.cells.length)}>
			<button class="cursor-pointer font-semibold underline" onclick={() => onpick(p.item)}
				>{titleOf(editor.items.find((i) => i.id === p.item) ?? { id: p.item })}</button
			>
			<span class="min-w-0 flex-1 {d.open.length ? '' : 'text-muted'}">{p.reason}.</span>
			{#if saidOf(d)}<span class="text-muted text-[13px]">{saidOf(d)}</span>{/if}
			{#if plain.length}
				<button
					class="button"
					onclick={() => {
						onpick(p.item);
						editor.accept(p.item, plain);
					}}>Accept {plural(plain.length, 'cell')}</button
				>
			{/if}
			{#if safe.length > 0 && safe.length < plain.length}
				<button
					class="button"
					onclick={() => {
						onpick(p.item);
						editor.accept(p.item, safe);
					}}>Only the {safe.length} that are safer</button
				>
			{/if}
			{#if asked.length}
				<button
					class="button"
					title="A misfire reads lean, and nobody counted misfires: look at the log first"
					onclick={() => {
						onpick(p.item);
						editor.accept(p.item, asked);
					}}>Accept {asked.length} over 8 %</button
				>
			{/if}
			{#if (regions[p.item]?.length ?? 0) > 1}
				<button
					class="button"
					aria-expanded={openProposal === p.item}
					onclick={() => (openProposal = openProposal === p.item ? null : p.item)}>By region</button
				>
			{/if}
			{#if d.open.length}
				<button class="button" onclick={() => editor.reject(p.item, d.open)}
					>Reject {saidOf(d) ? 'the rest' : ''}</button
				>
			{:else}
				<button class="button" onclick={() => editor.reject(p.item, p.cells)}>Back to before</button>
			{/if}
		</div>
		{#if asked.length}
			<p class="text-muted text-[13px]">
				{plural(asked.length, 'cell')} would get more than 8 % more fuel. A misfire reads lean, and no misfires
				are counted in this log: look at it first.
			</p>
		{/if}
		{#if openProposal === p.item}
			<ul class="mb-1 pl-4 text-[14px]" aria-label="Regions of {titleOf({ id: p.item })}">
				{#each (regions[p.item] ?? []).slice(0, 14) as r (`${r.place} ${r.x} ${r.y} ${r.up}`)}
					{@const part = editor.decided(p.item, r.cells)}
					<li class="flex items-baseline gap-3 py-0.5 {part.open.length ? '' : 'text-muted'}">
						{#if r.place}<span class="w-[170px]">{PLACES[r.place]}</span>{/if}
						<span class="numbers w-[170px]">{span(r, p.item)}</span>
						<span class="numbers w-[70px] text-right">{byHowMuch(r)}</span>
						<span class="text-muted w-[190px]">{plural(r.cells.length, 'cell')}, {r.measured} measured</span>
						{#if part.open.length}
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
						{:else}<span>{saidOf(part)}</span>{/if}
					</li>
				{/each}
			</ul>
		{/if}
	{/each}
	{#if answers.length}
		<table class="mt-2 w-full text-left text-[14px]" aria-label="What it does about the findings">
			<tbody>
				{#each answers as a (a.key)}
					<tr class="border-line border-t align-top">
						<td class="py-0.5 pr-3"><Mark state={a.severity} size={12} bare /></td>
						<td class="pr-3">{a.title}</td>
						<td
							class="pr-3 whitespace-nowrap {a.does === 'cleared'
								? 'text-clear'
								: a.does === 'partly'
									? 'text-fix'
									: 'text-muted'}">{DOES[a.does]}</td
						>
						<td class="text-muted">{a.words}</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
	{#if log}
		<p class="text-[14px]">
			<a class="underline" href="{replayUrl}?proposal=1&log={log.id}"
				>What {log.name} would be with all of it</a
			>
		</p>
	{/if}
</section>
