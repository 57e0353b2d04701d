<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** Each cylinder over the logs and the readings of the plugs: a row each, the oldest at the left. */
	import { fixed } from '$core/format';
	import type { CylinderLevels } from '$core/screening/cylinder-levels';
	import { signedText } from '$lib/ui/cellmap/colour';
	import { cylinderPlace, type CylinderPlace } from '$lib/ui/pictures/cylinder-place';
	import EngineFromAbove from '$lib/ui/pictures/EngineFromAbove.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { day, moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const words = (c: CylinderLevels) => [
		...(c.lambdaPct === null
			? []
			: [
					{
						text: `${signedText(c.lambdaPct)} % λ`,
						out: Math.abs(c.lambdaPct) >= data.limits.cylLambdaWatchPct
					}
				]),
		...(c.knockDeg === null
			? []
			: [{ text: `${fixed(c.knockDeg, 1)}° knock`, out: c.knockDeg >= data.limits.cylKnockWatchDeg }]),
		...(c.misfires === null ? [] : [{ text: `${c.misfires} missed`, out: c.misfires > 0 }]),
		...(c.egtC === null ? [] : [{ text: preferences.text(c.egtC, '°C'), out: false }]),
		...(c.trimPct ? [{ text: `trim ${signedText(c.trimPct)} %`, out: false }] : [])
	];
	const newest = $derived(data.columns.findLast((c) => c.kind === 'log'));
	const read = $derived(data.columns.findLast((c) => c.kind === 'plugs'));
	/** What the newest log and the newest reading say of a cylinder, together. */
	function place(cylinder: number): CylinderPlace {
		const c = newest?.kind === 'log' ? newest.cylinders.find((x) => x.cylinder === cylinder) : undefined;
		const reading = (read?.kind === 'plugs' && read.readings.find((x) => x.cylinder === cylinder)) || null;
		const nothing = { lambdaPct: null, knockDeg: null, misfires: null, egtC: null, trimPct: null };
		return cylinderPlace({ ...nothing, ...c, cylinder }, reading, data.limits, (v) =>
			preferences.text(v, '°C')
		);
	}
	const places = $derived(data.banks.map((bank) => bank.map(place)));
	const href = (c: (typeof data.columns)[number]) =>
		c.kind === 'log'
			? `/jobs/${data.job.id}/logs/${c.id}/cylinders`
			: c.kind === 'plugs'
				? `/jobs/${data.job.id}/plugs?reading=${c.id}`
				: `/jobs/${data.job.id}/evidence`;
</script>

<svelte:head><title>Cylinders over time – {data.job.title} – Tanto</title></svelte:head>

<PageHead title="Cylinders" says={['log by log', 'lambda against the median of its peers, + is leaner']} />
{#if data.columns.length === 0}
	<p>
		Nothing was seen by cylinder yet. <a
			class="underline"
			href="/jobs/{data.job.id}/plan?add=lambda.cyl1,knockRetard.cyl1,misfire.cyl1">Ask for its channels</a
		>, or <a class="underline" href="/jobs/{data.job.id}/plugs">read the plugs</a>.
	</p>
{:else}
	{#if newest || read}
		<p class="text-muted mb-2 text-small">
			{newest ? `Corner and colour: % leaner than its peers in ${newest.title}. ` : ''}{read
				? `Plugs as read on ${moment(read.at)}.`
				: ''}
		</p>
		<div class="mb-6"><EngineFromAbove banks={places} plugs={read !== undefined} /></div>
		<h2 class="mb-1">Over time</h2>
	{/if}
	<div class="overflow-x-auto">
		<table class="text-left text-text">
			<thead>
				<tr class="border-strong-line border-b align-bottom text-small">
					<th class="py-1 pr-4 font-normal">Cylinder</th>
					{#each data.columns as c (c.kind + c.id)}
						<th scope="col" class="min-w-[104px] py-1 pr-4 font-normal"
							><a class="line-clamp-2 underline" href={href(c)} title={c.title}>{c.title}</a><span
								class="text-muted block">{moment(c.at)}</span
							></th
						>
					{/each}
				</tr>
			</thead>
			{#each data.banks as bank, b (b)}
				<tbody>
					{#if data.twoBanks}<tr
							><th scope="rowgroup" colspan={data.columns.length + 1} class="pt-3 text-left"
								><h2>Bank {b + 1}</h2></th
							></tr
						>{/if}
					{#each bank as cylinder (cylinder)}
						<tr class="border-line border-b align-top">
							<th scope="row" class="numbers py-1.5 pr-4 font-semibold">{cylinder}</th>
							{#each data.columns as c (c.kind + c.id)}
								<td class="py-1.5 pr-4">
									{#if c.kind === 'log'}
										{@const own = c.cylinders.find((x) => x.cylinder === cylinder)}
										{#each own ? words(own) : [] as w (w.text)}<span
												class="numbers block {w.out ? 'text-fix font-semibold' : ''}">{w.text}</span
											>{:else}<span class="text-muted">–</span>{/each}
									{:else if c.kind === 'plugs'}
										{@const own = c.readings.find((x) => x.cylinder === cylinder)}
										{#if own}
											{#if own.plating}<span class="block">plating gone: {own.plating}</span>{/if}
											{#if own.mark}<span class="block">mark {own.mark.replace('-', ' ')}</span>{/if}
											{#each own.flags ?? [] as f (f)}<span class="text-fix block font-semibold"
													>{f.replace('-', ' ')}</span
												>{/each}
										{:else}<span class="text-muted">–</span>{/if}
									{:else}<span class="text-muted" aria-hidden="true">│</span>{/if}
								</td>
							{/each}
						</tr>
					{/each}
				</tbody>
			{/each}
		</table>
	</div>
{/if}

{#if data.photos.length}
	<section class="mt-8" aria-label="Photos of the plugs">
		<h2 class="mb-1">Plugs side by side</h2>
		{#each data.banks.flat() as cylinder (cylinder)}
			{@const own = data.photos.filter((p) => p.cylinder === cylinder)}
			{#if own.length}
				<div class="border-line flex items-start gap-4 border-b py-3">
					<h3 class="numbers w-8 pt-1 font-semibold">{cylinder}</h3>
					<ol class="flex min-w-0 gap-3 overflow-x-auto">
						{#each own as photo (photo.id)}
							<li class="shrink-0">
								<a href="/jobs/{data.job.id}/photos/{photo.id}" target="_blank" rel="noopener"
									><img
										class="border-line h-36 border object-contain"
										src="/jobs/{data.job.id}/photos/{photo.id}"
										alt="Plug of cylinder {cylinder}, {day(photo.at)}"
										loading="lazy"
									/></a
								>
								<span class="text-muted block text-small">{day(photo.at)}</span>
							</li>
						{/each}
					</ol>
				</div>
			{/if}
		{/each}
	</section>
{/if}
