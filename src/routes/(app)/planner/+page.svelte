<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** The fuel planner before there is a job: figures in, injectors and pump out. Nothing is kept. */
	import { demandFromFigures } from '$core/fuelling/demand';
	import { parseGoal } from '$core/fuelling/goal';
	import { dutyMaxOf } from '$core/fuelling/duty-limit';
	import { planFuel, type FuelPlan } from '$core/fuelling/plan';
	import { InputError } from '$core/input-error';
	import { profileOf } from '$core/limits/profile';
	import { FIELDS, type Field } from '$core/vehicle/fields';
	import { vehicleFromSheet } from '$core/vehicle/sheet';
	import FuelPlanView from '$lib/ui/fuel/FuelPlanView.svelte';
	import WorstDay from '$lib/ui/fuel/WorstDay.svelte';
	import { fieldsOf, goalFrom, type GoalFields } from '$lib/ui/goal-form';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { fieldUnit } from '$lib/ui/vehicle/field-units';
	import UnitField from '$lib/ui/vehicle/UnitField.svelte';

	const preferences = usePreferences();
	const ENGINE = [
		'engine.cylinders',
		'engine.aspiration',
		'engine.revLimitRpm',
		'fuel.ethanolPct',
		'injectors.flowCcMin',
		'injectors.ratedPressureKpa',
		'injectors.basePressureKpa',
		'injectors.pressureReference',
		'injectors.injectionsPerCycle',
		'injectors.deadTimeMs',
		'engine.injection',
		'injectors.windowDeg'
	].map((path) => FIELDS.find((f) => f.path === path)!);
	const GOAL = [
		['powerHp', 'Power, hp', ''],
		['ethanolPct', 'Ethanol wanted, %', ''],
		['boostKpa', 'Boost by engine speed, rpm: kPa absolute', '3000: 180, 6500: 200'],
		['candidatesCcMin', 'Injectors to choose from, cm³/min', '850, 1050 at 400 kPa 1.1 ms'],
		['dutyMaxPct', 'Highest duty on the worst day, %', '80'],
		['pumpLh', 'Pump at the rail under this boost, l/h', '']
	] as const;
	let sheet = $state<Record<string, string>>({ name: 'planned', 'engine.aspiration': 'turbo' });
	let goal = $state<GoalFields>(fieldsOf(parseGoal({ schema: 'tanto.goal/1' })));
	const label = (f: Field) => {
		const unit = fieldUnit(f, preferences.units);
		return `${f.label}${unit ? `, ${unit}` : ''}`;
	};
	const NEEDED = ['engine.cylinders', 'engine.revLimitRpm'];
	const answer = $derived.by((): { plan: FuelPlan; dutyMaxPct: number } | { problem: string } => {
		const missing = ENGINE.filter((f) => NEEDED.includes(f.path) && !sheet[f.path]?.trim());
		if (missing.length || !goal.powerHp.trim())
			return {
				problem: `still needed: ${[...(goal.powerHp.trim() ? [] : ['the power that is wanted']), ...missing.map((f) => f.label.toLowerCase())].join(', ')}`
			};
		try {
			const vehicle = vehicleFromSheet(sheet);
			const wanted = goalFrom(goal, parseGoal({ schema: 'tanto.goal/1' }));
			const plan = planFuel(
				demandFromFigures(vehicle, wanted, profileOf(vehicle.limits)),
				wanted,
				vehicle.injectors?.flowCcMin ?? null,
				vehicle.fuel?.ethanolPct ?? 0
			);
			return { plan, dutyMaxPct: dutyMaxOf(wanted) };
		} catch (e) {
			if (e instanceof InputError) return { problem: e.message };
			throw e;
		}
	});
	const own = $derived(Number(sheet['injectors.flowCcMin']) || null);
</script>

<svelte:head><title>Fuel planner – Tanto</title></svelte:head>

<main class="max-w-[1180px] px-(--gutter) pb-6">
	<PageHead title="Fuel planner" says={['before there is a job or a log', 'nothing here is kept']} />
	<p class="text-muted mb-4 max-w-[80ch]">
		Before there is a job or a log: which injectors and which pump a power takes, on a warm day and on the
		coldest one, for every blend. A log of the car says it better: in a job it stands under Targets and fuel.
		Nothing here is kept.
	</p>
	<h2 class="mb-1">Wanted</h2>
	<div class="mb-4 grid grid-cols-4 gap-x-4 gap-y-3">
		{#each GOAL as [name, title, example] (name)}
			<label class={name === 'boostKpa' || name === 'candidatesCcMin' ? 'col-span-2' : ''}
				><span class="text-small">{title}</span><input
					bind:value={goal[name]}
					autocomplete="off"
					placeholder={example}
				/></label
			>
		{/each}
		<WorstDay values={goal} oninput={(name, value) => (goal[name] = value)} />
	</div>
	<h2 class="mb-1">Engine, and the injectors that are in, as far as they are known</h2>
	<div class="mb-6 grid grid-cols-4 gap-x-4 gap-y-3">
		{#each ENGINE as f (f.path)}
			<label class={f.kind === 'pairs' ? 'col-span-2' : ''}
				><span class="text-small">{label(f)}</span>
				{#if f.kind === 'choice'}
					<select bind:value={sheet[f.path]}>
						{#each f.choices ?? [] as [value, word] (value)}<option {value}>{word}</option>{/each}
					</select>
				{:else}<UnitField field={f} bind:value={sheet[f.path]} />{/if}</label
			>
		{/each}
	</div>
	{#if 'plan' in answer}
		<FuelPlanView plan={answer.plan} dutyMaxPct={answer.dutyMaxPct} ethanol={goal.ethanolPct} {own} />
	{:else}
		<p role="status" class="text-muted">Nothing is planned yet: {answer.problem}.</p>
	{/if}
</main>
