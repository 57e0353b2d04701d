<script lang="ts">
	/** What the job is to reach, and how far its injectors and its pump go: a warm day, the worst day, every blend. */
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { DUTY_MAX_PCT } from '$core/fuelling/goal';
	import { fixed, fixedOrDash } from '$core/format';
	import LaneStack from '$lib/ui/lanes/LaneStack.svelte';
	import { ETHANOL } from '$lib/ui/lanes/scale';
	import type { Lane } from '$lib/ui/lanes/types';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const typed = $derived<Record<string, string>>(
		form && 'entered' in form && form.entered ? (form.entered as Record<string, string>) : data.fields
	);
	const most = $derived(data.goalDutyPct ?? DUTY_MAX_PCT);
	const FIELDS = [
		['powerHp', 'Power, hp'],
		['boostKpa', 'Boost by engine speed, rpm: kPa absolute'],
		['revLimitRpm', 'Rev limit, rpm'],
		['ethanolPct', 'Ethanol, %'],
		['candidatesCcMin', 'Injectors to choose from, cm³/min'],
		['dutyMaxPct', `Highest duty on the worst day, % (${DUTY_MAX_PCT})`],
		['pumpLh', 'Pump at the rail under this boost, l/h'],
		['timingCeilingDeg', 'Timing ceiling, °']
	] as const;
	const flows = $derived([...new Set(data.plan?.table.map((r) => r.flowCcMin) ?? [])]);
	const shares = $derived([...new Set(data.plan?.table.map((r) => r.ethanolPct) ?? [])]);
	const cell = (flow: number, e: number) =>
		data.plan?.table.find((r) => r.flowCcMin === flow && r.ethanolPct === e);
	const TONES = ['first', 'second', 'third'] as const;
	const lane = $derived<Lane>({
		id: 'duty',
		title: 'Duty on the worst day',
		unit: '%',
		decimals: 0,
		height: 220,
		minSpan: 20,
		limit: { from: most, side: 'above', label: `over ${fixed(most, 0)} %` },
		series: flows.map((f, i) => ({
			label: `${fixed(f, 0)} cm³/min`,
			x: shares,
			y: shares.map((e) => cell(f, e)?.dutyWorstPct ?? null),
			tone: TONES[i % TONES.length]!,
			dashed: i >= TONES.length
		}))
	});
	const PUMP = { enough: 'enough', short: 'short', unknown: 'not stated' } as const;
</script>

<svelte:head><title>Goal and fuel – Tanto</title></svelte:head>

<h1 class="mb-1">Goal and fuel</h1>
<p class="text-muted mb-4 max-w-[80ch]">
	What the job is to reach, and whether the injectors and the pump go there: on a warm day, and on the coldest
	one, which takes the most fuel.
</p>
{#if form && 'message' in form}<p role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
		{form.message}
	</p>{/if}

<form
	method="POST"
	class="mb-6"
	use:enhance={() =>
		async ({ update }) =>
			update({ reset: false })}
>
	<div class="grid grid-cols-4 gap-x-4 gap-y-3">
		{#each FIELDS as [name, label] (name)}
			<label class={name === 'boostKpa' || name === 'candidatesCcMin' ? 'col-span-2' : ''}
				><span class="text-[13px]">{label}</span><input
					{name}
					value={typed[name]}
					autocomplete="off"
					placeholder={name === 'boostKpa'
						? '3000: 180, 6500: 200'
						: name === 'candidatesCcMin'
							? '850, 1050, 1300'
							: ''}
				/></label
			>
		{/each}
	</div>
	<div class="mt-3 flex flex-wrap items-end gap-4">
		<button class="button button-main">Keep the goal</button>
		<label class="flex items-center gap-2 text-[14px]"
			>planned from <select
				class="w-72!"
				value={data.basis === null ? 'none' : String(data.basis)}
				onchange={(e) => void goto(`${page.url.pathname}?log=${e.currentTarget.value}`)}
			>
				{#each data.logs as l (l.id)}<option value={String(l.id)}>{l.title}, {l.name}</option>{/each}
				<option value="none">the figures above</option>
			</select></label
		>
		{#if form && 'saved' in form}<span role="status">Kept.</span>{/if}
	</div>
</form>

{#if data.plan}
	{@const { plan } = data}
	<section aria-label="What it needs" class="mb-4">
		{#each plan.says as s (s)}<p class="border-fix mb-2 border-l-4 px-3 py-1">{s}</p>{/each}
		<dl class="border-line flex border-y">
			{#each [['Duty today', plan.now.dutyPct === null ? '–' : `${fixed(plan.now.dutyPct, 0)} %`], ['Most ethanol on the injectors that are in', plan.largestEthanolPct === null ? 'none' : `${fixed(plan.largestEthanolPct, 0)} %`], ['Smallest injectors for the goal', plan.smallestFlowCcMin === null ? 'none of these' : `${fixed(plan.smallestFlowCcMin, 0)} cm³/min`], ['Fuel on the worst day', `${fixed(plan.fuelLh, 0)} l/h`], ['Pump', PUMP[plan.pump]]] as const as [what, value] (what)}
				<div class="border-line flex-1 border-r px-2 py-1.5 last:border-r-0">
					<dd class="text-[18px] leading-6 font-semibold {value === 'short' ? 'text-stop' : ''}">{value}</dd>
					<dt class="text-[13px]">{what}</dt>
				</div>
			{/each}
		</dl>
	</section>
	<div class="grid grid-cols-2 items-start gap-8">
		<section aria-label="Duty by blend and injector">
			<h2 class="mb-1">Duty, warm day and worst day, %</h2>
			<table class="w-full text-right text-[14px]">
				<thead
					><tr class="text-muted border-strong-line border-b text-[13px]"
						><th class="text-left font-normal">Ethanol, %</th>{#each flows as f (f)}<th
								class="font-normal"
								colspan="2">{fixed(f, 0)} cm³/min{f === data.own ? ', in' : ''}</th
							>{/each}</tr
					></thead
				>
				<tbody>
					{#each shares as e (e)}
						<tr class="border-line border-b {String(e) === typed['ethanolPct'] ? 'font-semibold' : ''}">
							<th scope="row" class="numbers text-left font-normal">{fixed(e, 0)}</th>
							{#each flows as f (f)}
								{@const c = cell(f, e)}
								<td class="numbers text-muted py-0.5">{fixedOrDash(c?.dutyWarmPct, 0)}</td>
								<td class="numbers py-0.5 {c && c.dutyWorstPct > most ? 'text-stop font-semibold' : ''}"
									>{fixedOrDash(c?.dutyWorstPct, 0)}{c && c.dutyWorstPct > most ? ' over' : ''}</td
								>
							{/each}
						</tr>
					{/each}
				</tbody>
			</table>
			<p class="text-muted mt-2 text-[13px]">
				{plan.basis === 'log'
					? 'From the pulse of the log, without its dead time, carried over to the boost, the rev limit and the day.'
					: 'From the power, with the middle of the handbook’s fuel consumption; a log says it better.'}
			</p>
		</section>
		<section aria-label="Plot">
			<LaneStack
				lanes={[lane]}
				min={Math.min(...shares)}
				max={Math.max(...shares)}
				axis={ETHANOL}
				label="Injector duty on the worst day over the share of ethanol, one line for each injector"
			/>
		</section>
	</div>
{:else}
	<p role="status" class="text-muted">
		Nothing is planned yet: {data.problem}.
		{#if data.basis !== null}<a class="underline" href="?log=none">Plan from the figures</a>{/if}
	</p>
{/if}
