<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** From the table to the engine: a line per quantity, and the link that broke. */
	import type { Line } from '$core/delivered/line';
	import DeliveryTable from '$lib/ui/evidence/DeliveryTable.svelte';
	import Loading from '$lib/ui/evidence/Loading.svelte';
	import { useEvidence } from '$lib/ui/evidence/worker.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const evidence = useEvidence(() => data.log.id);
	let lines = $state.raw<Line[] | null>(null);
	$effect(() => {
		if (!evidence.about || !evidence.api) return;
		void evidence.api.delivered().then((v) => (lines = v));
	});
	/** How far a line could be followed at all. */
	const known = (l: Line) => l.links.filter((k) => k.missing === null).length;
</script>

<svelte:head><title>Delivered against commanded in {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<p class="text-muted mb-3 max-w-prose text-text">
	What the revision has written, what the controller asked for, what went out, what was measured: at full
	load, by engine speed. The first link that doesn't follow the one before is where to look.
</p>
<Loading {evidence} />
{#if lines}
	{#if lines[0]?.axis.points.length === 0}
		<p>
			Nothing was driven at full load in this log. <a
				class="underline"
				href="/jobs/{data.job.id}/plan?template=full-throttle">Ask for a pull</a
			>
		</p>
	{:else}
		<ul class="mb-5" aria-label="Lines">
			{#each lines as l (l.quantity)}
				<li class="py-0.5">
					<Mark state={l.broken ? 'fix' : known(l) < 2 ? 'not-checked' : 'pass'} bare size={12} />
					<a class="font-semibold underline" href="#{l.quantity}">{l.title}</a>:
					{#if l.broken}{preferences.say(l.broken.why, data.stoich)}
					{:else if known(l) < 2}<span class="text-muted">can't be followed: too little is logged.</span>
					{:else}<span class="text-muted"
							>follows{known(l) < l.links.length ? ', as far as it is logged' : ''}.</span
						>{/if}
				</li>
			{/each}
		</ul>
		{#each lines as l (l.quantity)}<DeliveryTable line={l} stoich={data.stoich} />{/each}
	{/if}
{/if}
