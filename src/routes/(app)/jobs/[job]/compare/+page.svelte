<script lang="ts">
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { useCommands } from '$lib/ui/commands.svelte';
	import { signedText, tint } from '$lib/ui/cellmap/colour';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	/** A file that was just set against a revision stands instead of the two of the address. */
	const v = $derived(form && 'view' in form && form.view ? form.view : data.view);
	const c = $derived(v.comparison);
	let at = $state(0);
	let mode = $state<'delta' | 'percent' | 'old' | 'new'>('delta');
	const change = $derived(c.changes[at] ?? null);
	const table = $derived(change ? (v.tables.find((t) => t.item === change.item) ?? null) : null);
	const decimals = $derived(table && Math.max(...table.values.flat().map(Math.abs)) >= 100 ? 1 : 2);
	const rows = $derived(table ? table.values.map((_, r) => r).reverse() : []);
	const WORD: Record<string, string> = {
		all: 'comparable',
		partly: 'comparable only in part',
		none: 'not comparable'
	};
	const CLASS: Record<string, string> = {
		safer: 'text-clear',
		riskier: 'text-stop',
		neutral: 'text-muted',
		unknown: 'text-fix'
	};
	const riskier = $derived(c.changes.filter((x) => x.class === 'riskier').length);

	function pick(a: string, b: string) {
		void goto(`/jobs/${data.job.id}/compare?a=${a}&b=${b}`, { keepFocus: true });
	}
	useCommands([
		{
			id: 'next-change',
			title: 'Next difference',
			key: 'j',
			run: () => (at = Math.min(c.changes.length - 1, at + 1))
		},
		{ id: 'previous-change', title: 'Previous difference', key: 'k', run: () => (at = Math.max(0, at - 1)) },
		{
			id: 'back',
			title: 'Back to the revision',
			key: 'g',
			run: () => {
				if (v.b.id !== null && v.b.jobId === data.job.id)
					void goto(`/jobs/${data.job.id}/revisions/${v.b.id}`);
			}
		},
		{
			id: 'release',
			title: 'Go to the release',
			key: 'r',
			run: () => {
				if (data.lines.some((l) => l.id === v.b.id && l.state === 'draft'))
					void goto(`/jobs/${data.job.id}/revisions/${v.b.id}/release`);
			}
		}
	]);
	$effect(() => {
		void v;
		at = 0;
	});
	function cellText(r: number, k: number): string {
		const d = table!.delta[r]![k]!;
		const now = table!.values[r]![k]!;
		if (mode === 'new') return now.toFixed(decimals);
		if (mode === 'old') return (now - d).toFixed(decimals);
		if (d === 0) return '';
		return mode === 'delta' ? signedText(d, decimals) : signedText((100 * d) / (now - d));
	}
	const fuelCells = $derived(c.effectiveFuel?.percent.flat() ?? []);
	const fuelChanged = $derived(fuelCells.some((p) => Math.abs(p) >= 0.05));
</script>

<svelte:head><title>{v.b.label} against {v.a.label} – Tanto</title></svelte:head>

<h1 class="mb-3">
	{v.b.label} against {v.a.label}: {c.changes.length === 0
		? 'nothing differs'
		: `${c.changes.length} ${c.changes.length === 1 ? 'item differs' : 'items differ'}${riskier ? `, ${riskier} riskier` : ''}`}
</h1>
<div class="no-print mb-4 flex flex-wrap items-end gap-3">
	{#each [['a', 'Before'], ['b', 'After']] as const as [end, word] (end)}
		<label
			><span class="text-[13px]">{word}</span>
			<select
				class="max-w-64"
				aria-label={word}
				value={String(v[end].id ?? '')}
				onchange={(e) =>
					pick(
						end === 'a' ? e.currentTarget.value : String(v.a.id ?? data.lines[0]?.id),
						end === 'b' ? e.currentTarget.value : String(v.b.id ?? data.lines.at(-1)?.id)
					)}
			>
				{#if v[end].id === null}<option value="">{v[end].label}</option>{/if}
				{#each data.lines as l (l.id)}<option value={String(l.id)}
						>R{l.number}{l.state === 'draft' ? ' draft' : ''}</option
					>{/each}
				{#if data.elsewhere.length}
					<optgroup label="Other jobs">
						{#each data.elsewhere as o (o.id)}<option value={String(o.id)}>{o.label}</option>{/each}
					</optgroup>
				{/if}
			</select></label
		>
	{/each}
	<form method="POST" action="?/file" enctype="multipart/form-data" use:enhance class="flex items-end gap-2">
		<input type="hidden" name="a" value={v.a.id ?? ''} />
		<label
			><span class="text-[13px]">or a file after {v.a.label}</span>
			<input
				type="file"
				name="file"
				class="w-60!"
				accept=".json,.xml"
				onchange={(e) => e.currentTarget.form?.requestSubmit()}
			/></label
		>
	</form>
	{#if v.b.id !== null && v.b.jobId === data.job.id}
		<a class="button" href="/jobs/{data.job.id}/revisions/{v.b.id}">Open {v.b.label}</a>
	{/if}
	{#if v.a.id !== null && v.b.id !== null}
		<a class="button" href="/api/v1/revisions/{v.b.id}/report?from={v.a.id}" download>Change report</a>
	{/if}
	<button class="button" onclick={() => window.print()}>Print</button>
</div>

{#if form && 'message' in form}<p role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
		{form.message}
	</p>{/if}
{#if c.guards.length}
	<section class="border-fix mb-4 border-l-4 pl-3" aria-label="Guards">
		<h2>These two are {WORD[c.comparable]}</h2>
		<ul>
			{#each c.guards as g (g.item)}
				<li>
					{g.why} (<span class="numbers">{g.item}</span>). Touches: {g.affects
						.map((i) => v.titles[i]?.title ?? i)
						.join(', ') || 'nothing that is in both'}.
				</li>
			{/each}
		</ul>
	</section>
{/if}

{#if c.changes.length === 0}
	<p class="text-muted">Both hold the same values in every item.</p>
{:else}
	<div class="grid grid-cols-[264px_minmax(0,1fr)] gap-6">
		<nav aria-label="Differences">
			<ul>
				{#each c.changes as x, i (x.item)}
					<li class="border-line border-b">
						<button
							class="w-full cursor-pointer px-2 py-1.5 text-left {i === at ? 'bg-shade' : ''}"
							aria-current={i === at ? 'true' : undefined}
							onclick={() => (at = i)}
						>
							<span class="flex justify-between gap-2">
								<span class="font-semibold">{v.titles[x.item]?.title ?? x.item}</span>
								<span class="font-semibold {CLASS[x.class]}">{x.class}</span>
							</span>
							<span class="text-muted block text-[13px]">{x.rule}</span>
							<span class="numbers text-muted block">
								{#if x.from !== undefined || x.to !== undefined}{x.from ?? '–'} → {x.to ?? '–'}
									{v.titles[x.item]?.unit}
								{:else}{x.cellsChanged} cells, {signedText(x.min, 2)} to {signedText(x.max, 2)}
									{v.titles[x.item]?.unit}{/if}
							</span>
						</button>
					</li>
				{/each}
			</ul>
		</nav>
		<section class="min-w-0" aria-label="Difference">
			{#if change && table}
				<div class="no-print mb-2 flex gap-2">
					{#each [['delta', 'Difference'], ['percent', 'Percent'], ['old', v.a.label], ['new', v.b.label]] as const as [id, title] (id)}
						<button
							class="button {mode === id ? 'button-main' : ''}"
							aria-pressed={mode === id}
							onclick={() => (mode = id)}>{title}</button
						>
					{/each}
				</div>
				<div class="overflow-x-auto">
					<table class="numbers border-separate border-spacing-px text-right">
						<caption class="text-muted pb-1 text-left font-sans text-[13px]"
							>{v.titles[change.item]?.title}: {mode === 'percent'
								? 'difference in %'
								: mode === 'delta'
									? `difference in ${v.titles[change.item]?.unit}`
									: v.titles[change.item]?.unit}, {table.x.channel} across{table.y
								? `, ${table.y.channel} down`
								: ''}</caption
						>
						<thead
							><tr
								><td></td>{#each table.x.points as p (p)}<th
										scope="col"
										class="text-muted min-w-[42px] px-1 font-normal"
										>{p}{table.beyondX[table.x.points.indexOf(p)] ? '†' : ''}</th
									>{/each}</tr
							></thead
						>
						<tbody>
							{#each rows as r (r)}
								<tr>
									<th scope="row" class="text-muted pr-2 font-normal"
										>{table.y?.points[r] ?? ''}{table.beyondY[r] ? '†' : ''}</th
									>
									{#each table.x.points as p, k (p)}
										{@const d = table.delta[r]![k]!}
										{@const now = table.values[r]![k]!}
										<td
											class="h-[21px] px-1 {d === 0 ? 'text-muted' : ''}"
											style:background={d === 0
												? undefined
												: tint(change.item.startsWith('spark') ? d * 2.5 : (100 * d) / (now - d || 1))}
											title="{(now - d).toFixed(decimals)} → {now.toFixed(decimals)}{v.reasons[
												`${change.item}|${p}|${table.y?.points[r] ?? 0}`
											]
												? `: ${v.reasons[`${change.item}|${p}|${table.y?.points[r] ?? 0}`]}`
												: ''}">{cellText(r, k)}</td
										>
									{/each}
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
				{#if table.beyondX.some(Boolean) || table.beyondY.some(Boolean)}
					<p class="text-muted text-[13px]">
						† lies beyond the old table: there its edge is held, which is a guess.
					</p>
				{/if}
			{:else if change}
				<p class="numbers text-[18px]">{change.from ?? '–'} → {change.to ?? '–'}</p>
			{/if}
		</section>
	</div>
{/if}

<section class="mt-7">
	<h2 class="mb-1">Effective fuel</h2>
	{#if !c.effectiveFuel}
		<p class="text-muted">
			The fuel models differ, or one of the two has no fuel table: what comes out of them can't be set side by
			side.
		</p>
	{:else if !fuelChanged}
		<p class="text-muted">The engine gets the same fuel everywhere.</p>
	{:else}
		{@const fuel = c.effectiveFuel}
		<div class="overflow-x-auto">
			<table class="numbers border-separate border-spacing-px text-right" data-testid="effective-fuel">
				<caption class="text-muted pb-1 text-left font-sans text-[13px]"
					>Percent more (+) or less (−) fuel that really comes out, from all fuel items together; target
					mixture unchanged where it is not part of the model.</caption
				>
				<thead
					><tr
						><td></td>{#each fuel.x as p (p)}<th scope="col" class="text-muted min-w-[42px] px-1 font-normal"
								>{p}</th
							>{/each}</tr
					></thead
				>
				<tbody>
					{#each fuel.percent.map((_, r) => r).reverse() as r (r)}
						<tr>
							<th scope="row" class="text-muted pr-2 font-normal">{fuel.y?.[r] ?? ''}</th>
							{#each fuel.percent[r]! as p, k (k)}<td
									class="h-[21px] px-1 {Math.abs(p) < 0.05 ? 'text-muted' : ''}"
									style:background={Math.abs(p) < 0.05 ? undefined : tint(p)}
									>{Math.abs(p) < 0.05 ? '' : signedText(p)}</td
								>{/each}
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/if}
</section>

<section class="mt-7">
	<h2 class="mb-1">Effective timing</h2>
	{#if !c.effectiveTiming}
		<p class="text-muted">One of the two has no timing table.</p>
	{:else}
		{@const timing = c.effectiveTiming}
		{#if timing.offsetDeg !== 0}
			<p class="border-fix mb-2 border-l-4 pl-3">
				The trigger offsets are {Math.abs(timing.offsetDeg)}° apart: the same table value is another crank
				angle, and what stands below holds only if the offset was corrected, not the timing.
			</p>
		{/if}
		{#if timing.degrees.flat().every((d) => d === 0)}
			<p class="text-muted">The same timing everywhere.</p>
		{:else}
			<div class="overflow-x-auto">
				<table class="numbers border-separate border-spacing-px text-right" data-testid="effective-timing">
					<caption class="text-muted pb-1 text-left font-sans text-[13px]"
						>Degrees more (+) or less (−) advance, table and mean of the cylinder trims together.</caption
					>
					<thead
						><tr
							><td></td>{#each timing.x as p (p)}<th
									scope="col"
									class="text-muted min-w-[42px] px-1 font-normal">{p}</th
								>{/each}</tr
						></thead
					>
					<tbody>
						{#each timing.degrees.map((_, r) => r).reverse() as r (r)}
							<tr>
								<th scope="row" class="text-muted pr-2 font-normal">{timing.y[r]}</th>
								{#each timing.degrees[r]! as d, k (k)}<td
										class="h-[21px] px-1 {d === 0 ? 'text-muted' : ''}"
										style:background={d === 0 ? undefined : tint(d * 2.5)}>{d === 0 ? '' : signedText(d)}</td
									>{/each}
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
		{/if}
	{/if}
</section>
