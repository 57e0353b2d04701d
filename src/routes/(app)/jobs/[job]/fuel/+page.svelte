<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** What the job is to reach, and how far its injectors and its pump go: a warm day, the worst day, every blend. */
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { DUTY_MAX_PCT } from '$core/fuelling/duty-limit';
	import Fills from '$lib/ui/fuel/Fills.svelte';
	import FuelPlanView from '$lib/ui/fuel/FuelPlanView.svelte';
	import Stages from '$lib/ui/fuel/Stages.svelte';
	import WorstDay from '$lib/ui/fuel/WorstDay.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const typed = $derived<Record<string, string>>(
		// Another form of this page may have failed: the goal stays as it is then.
		form && 'entered' in form && form.entered && 'powerHp' in form.entered
			? (form.entered as Record<string, string>)
			: data.fields
	);
	const FIELDS = [
		['powerHp', 'Power, hp'],
		['boostKpa', 'Boost by engine speed, rpm: kPa absolute'],
		['revLimitRpm', 'Rev limit, rpm'],
		['ethanolPct', 'Ethanol, %'],
		['candidatesCcMin', 'Injectors to choose from, cm³/min'],
		['dutyMaxPct', `Highest duty on the worst day, % (${DUTY_MAX_PCT})`],
		['pumpLh', 'Pump at the rail under this boost, l/h'],
		['timingCeilingDeg', 'Timing ceiling, °'],
		['shiftRpm', 'Full-throttle shifts, gear: rpm']
	] as const;
	const EXAMPLES: Record<string, string> = {
		boostKpa: '3000: 180, 6500: 200',
		candidatesCcMin: '850, 1050 at 400 kPa 1.1 ms',
		shiftRpm: '1: 6500, 2: 6600'
	};
</script>

<svelte:head><title>Targets and fuel – Tanto</title></svelte:head>

<PageHead
	title="Targets and fuel"
	says={['what the job is to reach', 'whether injectors and pump go there, on a warm day and on the coldest']}
/>
<Alert box message={messageOf(form)} class="mb-4" />

<form
	method="POST"
	action="?/goal"
	class="mb-6"
	use:enhance={() =>
		async ({ update }) =>
			update({ reset: false })}
>
	<div class="grid grid-cols-4 gap-x-4 gap-y-3">
		{#each FIELDS as [name, label] (name)}
			<label class={name in EXAMPLES ? 'col-span-2' : ''}
				><span class="text-small">{label}</span><input
					{name}
					value={typed[name]}
					autocomplete="off"
					placeholder={EXAMPLES[name] ?? ''}
				/></label
			>
		{/each}
		<WorstDay
			values={{
				worstDayC: typed['worstDayC'] ?? '',
				worstDayAir: typed['worstDayAir'] ?? '',
				worstDayBy: typed['worstDayBy'] ?? ''
			}}
		/>
	</div>
	<div class="mt-3 flex flex-wrap items-end gap-4">
		<button class="button button-main">Save targets</button>
		<label class="flex items-center gap-2 text-text"
			><input type="checkbox" name="plugsEachRung" class="w-auto!" checked={typed['plugsEachRung'] !== ''} /> plugs
			out at every step</label
		>
		<label class="flex items-center gap-2 text-text"
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
	<FuelPlanView
		plan={data.plan}
		dutyMaxPct={data.goalDutyPct ?? DUTY_MAX_PCT}
		ethanol={typed['ethanolPct'] ?? ''}
		own={data.own}
	/>
{:else}
	<p role="status" class="text-muted">
		Nothing is planned yet: {data.problem}.
		{#if data.basis !== null}<a class="underline" href="?log=none">Plan from the figures</a>{/if}
	</p>
{/if}
<Stages stages={data.stages} />
<Fills fills={data.fills} />
