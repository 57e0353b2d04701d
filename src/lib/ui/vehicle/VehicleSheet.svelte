<script lang="ts">
	/** The build sheet as a form, and beside it what can't be checked while something is missing. */
	import Field from '$lib/ui/Field.svelte';
	import { CHANNELS } from '$core/channels/canonical';
	import { SENSOR_ROWS, SHEET, type Field as SheetField } from '$core/vehicle/fields';
	import { needsOf } from '$core/vehicle/needs';
	import { usualSeat } from '$core/vehicle/seats';
	import { vehicleFromSheet } from '$core/vehicle/sheet';
	import type { Refused } from '../form-message';
	import { usePreferences } from '../preferences.svelte';
	import UnitField from './UnitField.svelte';
	import { fieldUnit, turns } from './field-units';

	let {
		fields = $bindable(),
		refused = null
	}: {
		fields: Record<string, string>;
		/** What was sent and refused, and why, by field; each is said until its field is changed. */
		refused?: Refused | null;
	} = $props();
	const problemOf = (path: string) =>
		refused && refused.entered[path] === (fields[path] ?? '').trim() ? refused.fields[path] : undefined;

	const lambdas = [...CHANNELS.values()].filter(
		(c) => c.id.startsWith('lambda.') && c.id !== 'lambda.target'
	);
	const SITES = ['bank1', 'bank2', 'collector', ...Array.from({ length: 16 }, (_, i) => `cyl${i + 1}`)];
	const KINDS = [
		['factory', "the controller's own"],
		['independent', 'independent instrument'],
		['dyno', "the dyno's"],
		['narrowband', 'narrowband']
	] as const;

	/** What is known so far; what is still wrong or missing is filled up for the moment, so that the list beside it stays. */
	const needs = $derived.by(() => {
		const shown = {
			...fields,
			name: fields['name'] || 'x',
			'engine.cylinders': fields['engine.cylinders'] || '4',
			'engine.aspiration': fields['engine.aspiration'] || 'na',
			'engine.revLimitRpm': fields['engine.revLimitRpm'] || '6000'
		};
		try {
			return needsOf(vehicleFromSheet(shown));
		} catch {
			return null;
		}
	});
	let rows = $state(1);
	const shownRows = $derived(
		Math.max(
			rows,
			...Array.from({ length: SENSOR_ROWS }, (_, i) => (fields[`sensor.${i}.channel`] ? i + 1 : 0))
		)
	);
	/** A sensor sits where its channel says until somebody says otherwise; an instrument is no part of the controller. */
	function seat(i: number): void {
		const channel = fields[`sensor.${i}.channel`] ?? '';
		const two = /^(v|flat)$/.test(fields['engine.layout'] ?? '');
		fields[`sensor.${i}.site`] = usualSeat(channel, two ? 2 : 1);
		fields[`sensor.${i}.kind`] = /^lambda\.b[12]$/.test(channel) ? 'factory' : 'independent';
	}
	const preferences = usePreferences();
	const label = (f: SheetField) => {
		const unit = fieldUnit(f, preferences.units);
		return `${f.label}${unit ? `, ${unit}` : ''}${f.required ? ' · needed' : ''}`;
	};
</script>

<div class="grid grid-cols-[minmax(0,1fr)_270px] items-start gap-8">
	<div>
		{#each SHEET as section (section.title)}
			<fieldset class="border-line mb-5 border-t pt-2">
				<legend class="float-left mb-2 w-full">{section.title}</legend>
				<div class="clear-both grid grid-cols-3 gap-x-4 gap-y-3">
					{#each section.fields as f (f.path)}
						<Field
							title={label(f)}
							problem={problemOf(f.path)}
							class="block {f.kind === 'pairs' || f.path === 'name' ? 'col-span-2' : ''}"
						>
							{#snippet children(bound)}
								{#if f.kind === 'choice'}
									<select name={f.path} bind:value={fields[f.path]} {...bound}>
										{#each f.choices ?? [] as [value, word] (value)}<option {value}>{word}</option>{/each}
									</select>
								{:else if turns(f)}
									<UnitField field={f} bind:value={fields[f.path]} {bound} />
								{:else}
									<input
										name={f.path}
										bind:value={fields[f.path]}
										required={f.required}
										autocomplete="off"
										inputmode={f.kind === 'number' ? 'decimal' : undefined}
										placeholder={f.hint}
										{...bound}
									/>
								{/if}
							{/snippet}
						</Field>
					{/each}
				</div>
				{#if section.title === 'Sensors'}
					<h3 class="mt-3 mb-1 text-small">Lambda sensors, and where they sit</h3>
					{#each Array.from({ length: shownRows }, (_, i) => i) as i (i)}
						<div class="mb-2 grid grid-cols-4 gap-3">
							<select
								name="sensor.{i}.channel"
								aria-label="Channel of sensor {i + 1}"
								bind:value={fields[`sensor.${i}.channel`]}
								onchange={() => seat(i)}
							>
								<option value="">no sensor</option>
								{#each lambdas as c (c.id)}<option value={c.id}>{c.title}</option>{/each}
							</select>
							{#if fields[`sensor.${i}.channel`]}
								<select
									name="sensor.{i}.kind"
									aria-label="Kind of sensor {i + 1}"
									bind:value={fields[`sensor.${i}.kind`]}
								>
									{#each KINDS as [value, word] (value)}<option {value}>{word}</option>{/each}
								</select>
								<select
									name="sensor.{i}.site"
									aria-label="Place of sensor {i + 1}"
									bind:value={fields[`sensor.${i}.site`]}
								>
									{#each SITES as site (site)}<option value={site}
											>{site.replace(/(\d+)/, ' $1').replace('cyl', 'cylinder')}</option
										>{/each}
								</select>
								<select
									name="sensor.{i}.compensated"
									aria-label="Pressure compensation of sensor {i + 1}"
									bind:value={fields[`sensor.${i}.compensated`]}
								>
									<option value="">compensation not known</option>
									<option value="yes">pressure compensated</option>
									<option value="no">not compensated</option>
								</select>
							{/if}
						</div>
					{/each}
					{#if shownRows < SENSOR_ROWS}
						<button type="button" class="button" onclick={() => (rows = shownRows + 1)}>Another sensor</button
						>
					{/if}
				{/if}
			</fieldset>
		{/each}
	</div>
	<aside class="sticky top-4" aria-label="What can't be checked without it">
		<h2 class="mb-1">Can't be checked without it</h2>
		{#if needs === null}
			<p class="text-muted">Something in the form can't be read yet.</p>
		{:else if needs.length === 0}
			<p>Nothing waits for a fact of this vehicle.</p>
		{:else}
			<ul class="text-small">
				{#each needs as n (n.label + n.without)}
					<li class="border-line border-b py-1.5">
						<span class="font-semibold">{n.label}</span><br /><span class="text-muted">{n.without}</span>
					</li>
				{/each}
			</ul>
		{/if}
	</aside>
</div>
