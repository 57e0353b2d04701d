<script lang="ts">
	/** What a draft's logs propose, item by item: taken over whole, only where it is safer, or by region. */
	import { plural } from '$core/format';
	import { actsOn, titleOf } from '$core/calibration/items';
	import { classify } from '$core/calibration/risk';
	import type { FindingAnswer, ItemProposal } from '$core/revising/proposal';
	import { PLACES, placesIn } from '$core/revising/places';
	import { regionsOf, type Region } from '$core/revising/regions';
	import { STANDARD_KPA } from '$core/calibration/resample';
	import type { Vehicle } from '$core/vehicle/document';
	import Check from '@lucide/svelte/icons/check';
	import X from '@lucide/svelte/icons/x';
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
	/** Why some cells are asked about. */
	const ASKED = {
		fuel: {
			which: 'to look at first',
			why: 'more than 8 % more fuel where no misfires are counted (a misfire reads lean), or fuel taken out where the log can’t rule out a doubt'
		},
		timing: {
			which: 'that may be noise',
			why: 'the same short knock comes without load, where an engine can’t knock'
		}
	};
	const DOES = { cleared: 'cleared', partly: 'partly', nothing: 'not touched' };
	const byHowMuch = (r: Region) =>
		r.meanPct === null || Math.abs(r.meanPct) > 200 ? signedText(r.mean) : `${signedText(r.meanPct)} %`;
</script>

<section aria-label="Proposals">
	<div class="mb-1 flex items-baseline justify-between">
		<h2>Proposals</h2>
		<span class="text-muted text-note" role="status"
			>{progress.decided === progress.of
				? 'all decided'
				: `${progress.decided} of ${plural(progress.of, 'cell')} decided`}</span
		>
	</div>
	<progress
		class="mb-1 h-1 w-full"
		style:accent-color="var(--clear)"
		max={progress.of}
		value={progress.decided}
		aria-label="Cells of the proposals that are decided"
	></progress>
	{#each editor.proposals as p (p.item)}
		{@const d = editor.decided(p.item, p.cells)}
		{@const asked = d.open.filter((c) => c.ask)}
		{@const plain = d.open.filter((c) => !c.ask)}
		{@const safe = safer(p).filter((c) => !c.ask)}
		{@const parts = regions[p.item] ?? []}
		<article class="border-line border-t py-2" data-decided={stateOf(d, p.cells.length)}>
			<div class="flex items-baseline justify-between gap-2">
				<button class="cursor-pointer text-left font-semibold hover:underline" onclick={() => onpick(p.item)}
					>{titleOf(editor.items.find((i) => i.id === p.item) ?? { id: p.item })}</button
				>
				{#if saidOf(d)}<span class="text-clear text-note whitespace-nowrap">{saidOf(d)}</span>{/if}
			</div>
			<p class="text-small {d.open.length ? '' : 'text-muted'}">{p.reason}.</p>
			<div class="mt-1 flex flex-wrap gap-1.5">
				{#if plain.length}
					<button
						class="button button-small"
						onclick={() => {
							onpick(p.item);
							editor.accept(p.item, plain);
						}}>Accept {plural(plain.length, 'cell')}</button
					>
				{/if}
				{#if safe.length > 0 && safe.length < plain.length}
					<button
						class="button button-small"
						onclick={() => {
							onpick(p.item);
							editor.accept(p.item, safe);
						}}>Only the {safe.length} that are safer</button
					>
				{/if}
				{#if asked.length}
					<button
						class="button button-small"
						title={ASKED[actsOn(p.item, 'timing') ? 'timing' : 'fuel'].why}
						onclick={() => {
							onpick(p.item);
							editor.accept(p.item, asked);
						}}>Accept {asked.length} {ASKED[actsOn(p.item, 'timing') ? 'timing' : 'fuel'].which}</button
					>
				{/if}
				{#if d.open.length}
					<button class="button button-small" onclick={() => editor.reject(p.item, d.open)}
						>Reject {saidOf(d) ? 'the rest' : ''}</button
					>
				{:else}
					<button class="button button-small" onclick={() => editor.reject(p.item, p.cells)}>Revert</button>
				{/if}
				{#if parts.length > 1}
					<button
						class="button button-small"
						aria-expanded={openProposal === p.item}
						onclick={() => (openProposal = openProposal === p.item ? null : p.item)}>By region</button
					>
				{/if}
			</div>
			{#if asked.length}
				<p class="text-muted text-note mt-1">
					{plural(asked.length, 'cell')}: {ASKED[actsOn(p.item, 'timing') ? 'timing' : 'fuel'].why}.
				</p>
			{/if}
			{#if openProposal === p.item}
				<ul class="mt-1" aria-label="Regions of {titleOf({ id: p.item })}">
					{#each parts.slice(0, 14) as r (`${r.place} ${r.x} ${r.y} ${r.up}`)}
						{@const part = editor.decided(p.item, r.cells)}
						<li class="border-line border-t py-1.5 {part.open.length ? '' : 'text-muted'}">
							<div class="flex items-center gap-2">
								<span class="min-w-0 flex-1 truncate">{r.place ? PLACES[r.place] : span(r, p.item)}</span>
								<span class="numbers">{byHowMuch(r)}</span>
								{#if part.open.length}
									<button
										class="button button-small px-1.5!"
										aria-label="Accept"
										title="Accept this region"
										onclick={() => {
											onpick(p.item);
											editor.accept(p.item, r.cells);
										}}><Check size={14} aria-hidden="true" /></button
									>
									<button
										class="button button-small px-1.5!"
										aria-label="Reject"
										title="Reject this region"
										onclick={() => editor.reject(p.item, r.cells)}><X size={14} aria-hidden="true" /></button
									>
								{:else}<span class="text-note">{saidOf(part)}</span>{/if}
							</div>
							<p class="text-muted text-note">
								{r.place ? `${span(r, p.item)}, ` : ''}{plural(r.cells.length, 'cell')}, {r.measured} measured
							</p>
						</li>
					{/each}
				</ul>
			{/if}
		</article>
	{/each}
	{#if answers.length}
		<ul class="border-line border-t pt-1" aria-label="What it does about the findings">
			{#each answers as a (a.key)}
				<li
					class="text-small grid grid-cols-[14px_minmax(0,1fr)_auto] items-baseline gap-x-2 py-0.5"
					title={a.words}
				>
					<Mark state={a.severity} size={11} bare />
					<span>{a.title}</span>
					<span
						class="whitespace-nowrap {a.does === 'cleared'
							? 'text-clear'
							: a.does === 'partly'
								? 'text-fix'
								: 'text-muted'}">{DOES[a.does]}</span
					>
					{#if a.does !== 'cleared'}<span class="text-muted text-note col-start-2 col-end-4">{a.words}</span
						>{/if}
				</li>
			{/each}
		</ul>
	{/if}
	{#if log}
		<p class="text-small mt-1">
			<a class="underline" href="{replayUrl}?proposal=1&log={log.id}"
				>What {log.name} would be with all of it</a
			>
		</p>
	{/if}
</section>
