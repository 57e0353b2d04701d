<script lang="ts">
	import { goto } from '$app/navigation';
	import { useCommands } from '$lib/ui/commands.svelte';
	import { signedText, tint } from '$lib/ui/cellmap/colour';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const c = $derived(data.comparison);
	let at = $state(0);
	let mode = $state<'delta' | 'percent' | 'old' | 'new'>('delta');
	const change = $derived(c.changes[at] ?? null);
	const table = $derived(change ? (data.tables.find((t) => t.item === change.item) ?? null) : null);
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
		{ id: 'previous-change', title: 'Previous difference', key: 'k', run: () => (at = Math.max(0, at - 1)) }
	]);
	$effect(() => {
		void data.a.id;
		void data.b.id;
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

<svelte:head><title>R{data.b.number} against R{data.a.number} – Tanto</title></svelte:head>

<h1 class="mb-3">
	R{data.b.number} against R{data.a.number}: {c.changes.length === 0
		? 'nothing differs'
		: `${c.changes.length} ${c.changes.length === 1 ? 'item differs' : 'items differ'}${riskier ? `, ${riskier} riskier` : ''}`}
</h1>
<div class="no-print mb-4 flex flex-wrap items-end gap-3">
	<label
		><span class="text-[13px]">Before</span>
		<select value={String(data.a.id)} onchange={(e) => pick(e.currentTarget.value, String(data.b.id))}>
			{#each data.lines as l (l.id)}<option value={String(l.id)}
					>R{l.number}{l.state === 'draft' ? ' draft' : ''}</option
				>{/each}
		</select></label
	>
	<label
		><span class="text-[13px]">After</span>
		<select value={String(data.b.id)} onchange={(e) => pick(String(data.a.id), e.currentTarget.value)}>
			{#each data.lines as l (l.id)}<option value={String(l.id)}
					>R{l.number}{l.state === 'draft' ? ' draft' : ''}</option
				>{/each}
		</select></label
	>
	<a class="button" href="/jobs/{data.job.id}/revisions/{data.b.id}">Open R{data.b.number}</a>
	<button class="button" onclick={() => window.print()}>Print</button>
</div>

{#if c.guards.length}
	<section class="border-fix mb-4 border-l-4 pl-3" aria-label="Guards">
		<h2>These two are {WORD[c.comparable]}</h2>
		<ul>
			{#each c.guards as g (g.item)}
				<li>
					{g.why} (<span class="numbers">{g.item}</span>). Touches: {g.affects
						.map((i) => data.titles[i]?.title ?? i)
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
								<span class="font-semibold">{data.titles[x.item]?.title ?? x.item}</span>
								<span class="font-semibold {CLASS[x.class]}">{x.class}</span>
							</span>
							<span class="text-muted block text-[13px]">{x.rule}</span>
							<span class="numbers text-muted block">
								{#if x.from !== undefined || x.to !== undefined}{x.from ?? '–'} → {x.to ?? '–'}
									{data.titles[x.item]?.unit}
								{:else}{x.cellsChanged} cells, {signedText(x.min, 2)} to {signedText(x.max, 2)}
									{data.titles[x.item]?.unit}{/if}
							</span>
						</button>
					</li>
				{/each}
			</ul>
		</nav>
		<section class="min-w-0" aria-label="Difference">
			{#if change && table}
				<div class="no-print mb-2 flex gap-2">
					{#each [['delta', 'Difference'], ['percent', 'Percent'], ['old', `R${data.a.number}`], ['new', `R${data.b.number}`]] as const as [id, title] (id)}
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
							>{data.titles[change.item]?.title}: {mode === 'percent'
								? 'difference in %'
								: mode === 'delta'
									? `difference in ${data.titles[change.item]?.unit}`
									: data.titles[change.item]?.unit}, {table.x.channel} across{table.y
								? `, ${table.y.channel} down`
								: ''}</caption
						>
						<thead
							><tr
								><td></td>{#each table.x.points as p (p)}<th
										scope="col"
										class="text-muted min-w-[42px] px-1 font-normal">{p}</th
									>{/each}</tr
							></thead
						>
						<tbody>
							{#each rows as r (r)}
								<tr>
									<th scope="row" class="text-muted pr-2 font-normal">{table.y?.points[r] ?? ''}</th>
									{#each table.x.points as p, k (p)}
										{@const d = table.delta[r]![k]!}
										{@const now = table.values[r]![k]!}
										<td
											class="h-[21px] px-1 {d === 0 ? 'text-muted' : ''}"
											style:background={d === 0
												? undefined
												: tint(change.item.startsWith('spark') ? d * 2.5 : (100 * d) / (now - d || 1))}
											title="{(now - d).toFixed(decimals)} → {now.toFixed(decimals)}{data.reasons[
												`${change.item}|${p}|${table.y?.points[r] ?? 0}`
											]
												? `: ${data.reasons[`${change.item}|${p}|${table.y?.points[r] ?? 0}`]}`
												: ''}">{cellText(r, k)}</td
										>
									{/each}
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
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
