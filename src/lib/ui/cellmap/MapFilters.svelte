<script lang="ts">
	/** What a cell map shows: quantity, axes, and which samples count. */
	import { axisTitle } from '$core/calibration/axes';
	import type { EvidenceAbout } from '$lib/workers/evidence.worker';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { convert } from '$core/units/units';
	import type { MapView } from './view.svelte';

	interface Props {
		map: MapView;
		about: EvidenceAbout;
		durationS: number;
	}
	let { map, about, durationS }: Props = $props();
	const preferences = usePreferences();
	const KINDS = [
		['idle', 'Idle'],
		['cruise', 'Cruise'],
		['light', 'Light acceleration'],
		['medium', 'Medium acceleration'],
		['loaded', 'Loaded'],
		['pull', 'Pulls'],
		['boosted', 'Under boost']
	] as const;
	const SHOWS = [
		['value', 'means'],
		['field', 'field'],
		['samples', 'samples'],
		['scatter', 'scatter']
	] as const;
	const number = (text: string) =>
		text.trim() === '' || !Number.isFinite(Number(text)) ? null : Number(text);
	const celsius = (text: string) => {
		const v = number(text);
		return v === null ? null : convert(v, preferences.units.temperature, '°C');
	};
</script>

<form class="text-small" aria-label="What the map shows" onsubmit={(e) => e.preventDefault()}>
	<label class="mb-2 block"
		>Quantity
		<select class="w-full" value={map.what?.id} onchange={(e) => (map.quantity = e.currentTarget.value)}>
			{#each about.quantities as q (q.id)}<option value={q.id}>{q.title}</option>{/each}
		</select></label
	>
	<label class="mb-2 block"
		>Axes
		<select class="w-full" bind:value={map.axesChoice}>
			{#each about.axes as a, i (a.title)}<option value={String(i)}>{a.title}</option>{/each}
			<option value="own">my own</option>
		</select></label
	>
	{#if map.axesChoice === 'own'}
		{#each ['x', 'y'] as const as axis (axis)}
			{@const answer = map.typed[axis]}
			<fieldset class="mb-2">
				<label class="block"
					>{axis === 'x' ? 'Across' : 'Up'}
					<select
						class="w-full"
						aria-label="Channel {axis === 'x' ? 'across' : 'up'}"
						value={axis === 'x' ? map.own.xChannel : map.own.yChannel}
						onchange={(e) => {
							if (axis === 'x') map.own.xChannel = e.currentTarget.value;
							else map.own.yChannel = e.currentTarget.value;
						}}
					>
						{#each about.channels as c (c)}<option value={c}>{axisTitle(c)}</option>{/each}
					</select></label
				>
				<label class="mt-1 block"
					><span class="sr-only">Breakpoints {axis === 'x' ? 'across' : 'up'}</span>
					<input
						class="numbers w-full"
						bind:value={map.own[axis]}
						aria-invalid={'problem' in answer}
					/></label
				>
				{#if 'problem' in answer}<p role="alert" class="text-stop">{answer.problem}</p>{/if}
			</fieldset>
		{/each}
	{/if}
	<fieldset class="mb-3">
		<legend class="small-caps">Show</legend>
		{#each SHOWS.filter(([id]) => id !== 'field' || map.hasField) as [id, word] (id)}
			<label class="mr-2 inline-flex items-center gap-1"
				><input type="radio" name="show" value={id} bind:group={map.show} />{word}</label
			>
		{/each}
	</fieldset>
	<fieldset class="mb-3">
		<legend class="small-caps">Driving</legend>
		{#each KINDS as [kind, word] (kind)}
			<label class="flex items-center gap-1.5"
				><input
					type="checkbox"
					checked={map.filter.kinds.includes(kind)}
					onchange={() => map.toggleKind(kind)}
				/>{word}</label
			>
		{/each}
		{#if map.what?.fuel}
			<label class="mt-1 flex items-center gap-1.5"
				><input type="checkbox" bind:checked={map.filter.withUnusable} />also tip-in, cut, warm-up</label
			>
		{/if}
	</fieldset>
	{#if about.gears.length}
		<label class="mb-2 block"
			>Gear
			<select
				class="w-full"
				value={String(map.filter.gear)}
				onchange={(e) => (map.filter.gear = Number(e.currentTarget.value))}
			>
				<option value="0">any</option>
				{#each about.gears as g (g)}<option value={String(g)}>{g}</option>{/each}
			</select></label
		>
	{/if}
	<div class="mb-2 grid grid-cols-2 gap-2">
		<label
			>From, s<input
				class="numbers w-full"
				inputmode="decimal"
				value={map.filter.fromS}
				oninput={(e) => (map.filter.fromS = number(e.currentTarget.value) ?? 0)}
			/></label
		>
		<label
			>to, s<input
				class="numbers w-full"
				inputmode="decimal"
				value={Math.round(map.filter.toS * 10) / 10}
				oninput={(e) => (map.filter.toS = number(e.currentTarget.value) ?? durationS)}
			/></label
		>
		<label
			>Coolant from, {preferences.units.temperature}<input
				class="numbers w-full"
				inputmode="decimal"
				oninput={(e) => (map.filter.coolantMinC = celsius(e.currentTarget.value))}
			/></label
		>
		<label
			>Intake to, {preferences.units.temperature}<input
				class="numbers w-full"
				inputmode="decimal"
				oninput={(e) => (map.filter.intakeMaxC = celsius(e.currentTarget.value))}
			/></label
		>
	</div>
	{#if map.what?.fuel && about.lambdas.length > 1}
		<label class="mb-2 block"
			>Lambda source
			<select class="w-full" bind:value={map.lambda}>
				<option value="believed">what is believed</option>
				{#each about.lambdas as l (l)}<option value={l}>{axisTitle(l)}</option>{/each}
			</select></label
		>
	{/if}
	<label class="mb-3 block"
		>Weighting
		<select class="w-full" bind:value={map.method}>
			<option value="bilinear">the four cells around</option>
			<option value="nearest">the nearest cell</option>
		</select></label
	>
	{#if map.filtered}
		<button type="button" class="button" onclick={() => map.openFilters()}>Take the filters off</button>
	{/if}
</form>
