<script lang="ts">
	/** From the table to the engine: a row of pictures per quantity, and the link that broke. */
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { extent, ticks } from 'd3-array';
	import type { Line } from '$core/delivered/line';
	import { plural } from '$core/format';
	import DeliveryTable from '$lib/ui/evidence/DeliveryTable.svelte';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import DeliveryRow from '$lib/ui/pictures/DeliveryRow.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const evidence = useEvidence(() => data.log.id);
	let lines = $state.raw<Line[] | null>(null);
	$effect(() => {
		if (!evidence.about || !evidence.api) return;
		void evidence.api.delivered().then((v) => (lines = v));
	});
	const driven = $derived((lines ?? []).filter((l) => l.axis.points.length > 0));
	const broken = $derived(driven.filter((l) => l.broken).length);
	const STEPS = [
		['written', 'commanded'],
		['commanded', 'delivered'],
		['delivered', 'measured']
	] as const;
	/** Quantities over engine speed share their axis; gears have one of their own. */
	const bySpeed = $derived(driven.filter((l) => l.axis.unit === 'rpm'));
	const others = $derived(driven.filter((l) => l.axis.unit !== 'rpm'));
	const speeds = $derived(
		extent(bySpeed.flatMap((l) => l.axis.points)) as [number, number] | [undefined, undefined]
	);
	const domain = $derived<[number, number]>([(speeds[0] ?? 0) - 100, (speeds[1] ?? 1000) + 100]);
	const figures = $derived(ticks(domain[0], domain[1], 3));
	const plan = $derived(`/jobs/${data.job.id}/plan`);
</script>

<svelte:head><title>Delivered against commanded in {data.log.name} – Tanto</title></svelte:head>

<PageHead
	title={data.log.title}
	says={[
		'delivered against commanded',
		'full load by engine speed',
		lines && (broken ? `${plural(broken, 'link')} broken` : 'no link broken')
	]}
/>
<Loading {evidence} />
{#if lines}
	{#if driven.length === 0}
		<p>
			Nothing was driven at full load in this log. <a class="underline" href="{plan}?template=full-throttle"
				>Ask for a pull</a
			>
		</p>
	{:else}
		<div class="steps">
			<span class="text-muted">{plural(driven.length, 'quantity', 'quantities')}</span>
			{#each STEPS as [asked, came] (asked)}<span
					><i class="dash"></i>{asked} <i class="solid"></i><b>{came}</b></span
				>{/each}
		</div>
		{#each bySpeed as l (l.quantity)}<DeliveryRow line={l} stoich={data.stoich} {domain} {plan} />{/each}
		<div class="axis" aria-hidden="true">
			<span></span>
			{#each STEPS as [asked] (asked)}
				<span class="figures">
					{#each figures as f (f)}<i
							style="left: calc(49px + {(f - domain[0]) / (domain[1] - domain[0])} * (100% - 64px))">{f}</i
						>{/each}
					<b>rpm</b>
				</span>
			{/each}
		</div>
		{#each others as l (l.quantity)}<DeliveryTable line={l} stoich={data.stoich} />{/each}
		{#if bySpeed.length}
			<details class="mt-4">
				<summary>The same in figures</summary>
				<div class="mt-3">
					{#each bySpeed as l (l.quantity)}<DeliveryTable line={l} stoich={data.stoich} />{/each}
				</div>
			</details>
		{/if}
	{/if}
{/if}

<style>
	.steps,
	.axis {
		display: grid;
		grid-template-columns: 184px repeat(3, minmax(0, 1fr));
		gap: 0 20px;
		font-size: 13px;
	}
	.steps {
		border-bottom: 1px solid var(--strong-line);
		padding-bottom: 6px;
	}
	.steps i {
		display: inline-block;
		width: 18px;
		margin: 0 5px 3px 0;
		border-top: 2px solid var(--trace-1);
	}
	.steps i.dash {
		border-top-style: dashed;
	}
	.steps i.solid {
		margin-left: 12px;
	}
	.steps b {
		font-weight: 600;
	}
	.steps span + span {
		padding-left: 9px;
	}
	.axis {
		margin-bottom: 16px;
	}
	.figures {
		position: relative;
		height: 20px;
		font-family: var(--font-mono);
		font-size: 11.5px;
		color: var(--muted);
	}
	.figures i {
		position: absolute;
		font-style: normal;
		transform: translateX(-50%);
	}
	.figures b {
		position: absolute;
		right: 0;
		background: var(--paper);
		padding-left: 4px;
		font-weight: 400;
	}
</style>
