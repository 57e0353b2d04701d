<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { fixed, plural } from '$core/format';
	import { goto } from '$app/navigation';
	import type { CellMap as MapRows } from '$core/evidence/cells/correction-map';
	import CylindersReplayed from '$lib/ui/revision/CylindersReplayed.svelte';
	import CellMap from '$lib/ui/cellmap/CellMap.svelte';
	import { signedText } from '$lib/ui/cellmap/colour';
	import { useCommands } from '$lib/ui/commands.svelte';
	import { axisTitle, axisUnit } from '$core/calibration/axes';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import LaneStack from '$lib/ui/lanes/LaneStack.svelte';
	import { ENGINE_SPEED } from '$lib/ui/lanes/scale';
	import type { Lane } from '$lib/ui/lanes/types';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { clock } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const r = $derived(data.replay);
	let pick = $state<number | null>(null);
	/** The pull over the widest span of engine speed is read first. */
	const widest = $derived(
		(r?.pulls ?? []).reduce((best, p, i, all) => (p.rpm.length > (all[best]?.rpm.length ?? 0) ? i : best), 0)
	);
	const pull = $derived(r?.pulls[pick ?? widest] ?? null);
	let when = $state<'after' | 'before'>('after');
	const rows = $derived.by((): MapRows | null =>
		r?.map
			? { percent: r.map[when], samples: r.map.samples, se: r.map.samples.map((row) => row.map(() => null)) }
			: null
	);
	const lanes = $derived.by((): Lane[] => {
		if (!pull) return [];
		const lane = (
			id: 'lambda' | 'spark' | 'duty',
			title: string,
			unit: string,
			minSpan: number,
			height: number
		): Lane => {
			const s = preferences.shown(1, unit, data.stoich);
			const shown = (list: (number | null)[]) =>
				list.map((v) => (v === null ? null : preferences.shown(v, unit, data.stoich).value));
			return {
				id,
				title,
				unit: s.unit,
				decimals: s.decimals,
				minSpan,
				height,
				series: [
					...(id === 'lambda'
						? [
								{
									label: 'target',
									x: pull.rpm,
									y: shown(pull.target.after),
									tone: 'first' as const,
									dashed: true
								}
							]
						: []),
					{ label: 'as logged', x: pull.rpm, y: shown(pull[id].before), tone: 'old' as const },
					{
						label: `with R${data.rev.number}`,
						x: pull.rpm,
						y: shown(pull[id].after),
						tone: 'second' as const
					}
				]
			};
		};
		return [
			lane('lambda', 'Mixture', 'λ', preferences.units.mixture === 'lambda' ? 0.08 : 1, 150),
			lane('spark', 'Timing', '°', 6, 80),
			lane('duty', 'Injector duty', '%', 20, 80)
		];
	});
	useCommands([
		{
			id: 'release',
			title: 'Review release',
			key: 'r',
			run: () => {
				if (data.rev.state === 'draft') void goto(`/jobs/${data.job.id}/revisions/${data.rev.id}/release`);
			}
		},
		{
			id: 'back',
			title: 'Back to the revision',
			key: 'g',
			run: () => void goto(`/jobs/${data.job.id}/revisions/${data.rev.id}`)
		}
	]);
	const pair = (p: [number | null, number | null], decimals: number, sign = false) =>
		p.map((v) => (v === null ? '–' : sign ? signedText(v, decimals) : fixed(v, decimals))).join(' → ');
	const lambdaPair = (p: [number | null, number | null]) =>
		p
			.map((v) => {
				if (v === null) return '–';
				const s = preferences.shown(v, 'λ', data.stoich);
				return fixed(s.value, s.decimals);
			})
			.join(' → ');
</script>

<svelte:head><title>Replay with R{data.rev.number} – Tanto</title></svelte:head>

{#snippet actions()}
	{#if data.logs.length > 1}
		<select
			class="w-64!"
			aria-label="Log to replay"
			value={String(data.log?.id ?? '')}
			onchange={(e) => void goto(`?log=${e.currentTarget.value}${data.proposed ? '&proposal=1' : ''}`)}
		>
			{#each data.logs as l (l.id)}<option value={String(l.id)}>{l.title}</option>{/each}
		</select>
	{/if}
	<a class="button" href="/jobs/{data.job.id}/revisions/{data.rev.id}">Back to R{data.rev.number}</a>
	{#if data.rev.state === 'draft'}
		<a class="button button-main" href="/jobs/{data.job.id}/revisions/{data.rev.id}/release">Review release</a
		>
	{/if}
{/snippet}
<PageHead
	title="Replay with R{data.rev.number}{data.proposed ? ' and all that is proposed' : ''}"
	says={[data.log ? data.log.name : 'no log']}
	{actions}
/>

{#if !r}
	<p class="border-fix border-l-4 pl-3">This can't be replayed: {data.problem}.</p>
{:else}
	<section class="mb-4" aria-label="Against the limits">
		{#if r.beyond.length === 0}
			<p><Mark state="pass" bare /> Nothing of it goes beyond a limit.</p>
		{:else}
			<ul>
				{#each r.beyond as b (b.what)}
					<li>
						<Mark state={b.severity} size={13} />
						<span class="font-semibold">{b.what.replace(/^./, (c) => c.toUpperCase())}</span>
						<span class="numbers"
							>{b.unit === 'λ'
								? preferences.text(b.value, 'λ', data.stoich)
								: `${fixed(b.value, 1)} ${b.unit}`}</span
						>, the limit is
						<span class="numbers"
							>{b.unit === 'λ' ? preferences.text(b.limit, 'λ', data.stoich) : `${b.limit} ${b.unit}`}</span
						>
					</li>
				{/each}
			</ul>
		{/if}
		<p class="mt-1" data-testid="left">
			{#if r.left.length}
				<span class="numbers">{r.left.length}</span> visited {r.left.length === 1
					? 'cell stays'
					: 'cells stay'} off by more than 3 %, worst
				<span class="numbers">{signedText(r.left[0]!.errorPct)} %</span>
				at
				<span class="numbers">{r.left[0]!.x} · {r.left[0]!.y}</span>.
			{:else}Every visited cell comes within 3 % of its target.{/if}
			{#each r.unproven as u (u.item)}
				<span class="text-muted ml-1"
					>{data.titles[u.item] ?? u.item}: {plural(u.cells, 'changed cell', 'changed cells')} lie where this log
					was never.</span
				>
			{/each}
		</p>
		<p class="text-muted mt-1 text-small">It can't know {r.unknown.join('; ')}.</p>
	</section>
	<div class="grid gap-6 lg:grid-cols-[minmax(0,1fr)_auto]">
		<section aria-label="Pull replayed">
			{#if pull}
				<p class="text-muted text-small">
					Pull {(pick ?? widest) + 1}{pull.gear ? `, gear ${pull.gear}` : ''}, at
					<span class="numbers">{clock(pull.from)}</span>; of two banks the leaner
				</p>
				<LaneStack
					{lanes}
					min={(pull.rpm[0] ?? 1000) - 125}
					max={(pull.rpm.at(-1) ?? 6000) + 125}
					axis={ENGINE_SPEED}
					label="Mixture, timing and duty over engine speed, as logged and predicted"
				/>
			{:else}
				<p class="text-muted">There is no pull in this log.</p>
			{/if}
		</section>
		<section aria-label="Pulls in figures">
			<table class="w-full text-right text-small [&_td+td]:pl-2 [&_th+th]:pl-2">
				<thead>
					<tr class="text-muted border-strong-line border-b align-bottom text-small">
						<th class="text-left font-normal">Pull</th><th class="font-normal">Leanest, %</th><th
							class="font-normal">{preferences.shown(1, 'λ', data.stoich).unit}</th
						><th class="font-normal">Timing, °</th><th class="font-normal">Duty, %</th><th class="font-normal"
							>Worst day, %</th
						>
					</tr>
				</thead>
				<tbody class="numbers whitespace-nowrap">
					{#each r.pulls as p, i (p.from)}
						<tr class="border-line border-b {i === (pick ?? widest) ? 'bg-shade' : ''}">
							<td class="py-1 text-left"
								><button
									class="cursor-pointer underline"
									aria-pressed={i === (pick ?? widest)}
									onclick={() => (pick = i)}>{i + 1} at {clock(p.from)}</button
								></td
							>
							<td>{pair(p.summary.leanestPct, 1, true)}</td><td>{lambdaPair(p.summary.leanestLambda)}</td><td
								>{pair(p.summary.sparkMaxDeg, 1)}</td
							><td>{pair(p.summary.dutyPct, 0)}</td><td>{pair(p.summary.dutyWorstDayPct, 0)}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</section>
	</div>
	{#if r.cylinders}<CylindersReplayed cylinders={r.cylinders} revision={data.rev.number} />{/if}
	{#if rows && r.map}
		<section class="mt-5" aria-label="Error map">
			<div class="mb-2 flex items-center gap-2">
				<h2 class="mr-3">Off target</h2>
				{#each [['after', `Predicted with R${data.rev.number}`], ['before', 'As logged']] as const as [id, title] (id)}
					<button
						class="button {when === id ? 'button-main' : ''}"
						aria-pressed={when === id}
						onclick={() => (when = id)}>{title}</button
					>
				{/each}
			</div>
			<CellMap
				map={rows}
				x={r.map.x}
				y={r.map.y}
				xLabel={axisTitle(r.map.xChannel)}
				yLabel={axisTitle(r.map.yChannel)}
				yUnit={axisUnit({ channel: r.map.yChannel, unit: r.map.yUnit })}
				caption="Percent that the engine would want more (+, lean) or less (−, rich) fuel, trims at zero."
			/>
		</section>
	{/if}
{/if}
