<script lang="ts">
	/** Other injectors are fitted: their data, what they change in the calibration, and one press that does all of it. */
	import { enhance } from '$app/forms';
	import { plural } from '$core/format';
	import { onMount } from 'svelte';
	import { FIELDS } from '$core/vehicle/fields';
	import Alert from '$lib/ui/Alert.svelte';
	import { signedText } from '$lib/ui/cellmap/colour';
	import { messageOf } from '$lib/ui/form-message';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { fieldUnit } from '$lib/ui/vehicle/field-units';
	import UnitField from '$lib/ui/vehicle/UnitField.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const ASKED = [
		['injectors.flowCcMin', 'Flow'],
		['injectors.ratedPressureKpa', 'Rated at'],
		['injectors.testFluidKgL', 'Density of the test fluid'],
		['injectors.deadTimeMs', 'Dead time by supply']
	] as const;
	const fields = ASKED.flatMap(([path, title]) => {
		const field = FIELDS.find((f) => f.path === path);
		return field ? [{ field, title }] : [];
	});
	const entered = $derived<Record<string, string>>(form?.entered ?? {});
	// svelte-ignore state_referenced_locally
	let values = $state<Record<string, string>>({ ...(form?.entered ?? {}) });
	/** Local time, as the field of a browser has it. */
	const localNow = () => {
		const now = new Date();
		return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
	};
	let at = $state('');
	onMount(() => (at = localNow()));
	const plan = $derived(form && 'plan' in form ? form.plan : null);
	const fuel = $derived(plan?.effectiveFuelPct ?? null);
	const unitOf = (f: (typeof fields)[number]['field']) => fieldUnit(f, preferences.units);
</script>

<svelte:head><title>Other injectors – Tanto</title></svelte:head>

<PageHead title="Other injectors" says={[data.job.vehicle.name, 'the engine gets the same fuel from them']} />
<Alert box message={messageOf(form)} class="mb-4" />
{#if data.draft}
	<p class="border-fix mb-4 border-l-4 pl-3">
		<a class="underline" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
			>R{data.draft.number} is still a draft</a
		>: release or discard it first. What changes can be looked at before.
	</p>
{/if}
<form
	method="POST"
	class="mb-6"
	use:enhance={({ formData }) => {
		formData.set('at', at ? new Date(at).toISOString() : '');
		return async ({ update }) => update({ reset: false });
	}}
>
	<table class="mb-3">
		<thead>
			<tr class="text-muted text-small">
				<th class="w-56 text-left font-normal"></th>
				<th class="w-40 text-left font-normal">now fitted</th>
				<th class="text-left font-normal">new</th>
			</tr>
		</thead>
		<tbody>
			{#each fields as { field, title } (field.path)}
				<tr class="border-line border-t">
					<th class="py-1.5 text-left font-normal">{title}{unitOf(field) ? `, ${unitOf(field)}` : ''}</th>
					<td class="numbers">{data.now[field.path] || '–'}</td>
					<td class="w-96 py-1.5"
						><label aria-label="{title} of the new injectors"
							><UnitField {field} bind:value={values[field.path]} /></label
						></td
					>
				</tr>
			{/each}
			<tr class="border-line border-t">
				<th class="py-1.5 text-left font-normal">Fitted on</th>
				<td></td>
				<td class="py-1.5"
					><label aria-label="Fitted on"><input type="datetime-local" bind:value={at} /></label></td
				>
			</tr>
			<tr class="border-line border-y">
				<th class="py-1.5 text-left font-normal">In words</th>
				<td></td>
				<td class="py-1.5"
					><input
						name="what"
						aria-label="In words"
						placeholder="set and number of the flow sheet"
						value={entered['what'] ?? ''}
					/></td
				>
			</tr>
		</tbody>
	</table>
	<div class="flex items-center gap-3">
		<button class="button {plan ? '' : 'button-main'}" formaction="?/plan">Show what changes</button>
		{#if plan && !data.draft}<button class="button button-main" formaction="?/take"
				>Fit them and make the draft</button
			>{/if}
		<span class="text-muted text-small"
			>{plan && !data.draft
				? `The sheet, an event on the timeline and a draft from R${plan.revision}, at once.`
				: 'Nothing is changed yet.'}</span
		>
	</div>
</form>

{#if plan}
	<div class="grid grid-cols-[minmax(0,1fr)_20rem] gap-8">
		<section aria-label="What changes">
			<h2>In the calibration</h2>
			{#if plan.changes.length}
				<table class="w-full">
					<tbody>
						{#each plan.changes as c (c.title)}
							<tr class="border-line border-b">
								<th class="py-1.5 text-left font-semibold">{c.title}</th>
								<td class="numbers text-right">{c.from} → {c.to} {c.unit}</td>
								<td class="text-muted text-small pl-3"
									>{c.cells > 1 ? `${plural(c.cells, 'cell')}; ` : ''}{c.reason}</td
								>
							</tr>
						{/each}
					</tbody>
				</table>
			{:else}<p>Nothing: they flow as the ones before.</p>{/if}
			{#if fuel}
				<p class="mt-2" data-testid="effective">
					What the engine gets changes by
					<span class="numbers">{signedText(fuel.min)} to {signedText(fuel.max)} %</span> over the fuel table.
				</p>
			{/if}
			{#if plan.look.length}
				<p class="border-watch mt-3 border-l-4 pl-3">
					Also a pulse or a pressure, and left as it is: {plan.look.join(', ')}. Look whether it goes with the
					injectors.
				</p>
			{/if}
		</section>
		<section aria-label="Before the first drive">
			<h2>Before the first drive</h2>
			<ul class="list-disc pl-4">
				{#each plan.reset as r (r)}<li class="py-0.5">{r}</li>{/each}
			</ul>
		</section>
	</div>
{/if}
