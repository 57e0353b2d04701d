<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { M_PER_FT } from '$core/units/display';
	import { fixed, plural } from '$core/format';
	import { goto } from '$app/navigation';
	import type { PullSummaryByRpm } from '$core/performance/log-summary';
	import { meanPower } from '$core/performance/road-power';
	import { signedText } from '$lib/ui/cellmap/colour';
	import { axisTitle } from '$core/calibration/axes';
	import ErrorMaps from '$lib/ui/log/ErrorMaps.svelte';
	import PowerGain from '$lib/ui/log/PowerGain.svelte';
	import Slips from '$lib/ui/log/Slips.svelte';
	import LaneStack from '$lib/ui/lanes/LaneStack.svelte';
	import { ENGINE_SPEED } from '$lib/ui/lanes/scale';
	import type { Lane } from '$lib/ui/lanes/types';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { clock } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const [a, b] = $derived([data.a, data.b]);
	const pick = (x: number | string, y: number | string) =>
		void goto(`/jobs/${data.job.id}/compare-logs?a=${x}&b=${y}`, { keepFocus: true });

	/** Pulls of the same gear, the widest of each; where no gear is in both, the widest of all. */
	const widest = (list: PullSummaryByRpm[]) =>
		list.reduce<PullSummaryByRpm | null>((w, p) => (!w || p.rpm.length > w.rpm.length ? p : w), null);
	const gears = $derived([
		...new Set(a.summary.pulls.map((p) => p.gear).filter((g) => b.summary.pulls.some((p) => p.gear === g)))
	]);
	let gear = $state<number | null>(null);
	const chosen = $derived(gear ?? gears[0] ?? null);
	const pullOf = (side: typeof a) =>
		widest(side.summary.pulls.filter((p) => chosen === null || p.gear === chosen));
	const [pa, pb] = $derived([pullOf(a), pullOf(b)]);

	const ROWS = [
		['target', 'Target', 'λ'],
		['lambda1', 'Mixture', 'λ'],
		['lambda2', 'Mixture, bank 2', 'λ'],
		['knock', 'Knock', '°'],
		['spark', 'Timing', '°'],
		['map', 'Pressure', 'kPa abs'],
		['boostTarget', 'Set point', 'kPa abs'],
		['tps', 'Throttle', '%'],
		['duty', 'Duty', '%'],
		['iat', 'Intake air', '°C'],
		['power', 'Dyno power', 'kW'],
		['torque', 'Dyno torque', 'Nm']
	] as const;
	const shown = (v: number | null | undefined, unit: string) =>
		v === null || v === undefined || !Number.isFinite(v)
			? null
			: preferences.shown(v, unit, data.stoich).value;
	const digits = (unit: string) => preferences.shown(1, unit, data.stoich).decimals;
	/** Speeds that either pull ran through. */
	const speeds = $derived([...new Set([...(pa?.rpm ?? []), ...(pb?.rpm ?? [])])].sort((x, y) => x - y));
	const at = (p: PullSummaryByRpm | null, name: string, rpm: number) =>
		p?.values[name]?.[p.rpm.indexOf(rpm)] ?? null;
	const rows = $derived(ROWS.filter(([name]) => pa?.values[name] || pb?.values[name]));
	let row = $state<string>('lambda1');
	const picked = $derived(rows.find(([name]) => name === row) ?? rows[0] ?? null);
	const lanes = $derived.by((): Lane[] =>
		rows
			.filter(([name]) => ['lambda1', 'knock', 'spark', 'map', 'tps', 'iat'].includes(name))
			.map(([name, title, unit]) => ({
				id: name,
				title,
				unit: preferences.shown(1, unit, data.stoich).unit,
				decimals: digits(unit),
				minSpan: unit === 'λ' ? (preferences.units.mixture === 'lambda' ? 0.08 : 1) : unit === '%' ? 20 : 4,
				height: 62,
				series: [
					{
						label: a.name.slice(0, 28),
						x: (pa?.rpm ?? []).map((r) => r + 250),
						y: (pa?.values[name] ?? []).map((v) => shown(v, unit)),
						tone: 'old' as const
					},
					{
						label: b.name.slice(0, 28),
						x: (pb?.rpm ?? []).map((r) => r + 250),
						y: (pb?.values[name] ?? []).map((v) => shown(v, unit)),
						tone: 'second' as const
					}
				]
			}))
	);
	const channels = $derived(
		[...new Set([...a.summary.channels, ...b.summary.channels].map((c) => c.id))].map((id) => ({
			id,
			a: a.summary.channels.find((c) => c.id === id) ?? null,
			b: b.summary.channels.find((c) => c.id === id) ?? null
		}))
	);
	const text = (v: number | undefined, unit: string) => {
		const s = shown(v ?? null, unit);
		// A value just under zero is zero, not minus zero.
		return s === null ? '–' : fixed(s, digits(unit)).replace(/^-(0(?:\.0+)?)$/, '$1');
	};
	const shiftText = (list: { gear: number; rpm: number }[]) =>
		list.length ? list.map((s) => `${s.gear}→ ${s.rpm}`).join(', ') : 'none at full throttle';
	const sides = $derived([a, b]);
	/** One pull, or the mean of all in the gear: the road's slope only goes where it was driven both ways. */
	let powerOf = $state<'widest' | 'mean' | 'both'>('widest');
	const powersOf = (side: typeof a) =>
		side.summary.pulls.flatMap((p) => (p.power && (chosen === null || p.gear === chosen) ? [p.power] : []));
	const powerFor = (side: typeof a, pull: PullSummaryByRpm | null) =>
		powerOf === 'widest' ? (pull?.power ?? null) : meanPower(powersOf(side), powerOf === 'both');
	const several = $derived(sides.some((s) => powersOf(s).length > 1));
	const roadPct = $derived.by(() => {
		const all = [powerFor(a, pa), powerFor(b, pb)].flatMap((p) => (p ? [p.uncertaintyPct] : []));
		return all.length ? Math.max(...all) : null;
	});
</script>

<svelte:head><title>{b.name} against {a.name} – Tanto</title></svelte:head>

<PageHead title="{b.name} against {a.name}" />
<div class="no-print mb-4 flex flex-wrap items-end gap-3">
	{#each [['a', 'Before'], ['b', 'After']] as const as [end, word] (end)}
		<Field title={word}>
			<select
				class="max-w-72"
				value={String(data[end].id)}
				onchange={(e) =>
					pick(end === 'a' ? e.currentTarget.value : a.id, end === 'b' ? e.currentTarget.value : b.id)}
			>
				{#each data.logs as l (l.id)}<option value={String(l.id)}>{l.name}</option>{/each}
				{#if data.elsewhere.length}
					<optgroup label="Other jobs">
						{#each data.elsewhere as l (l.id)}<option value={String(l.id)}>{l.name}, {l.title}</option>{/each}
					</optgroup>
				{/if}
			</select></Field
		>
	{/each}
	{#if gears.length > 1}
		<Field title="Gear">
			<select class="w-20!" value={String(chosen)} onchange={(e) => (gear = Number(e.currentTarget.value))}>
				{#each gears as g (g)}<option value={String(g)}>{g}</option>{/each}
			</select></Field
		>
	{/if}
	<button class="button" onclick={() => window.print()}>Print</button>
</div>

{#if !pa || !pb}
	<p class="text-muted mb-4">
		{gears.length === 0 && a.summary.pulls.length && b.summary.pulls.length
			? 'No gear was pulled in both logs.'
			: 'There is no full-throttle pull in one of the two.'}
	</p>
{:else}
	<div class="grid gap-6 lg:grid-cols-2">
		<section aria-label="Pulls overlaid">
			<p class="text-muted text-small">
				{chosen ? `Gear ${chosen}: ` : ''}the widest pull of each, at {clock(pa.fromS)} and {clock(pb.fromS)}
			</p>
			<LaneStack
				{lanes}
				min={speeds[0] ?? 1000}
				max={(speeds.at(-1) ?? 6000) + 500}
				axis={ENGINE_SPEED}
				label="Two pulls over engine speed: {lanes.map((l) => l.title).join(', ')}"
			/>
		</section>
		<section aria-label="Differences by engine speed">
			<div class="mb-1 flex items-center gap-2">
				<h2 class="mr-2">By 500 rpm</h2>
				<select
					class="w-40!"
					aria-label="Quantity"
					value={picked?.[0]}
					onchange={(e) => (row = e.currentTarget.value)}
				>
					{#each rows as [name, title] (name)}<option value={name}>{title}</option>{/each}
				</select>
			</div>
			{#if picked}
				{@const [name, , unit] = picked}
				<table class="w-full text-right" data-testid="by-rpm">
					<thead>
						<tr class="table-head">
							<th class="py-1 text-left font-normal">rpm</th><th class="font-normal">before</th><th
								class="font-normal">after</th
							><th class="font-normal">difference, {preferences.shown(1, unit, data.stoich).unit}</th>
						</tr>
					</thead>
					<tbody class="numbers">
						{#each speeds as r (r)}
							{@const x = shown(at(pa, name, r), unit)}
							{@const y = shown(at(pb, name, r), unit)}
							<tr class="border-line border-b">
								<td class="py-0.5 text-left">{r}–{r + 500}</td><td
									>{x === null ? '–' : fixed(x, digits(unit))}</td
								><td>{y === null ? '–' : fixed(y, digits(unit))}</td><td
									>{x === null || y === null ? '–' : signedText(y - x, digits(unit))}</td
								>
							</tr>
						{/each}
					</tbody>
				</table>
			{/if}
		</section>
	</div>
{/if}

<section class="mt-6" aria-label="Errors of the mixture">
	<h2 class="mb-1">Errors of the mixture</h2>
	{#await data.maps}
		<p class="text-muted" role="status" aria-busy="true">Laying them over each other …</p>
	{:then maps}
		{#if maps?.banks.length}
			<ErrorMaps axes={maps.axes} banks={maps.banks} names={[a.name, b.name]} />
		{:else}
			<p class="text-muted">
				The two can't be overlaid: one of them says nothing about the mixture, or their fuel tables stand on
				other axes.
			</p>
		{/if}
	{:catch}
		<p class="text-muted">The maps could not be made. Load the page again.</p>
	{/await}
</section>

<section class="mt-6" aria-label="Power and torque">
	<h2 class="mb-1">Power and torque</h2>
	<PowerGain power={data.power} names={[a.name, b.name]} {roadPct} />
</section>

<div class="mt-6 grid gap-6 lg:grid-cols-2">
	<section aria-label="Power from the road">
		<div class="mb-1 flex items-center gap-2">
			<h2 class="mr-2">Power from the road</h2>
			{#if several}
				<select class="no-print w-64!" aria-label="Power of" bind:value={powerOf}>
					<option value="widest">of the widest pull</option>
					<option value="mean">mean of all in this gear, one way</option>
					<option value="both">mean of all in this gear, both ways</option>
				</select>
			{/if}
		</div>
		<table class="w-full text-left text-text">
			<tbody>
				{#each [[a, pa], [b, pb]] as const as [side, pull] (side.id)}
					{@const power = powerFor(side, pull)}
					<tr class="border-line border-b align-top">
						<td class="max-w-40 truncate py-1 pr-3" title={side.name}>{side.name}</td>
						<td>
							{#if power}
								<span class="numbers"
									>{preferences.text(power.peakKw, 'kW')}, {preferences.text(power.peakNm, 'Nm')}</span
								>
								± {fixed(power.uncertaintyPct, 0)} %{powerOf === 'widest'
									? ''
									: `, mean of ${plural(powersOf(side).length, 'pull')}`}{#if side.summary.air?.saeFactor},
									corrected to standard air (SAE J1349)
									<span class="numbers"
										>{preferences.text(power.peakKw * side.summary.air.saeFactor, 'kW')}</span
									>{:else if side.summary.air}; not corrected: boost is held absolutely{/if}
							{:else}<span class="text-muted">not known: {pull?.noPower ?? 'no pull'}</span>{/if}
							{#if side.summary.air}
								<span class="text-muted block text-small"
									>{preferences.text(side.summary.air.ambientC, '°C')}, {preferences.text(
										side.summary.air.baroKpa,
										'kPa'
									)}, density altitude {preferences.text(
										side.summary.air.densityAltitudeFt * M_PER_FT,
										'm'
									)}</span
								>
							{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
		<p class="text-muted mt-1 text-small">
			From mass, drag and gear, on a road taken as level. Pulls in both directions: what the road adds one way
			it takes the other, and the mean is free of it.
		</p>
	</section>
	<section aria-label="Shifts and timeslips">
		<h2 class="mb-1">Shifts</h2>
		{#each sides as side (side.id)}
			<p class="border-line border-b py-1 text-text">
				<span class="font-semibold">{side.name}</span><br />
				Shifts: <span class="numbers">{shiftText(side.summary.shifts)}</span>
			</p>
		{/each}
		<Slips
			sides={[
				{ id: a.id, name: a.name, slips: a.summary.slips },
				{ id: b.id, name: b.name, slips: b.summary.slips }
			]}
			stored={data.slips}
			problem={form && 'message' in form ? String(form.message) : ''}
			entered={form && 'entered' in form ? (form.entered ?? {}) : {}}
		/>
	</section>
</div>

<section class="mt-6" aria-label="Channels side by side">
	<h2 class="mb-1">Channels side by side</h2>
	<table class="w-full text-right text-text">
		<thead>
			<tr class="table-head">
				<th class="py-1 text-left font-normal">Channel</th>
				<th class="font-normal">Lowest</th><th class="font-normal">after</th>
				<th class="font-normal">Median</th><th class="font-normal">after</th>
				<th class="font-normal">Highest</th><th class="font-normal">after</th>
			</tr>
		</thead>
		<tbody class="numbers">
			{#each channels as c (c.id)}
				{@const unit = (c.a ?? c.b)!.unit}
				<tr class="border-line border-b">
					<td class="py-0.5 text-left font-sans"
						>{axisTitle(c.id)}{#if unit}<span class="text-muted"
								>, {preferences.shown(1, unit, data.stoich).unit}</span
							>{/if}</td
					>
					<td>{text(c.a?.min, unit)}</td><td>{text(c.b?.min, unit)}</td>
					<td>{text(c.a?.median, unit)}</td><td>{text(c.b?.median, unit)}</td>
					<td>{text(c.a?.max, unit)}</td><td>{text(c.b?.max, unit)}</td>
				</tr>
			{/each}
		</tbody>
	</table>
</section>
