<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** Plugs of a set by bank: photographed, read, and what the reading asks for. */
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import { signed } from '$core/format';
	import { HEAT_MARKS, PLATINGS, PLUG_FLAGS } from '$core/plugs/marks';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import type { CylinderPlace } from '$lib/ui/pictures/cylinder-place';
	import EngineFromAbove from '$lib/ui/pictures/EngineFromAbove.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const PLATING: Record<(typeof PLATINGS)[number], string> = {
		none: 'none gone',
		quarter: 'a quarter gone',
		half: 'half gone',
		most: 'most gone',
		all: 'all gone'
	};
	const MARK: Record<(typeof HEAT_MARKS)[number], string> = {
		short: 'short of the bend',
		'at-bend': 'at the bend',
		'past-bend': 'past the bend',
		'whole-strap': 'the whole strap'
	};
	const FLAG: Record<(typeof PLUG_FLAGS)[number], string> = {
		'melted-strap': 'strap melted',
		specks: 'specks of metal',
		porcelain: 'porcelain broken',
		wet: 'wet',
		sooty: 'sooty'
	};
	const problem = $derived(form && 'message' in form ? String(form.message) : '');
	const photosOf = (cylinder: number) => data.photos.filter((p) => p.cylinder === cylinder);
	const readingOf = (cylinder: number) => data.shown?.plugs.readings.find((r) => r.cylinder === cylinder);
	const heldOf = (cylinder: number | null) => data.answer?.held.filter((h) => h.cylinder === cylinder) ?? [];
	const changesOf = (cylinder: number) => data.answer?.changes.filter((c) => c.cylinder === cylinder) ?? [];
	const trim = (v: number) => (v === 0 ? '0' : signed(v));
	const unit = (item: string) => (item === 'fuel.cylTrim' ? ' %' : '°');
	/** A plug with what its reading asks for. */
	function place(cylinder: number): CylinderPlace {
		const findings = data.answer?.findings.filter((f) => f.cylinder === cylinder) ?? [];
		const change = (item: string) => changesOf(cylinder).find((c) => c.item === item);
		const line = (name: string, item: string) => {
			const c = change(item);
			return {
				name,
				value: c ? `${trim(c.from)} → ${trim(c.to)}${unit(item)}` : heldOf(cylinder).length ? 'waits' : '–',
				out: c !== undefined
			};
		};
		return {
			cylinder,
			lambdaPct: null,
			reading: readingOf(cylinder) ?? null,
			state: (['stop', 'fix', 'watch'] as const).find((s) => findings.some((f) => f.severity === s)) ?? null,
			lines: [line('fuel', 'fuel.cylTrim'), line('timing', 'spark.cylTrim')]
		};
	}
	let reading = $state(false);
	const asking = $derived(reading || !data.shown);
</script>

<svelte:head><title>Plugs – Tanto</title></svelte:head>

{#snippet photos(cylinder: number)}
	{#each photosOf(cylinder).slice(0, 2) as p (p.id)}
		<a href="/jobs/{data.job.id}/photos/{p.id}" target="_blank" rel="noopener" title={moment(p.at)}
			><img
				src="/jobs/{data.job.id}/photos/{p.id}"
				alt="Plug of cylinder {cylinder}, {moment(p.at)}"
				width={p.width}
				height={p.height}
				class="border-line h-16 w-auto border"
				loading="lazy"
			/></a
		>
	{:else}<span class="text-muted text-small">no photo</span>{/each}
{/snippet}

{#snippet actions()}
	{#if data.shown && !asking}<button class="button button-main" onclick={() => (reading = true)}
			>Read a new set</button
		>{/if}
{/snippet}
<PageHead title="Plugs" {actions} />
<p class="text-muted mb-4 max-w-[80ch]">
	The plating that is gone from the base ring tells the mixture of a cylinder, the heat mark on the strap its
	timing. Fuel comes first: a lean hole moves its heat mark too.
</p>
<Alert box message={problem} class="mb-4" />

{#if asking}
	<form
		method="POST"
		action="?/read"
		use:enhance={() =>
			async ({ update, result }) => {
				// What was refused stays as it was typed.
				await update({ reset: false });
				if (result.type === 'redirect') reading = false;
			}}
	>
		<fieldset class="border-line mb-4 border-t pt-2">
			<legend class="float-left mb-2 w-full">The set</legend>
			<div class="clear-both grid grid-cols-4 gap-x-4 gap-y-3">
				<Field title="Heat range"><input name="heatRange" inputmode="decimal" /></Field>
				<Field title="A higher number is"
					><select name="rangeCounts"
						><option value="higher-is-colder">colder</option><option value="higher-is-hotter">hotter</option
						></select
					></Field
				>
				<Field title="Passes on it"><input name="passes" inputmode="numeric" value="1" /></Field>
				<Field title="Highest boost on it, kPa absolute"><input name="boostKpa" inputmode="decimal" /></Field>
				<Field title="Fuel"><input name="fuel" maxlength="200" /></Field>
				<Field title="Driven with"
					><select name="revision" value={data.current}
						>{#each data.revisions as r (r.id)}<option value={r.id}>R{r.number}</option>{/each}</select
					></Field
				>
				<Field title="A log of the same session, where there is one" class="col-span-2"
					><select name="log"
						><option value="">none</option>{#each data.logs as l (l.id)}<option value={l.id}
								>{l.title}, {l.name}</option
							>{/each}</select
					></Field
				>
			</div>
			<div class="mt-3 flex flex-wrap gap-x-6 gap-y-1">
				<label class="flex items-center gap-2"><input type="checkbox" name="plated" checked /> plated</label>
				<label class="flex items-center gap-2"
					><input type="checkbox" name="newForSession" checked /> new for this session</label
				>
				<label class="flex items-center gap-2"
					><input type="checkbox" name="cutAfterPass" checked /> engine cut after the pass</label
				>
			</div>
		</fieldset>
		{#each data.banks as members, b (b)}
			<fieldset class="border-line mb-4 border-t pt-2">
				<legend class="float-left mb-1 w-full">{data.banks.length > 1 ? `Bank ${b + 1}` : 'Cylinders'}</legend
				>
				<table class="clear-both w-full text-text">
					<thead
						><tr class="text-muted text-left text-small"
							><th class="w-16 font-normal">Cylinder</th><th class="w-44 font-normal">Photos</th><th
								class="w-36 font-normal">Plating</th
							><th class="w-40 font-normal">Heat mark</th><th class="font-normal">Seen</th></tr
						></thead
					>
					<tbody>
						{#each members as c (c)}
							<tr class="border-line border-t align-top">
								<th scope="row" class="py-2 text-left font-semibold">{c}</th>
								<td class="py-2"><div class="flex gap-2">{@render photos(c)}</div></td>
								<td class="py-2 pr-3"
									><select name="plating.{c}" aria-label="Plating of cylinder {c}"
										><option value="">not read</option>{#each PLATINGS as p (p)}<option value={p}
												>{PLATING[p]}</option
											>{/each}</select
									></td
								>
								<td class="py-2 pr-3"
									><select name="mark.{c}" aria-label="Heat mark of cylinder {c}"
										><option value="">not read</option>{#each HEAT_MARKS as m (m)}<option value={m}
												>{MARK[m]}</option
											>{/each}</select
									></td
								>
								<td class="py-2">
									<div class="flex flex-wrap gap-x-3 gap-y-1 text-small">
										{#each PLUG_FLAGS as f (f)}<label class="flex items-center gap-1"
												><input
													type="checkbox"
													name="flag.{f}.{c}"
													aria-label="Cylinder {c}: {FLAG[f]}"
												/>{FLAG[f]}</label
											>{/each}
									</div>
									<input
										name="note.{c}"
										maxlength="500"
										class="mt-1"
										aria-label="Note on cylinder {c}"
										placeholder="note"
									/>
								</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</fieldset>
		{/each}
		<button class="button button-main">Save reading</button>
		{#if data.shown}<button type="button" class="button ml-2" onclick={() => (reading = false)}>Cancel</button
			>{/if}
	</form>
{:else if data.shown && data.answer}
	{@const { plugs } = data.shown}
	<p class="mb-2 text-text">
		Read by {data.shown.author}, {moment(data.shown.at)}, driven with R{data.revisions.find(
			(r) => r.id === data.shown?.revisionId
		)?.number}: {plugs.passes}
		{plugs.passes === 1 ? 'pass' : 'passes'}{plugs.heatRange
			? `, heat range ${plugs.heatRange}`
			: ''}{plugs.fuel ? `, ${plugs.fuel}` : ''}{plugs.boostKpa
			? `, to ${preferences.text(plugs.boostKpa, 'kPa abs')}`
			: ''}.
		{#if data.unlike?.length}<span class="text-fix"
				>No trend from the reading before: {data.unlike.join(', ')}.</span
			>{/if}
	</p>
	<div class="mb-4"><EngineFromAbove banks={data.banks.map((b) => b.map(place))} plugs /></div>
	{#each data.answer.findings as f (`${f.code} ${f.cylinder}`)}
		<div class="border-line mb-2 border-b pb-2">
			<p>
				<Mark state={f.severity} bare size={13} /> <span class="font-semibold">{f.title}.</span>
				{f.summary}
			</p>
			<ul class="list-disc pl-8">
				{#each f.next as n (n)}<li>{n}</li>{/each}
			</ul>
		</div>
	{/each}
	{#each heldOf(null) as h (h.reason)}<p class="border-fix mb-2 border-l-4 px-3 py-1" role="status">
			{h.reason}.
		</p>{/each}
	{#each data.banks as members, b (b)}
		<h2 class="mt-4 mb-1">{data.banks.length > 1 ? `Bank ${b + 1}` : 'Cylinders'}</h2>
		<table class="w-full text-text">
			<thead
				><tr class="text-muted text-left text-small"
					><th class="w-16 font-normal">Cylinder</th><th class="w-44 font-normal">Photos</th><th
						class="w-48 font-normal">Read</th
					><th class="w-56 font-normal">Asks for</th><th class="font-normal">Why</th></tr
				></thead
			>
			<tbody>
				{#each members as c (c)}
					{@const r = readingOf(c)}
					<tr class="border-line border-t align-top">
						<th scope="row" class="py-2 text-left font-semibold">{c}</th>
						<td class="py-2"><div class="flex gap-2">{@render photos(c)}</div></td>
						<td class="py-2 pr-3">
							{#if r}{r.plating ? `plating: ${PLATING[r.plating]}` : ''}{#if r.mark}<br />mark: {MARK[
										r.mark
									]}{/if}
								{#if r.flags?.length}<br /><span class="text-stop font-semibold"
										>{r.flags.map((f) => FLAG[f]).join(', ')}</span
									>{/if}
								{#if r.note}<br /><span class="text-muted">{r.note}</span>{/if}
							{:else}<span class="text-muted">not read</span>{/if}
						</td>
						<td class="py-2 pr-3">
							{#each changesOf(c) as ch (ch.item)}<p>
									{ch.item === 'fuel.cylTrim' ? 'fuel' : 'timing'}
									<span class="numbers">{trim(ch.from)} → {trim(ch.to)}{unit(ch.item)}</span>
								</p>{:else}<span class="text-muted">nothing</span>{/each}
						</td>
						<td class="py-2">
							{#each changesOf(c) as ch (ch.item)}<p>{ch.reason}.</p>{/each}
							{#each heldOf(c) as h (h.reason)}<p class="text-muted">{h.reason}.</p>{/each}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/each}
	{#if data.answer.bankMean.length}<p class="text-muted mt-3 text-text">
			With these trims {data.answer.bankMean
				.map((m) => `${data.banks.length > 1 ? `bank ${m.bank}` : 'the engine'} gets ${signed(m.pct)} %`)
				.join(', ')} over its table on average: the next log is expected that much richer where it was trimmed up.
			No fuel is taken out of the table before it.
		</p>{/if}
	{#if data.answer.changes.length}
		<form method="POST" action="?/propose" use:enhance class="mt-3">
			<input type="hidden" name="reading" value={data.shown.id} />
			<button class="button button-main">Propose these trims</button>
		</form>
	{/if}
	{#if data.records.length > 1}
		<h2 class="mt-6 mb-1">Readings so far</h2>
		<ul>
			{#each data.records as r (r.id)}<li class="py-0.5">
					<a
						class="underline"
						href="?reading={r.id}"
						aria-current={r.id === data.shown.id ? 'page' : undefined}>{moment(r.at)}</a
					>, {r.author}
				</li>{/each}
		</ul>
	{/if}
{/if}
