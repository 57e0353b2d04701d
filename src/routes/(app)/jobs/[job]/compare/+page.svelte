<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import FileDrop from '$lib/ui/FileDrop.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { fixed, plural } from '$core/format';
	import { itemKind, titleOf } from '$core/calibration/items';
	import { axisTitle } from '$core/calibration/axes';
	import DeltaTable from '$lib/ui/grid/DeltaTable.svelte';
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { useCommands } from '$lib/ui/commands.svelte';
	import { signedText, tint } from '$lib/ui/cellmap/colour';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	/** A file that was just set against a revision stands instead of the two of the address. */
	const v = $derived(form && 'view' in form && form.view ? form.view : data.view);
	const c = $derived(v.comparison);
	let fileForm = $state<HTMLFormElement>();
	let pasteOpen = $state(false);
	let at = $state(0);
	let mode = $state<'delta' | 'percent' | 'old' | 'new'>('delta');
	const change = $derived(c.changes[at] ?? null);
	const table = $derived(change ? (v.tables.find((t) => t.item === change.item) ?? null) : null);
	type Table = (typeof v.tables)[number];
	const decimalsOf = (t: Table) => (Math.max(...t.values.flat().map(Math.abs)) >= 100 ? 1 : 2);
	function cellOf(t: Table, decimals: number, r: number, k: number) {
		const d = t.delta[r]![k]!;
		const now = t.values[r]![k]!;
		const reason = v.reasons[`${t.item}|${t.x.points[k]}|${t.y?.points[r] ?? 0}`];
		const old = now - d;
		return {
			text:
				mode === 'new'
					? fixed(now, decimals)
					: mode === 'old'
						? fixed(old, decimals)
						: d === 0
							? ''
							: mode === 'delta'
								? signedText(d, decimals)
								: signedText((100 * d) / (old || 1)),
			background: d === 0 ? undefined : tint(t.item.startsWith('spark') ? d * 2.5 : (100 * d) / (old || 1)),
			title: `${fixed(old, decimals)} → ${fixed(now, decimals)}${reason ? `: ${reason}` : ''}`
		};
	}
	const captionOf = (t: Table) => {
		const unit = v.titles[t.item]?.unit ?? '';
		const what =
			mode === 'percent'
				? 'difference in %'
				: mode === 'delta'
					? `difference in ${unit || 'its own unit'}`
					: unit;
		return `${v.titles[t.item]?.title ?? titleOf({ id: t.item })}: ${what}, ${axisTitle(t.x.channel)} across${t.y ? `, ${axisTitle(t.y.channel)} down` : ''}`;
	};
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
			title: 'Review release',
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
	const fuelCells = $derived(c.effectiveFuel?.percent.flat() ?? []);
	const fuelChanged = $derived(fuelCells.some((p) => Math.abs(p) >= 0.05));
</script>

{#snippet deltas(t: Table)}
	{@const decimals = decimalsOf(t)}
	<DeltaTable
		caption={captionOf(t)}
		x={t.x.points}
		y={t.y?.points ?? null}
		cell={(r, k) => cellOf(t, decimals, r, k)}
		beyondX={t.beyondX}
		beyondY={t.beyondY}
	/>
{/snippet}

<svelte:head><title>{v.b.label} against {v.a.label} – Tanto</title></svelte:head>

<PageHead
	title="{v.b.label} against {v.a.label}: {c.changes.length === 0
		? 'nothing differs'
		: `${plural(c.changes.length, 'item differs', 'items differ')}${riskier ? `, ${riskier} riskier` : ''}`}"
/>
<div class="no-print mb-4 flex flex-wrap items-end gap-3">
	{#each [['a', 'Before'], ['b', 'After']] as const as [end, word] (end)}
		<Field title={word}>
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
			</select></Field
		>
	{/each}
	<form
		method="POST"
		action="?/file"
		enctype="multipart/form-data"
		use:enhance
		bind:this={fileForm}
		class="w-72"
	>
		<input type="hidden" name="a" value={v.a.id ?? ''} />
		<FileDrop
			title="or a file after {v.a.label}"
			name="file"
			accept=".json,.xml"
			onfiles={(list) => list.length && fileForm?.requestSubmit()}
		/>
	</form>
	<button class="button" aria-expanded={pasteOpen} onclick={() => (pasteOpen = !pasteOpen)}
		>A table after {v.a.label}</button
	>
	{#if v.b.id !== null && v.b.jobId === data.job.id}
		<a class="button" href="/jobs/{data.job.id}/revisions/{v.b.id}">Open {v.b.label}</a>
	{/if}
	{#if v.a.id !== null && v.b.id !== null}
		<a class="button" href="/api/v1/revisions/{v.b.id}/report?from={v.a.id}" download>Change report</a>
	{/if}
	<button class="button" onclick={() => window.print()}>Print</button>
</div>

{#if pasteOpen}
	<form
		method="POST"
		action="?/table"
		enctype="multipart/form-data"
		class="no-print border-line mb-4 grid max-w-3xl gap-2 border-y py-2"
		use:enhance={() =>
			async ({ update, result }) => {
				await update({ reset: false });
				if (result.type === 'success') pasteOpen = false;
			}}
	>
		<input type="hidden" name="a" value={v.a.id ?? ''} />
		<Field title="Table of {v.a.label}">
			<select name="item">
				{#each data.tables as t (t.id)}<option value={t.id}>{t.title}</option>{/each}
			</select></Field
		>
		<Field title="Pasted from your own program, with its axes">
			<textarea name="text" rows="4" class="numbers w-full text-small" spellcheck="false"></textarea></Field
		>
		<FileDrop title="or as a text file" name="file" accept=".csv,.tsv,.txt" />
		<span><button class="button button-main">Set it against {v.a.label}</button></span>
	</form>
{/if}
<Alert box message={messageOf(form)} class="mb-4" />
{#if c.guards.length}
	<section class="border-fix mb-4 border-l-4 pl-3" aria-label="Guards">
		<h2>These two are {WORD[c.comparable]}</h2>
		<ul>
			{#each c.guards as g (g.item)}
				<li>
					{g.why} ({v.titles[g.item]?.title ?? titleOf({ id: g.item })}). Touches: {g.affects
						.map((i) => v.titles[i]?.title ?? titleOf({ id: i }))
						.join(', ') || 'nothing that is in both'}.
				</li>
			{/each}
		</ul>
	</section>
{/if}

{#if c.changes.length === 0}
	<p class="text-muted">Both hold the same values in every item.</p>
{:else}
	<div class="grid grid-cols-[264px_minmax(0,1fr)] gap-6 print:block">
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
								<span class="font-semibold">{v.titles[x.item]?.title ?? titleOf({ id: x.item })}</span>
								<span class="font-semibold {CLASS[x.class]}">{x.class}</span>
							</span>
							<span class="text-muted block text-small">{x.rule}</span>
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
			{#if change && itemKind(change.item)}<p class="text-muted mb-2 max-w-prose text-text">
					{itemKind(change.item)?.about}
				</p>{/if}
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
				{@render deltas(table)}
			{:else if change}
				<p class="numbers text-lead">{change.from ?? '–'} → {change.to ?? '–'}</p>
			{/if}
		</section>
	</div>
	<!-- On paper nobody clicks through the list: every table that differs is there. -->
	<div class="hidden print:block">
		{#each v.tables.filter((t) => t !== table) as t (t.item)}{@render deltas(t)}{/each}
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
		<DeltaTable
			caption="Percent more (+) or less (−) fuel that really comes out, from all fuel items together; target mixture unchanged where it is not part of the model. {fuel.y
				? `Axes of the fuel table of ${v.a.label}: engine speed across, load down.`
				: `Along the air meter’s signal of ${v.a.label}.`}"
			x={fuel.x}
			y={fuel.y}
			cell={(r, k) => {
				const p = fuel.percent[r]![k]!;
				return Math.abs(p) < 0.05
					? { text: '', background: undefined }
					: { text: signedText(p), background: tint(p) };
			}}
			testid="effective-fuel"
		/>
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
			<DeltaTable
				caption="Degrees more (+) or less (−) advance, table and mean of the cylinder trims together. Axes of the timing table of {v
					.a.label}: engine speed across, load down."
				x={timing.x}
				y={timing.y}
				cell={(r, k) => {
					const d = timing.degrees[r]![k]!;
					return d === 0
						? { text: '', background: undefined }
						: { text: signedText(d), background: tint(d * 2.5) };
				}}
				testid="effective-timing"
			/>
		{/if}
	{/if}
</section>
