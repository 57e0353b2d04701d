<script lang="ts">
	import BandBar from '$lib/ui/pictures/BandBar.svelte';
	import { levelText, READINESS_MARK } from '$lib/ui/readiness';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { plural } from '$core/format';
	import type { OwnLevel } from '$core/screening/levels';
	import { enhance } from '$app/forms';
	import { day } from '$lib/ui/time';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	/** A level in the reader's units; a difference has no offset there. */
	const level = (o: OwnLevel, v: number) => levelText(preferences, o, v);
	const WORD = {
		go: 'go',
		look: 'look at it',
		'no-go': "don't go",
		'not-recorded': 'not recorded',
		'not-driven': 'not driven',
		'not-stated': 'not stated'
	} as const;
</script>

<svelte:head><title>Readiness of {data.job.vehicle.name} – Tanto</title></svelte:head>

{#snippet actions()}<button class="button" onclick={() => print()}>Print this sheet</button>{/snippet}
<PageHead
	title={data.log.title}
	says={[
		`Readiness of ${data.job.vehicle.name}`,
		data.job.customer,
		data.log.name,
		`received ${day(data.log.receivedAt)}`
	]}
	{actions}
/>
<p
	class="mb-4 border-l-4 py-1 pl-3 text-lead {data.verdict.go ? 'border-clear' : 'border-stop'}"
	data-testid="go"
>
	{data.verdict.why}
</p>
<table class="w-full text-left">
	<thead>
		<tr class="table-head">
			<th class="w-[150px] py-1 font-normal">Item</th>
			<th class="w-[110px] py-1 font-normal"></th>
			<th class="py-1 font-normal">Seen</th>
			<th class="w-[200px] py-1 font-normal">Held against</th>
			<th class="w-[300px] py-1 font-normal">What is normal for it</th>
		</tr>
	</thead>
	<tbody>
		{#each data.lines as l (l.code)}
			<tr class="border-line border-b align-top">
				<td class="py-1.5 pr-3 font-semibold">{l.item}</td>
				<td class="py-1.5 pr-3 whitespace-nowrap"
					><Mark state={READINESS_MARK[l.state]} bare size={12} /> {WORD[l.state]}</td
				>
				<td class="py-1.5 pr-4">{preferences.say(l.seen)}</td>
				<td class="text-muted py-1.5 pr-4">{preferences.say(l.against)}</td>
				<td class="py-1.5"
					>{#each data.own.filter((o) => o.check === l.code) as o (o.id)}
						{@const band = o.band ?? o.kind}
						<span class="block {o.out ? 'text-watch font-semibold' : 'text-muted'}" title={o.title}
							>{#if band}<BandBar
									value={o.value}
									{band}
									out={o.out}
									kind={!o.band}
									label="{o.title}: {level(o, o.value)}, normal {level(o, band.low)} to {level(o, band.high)}"
								/>
							{/if}{level(o, o.value)}{#if o.band}{o.out ? ' is outside of its' : ', in its'}
								{level(o, o.band.low)} to {level(o, o.band.high)} over {plural(
									o.band.logs,
									'log'
								)}{:else if o.kind}; {plural(o.kind.logs, 'vehicle')} of its kind keep {level(o, o.kind.low)} to
								{level(o, o.kind.high)}{:else}, no band yet{/if}</span
						>{/each}</td
				>
			</tr>
		{/each}
	</tbody>
</table>
<p class="text-muted mt-4 text-small">
	Advice from data of unknown quality; a person decides. An engine that misfires, knocks or gets too hot is
	not driven on.
</p>

<section class="no-print mt-6" aria-label="Baselines">
	<h2 class="mb-1">The vehicle's own baselines</h2>
	<Alert message={messageOf(form)} class="mb-2" />
	{#if form && 'taken' in form}
		<p role="status" class="mb-2">
			{plural(form.taken, 'baseline')} taken over; the logs of this vehicle are judged anew.
		</p>
	{/if}
	{#if form && 'measured' in form && form.measured}
		<form method="POST" action="?/take" use:enhance>
			<table class="mb-3 text-left">
				<thead>
					<tr class="text-muted text-small">
						<th class="py-1 pr-6 font-normal"></th><th class="pr-8 font-normal">Now</th><th
							class="font-normal">In this log</th
						>
					</tr>
				</thead>
				<tbody>
					{#each form.measured as m (m.name)}
						<tr class="border-line border-b">
							<td class="py-1 pr-6"
								><label class="flex items-center gap-2"
									><input
										type="checkbox"
										name="baseline"
										value={m.name}
										disabled={m.here === 'none'}
										checked={m.here !== 'none' && m.now === 'none'}
									/>{m.title}</label
								></td
							>
							<td class="numbers pr-8">{m.now}</td>
							<td class="numbers">{m.here === 'none' ? 'this log can’t tell' : m.here}</td>
						</tr>
					{/each}
				</tbody>
			</table>
			<button class="button button-main">Take the ticked ones over</button>
		</form>
	{:else}
		<p class="text-muted mb-2">
			If the car is healthy in this log, what it shows here is what later logs are held against.
		</p>
		<form method="POST" action="?/measure" use:enhance>
			<button class="button">Measure them in this log</button>
		</form>
	{/if}
</section>
