<script lang="ts">
	import { enhance } from '$app/forms';
	import { goto, invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { clock, day, size } from '$lib/ui/time';
	import DropZone from '$lib/ui/upload/DropZone.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const busy = $derived(data.logs.filter((l) => l.state === 'received' || l.state === 'reading'));
	const vehicle = $derived(data.job.vehicle);
	const link = $derived(form?.token ? `${page.url.origin}/c/${form.token}` : null);

	$effect(() => {
		if (busy.length === 0) return;
		const timer = setInterval(() => void invalidateAll(), 700);
		return () => clearInterval(timer);
	});
	useCommands([
		{
			id: 'newest-log',
			title: 'Open the newest log',
			key: 'l',
			run: () => {
				if (data.newest) void goto(`/jobs/${data.job.id}/logs/${data.newest.id}`);
			}
		},
		{
			id: 'draft',
			title: 'Open the draft',
			key: 'd',
			run: () => {
				if (data.draft) void goto(`/jobs/${data.job.id}/revisions/${data.draft.id}`);
			}
		}
	]);
</script>

<svelte:head><title>{data.job.title} – Tanto</title></svelte:head>

<h1 class="mb-1 break-words">{data.job.title}</h1>
<p class="text-muted mb-5">
	{data.job.waitingOn === 'tuner' ? 'Waits for you' : 'Waits for the customer'} · in the car: R{data.current
		.number}
	{#if data.draft}· <a class="underline" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
			>R{data.draft.number} is a draft</a
		>{/if}
</p>

{#if data.newest}
	{@const r = data.newest.report}
	<section class="border-line mb-6 border-y py-3">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
			<Mark state={r.verdict} size={18} />
			<span class="text-[18px]">{r.findings[0]?.title ?? 'Nothing found in what was checked'}</span>
			<a class="button button-main ml-auto" href="/jobs/{data.job.id}/logs/{data.newest.id}"
				>Open {data.newest.name.slice(0, 40)}</a
			>
		</div>
		{#if r.findings[0]}<p class="text-muted mt-1">{r.findings[0].summary}</p>{/if}
	</section>
{/if}

<DropZone
	url="/api/v1/jobs/{data.job.id}/logs"
	label="Add logs"
	hint="or drop exports here, several at once: text, packed or not, JSON Lines, Parquet. They are screened as they arrive."
	onsent={() => void invalidateAll()}
/>

{#if data.logs.length}
	<h2 class="mt-6 mb-1">Logs</h2>
	<table class="w-full text-left">
		<thead>
			<tr class="text-muted border-strong-line border-b text-[13px]">
				<th class="py-1 font-normal">File</th><th class="py-1 font-normal">State</th><th
					class="py-1 font-normal">Made with</th
				>
				<th class="py-1 text-right font-normal">Length</th><th class="py-1 text-right font-normal">Rows</th
				><th class="py-1 text-right font-normal">Size</th>
				<th class="py-1 text-right font-normal">Sent by</th>
			</tr>
		</thead>
		<tbody>
			{#each data.logs as l (l.id)}
				<tr class="border-line border-b">
					<td class="max-w-[320px] truncate py-1.5 pr-3" title={l.name}
						><a class="underline" href="/jobs/{data.job.id}/logs/{l.id}">{l.name}</a></td
					>
					<td class="py-1.5">
						<Mark state={l.state === 'screened' ? 'pass' : l.state} bare={l.state === 'screened'} />
						{#if l.state === 'screened'}screened{/if}
						{#if l.state === 'reading'}<progress
								class="ml-2 w-24"
								max="100"
								value={l.progress}
								aria-label="Read"
							></progress>{/if}
						{#if l.message}<span class="text-stop block text-[13px]">{l.message}</span>{/if}
					</td>
					<td class="numbers py-1.5">R{l.revision}</td>
					<td class="numbers py-1.5 text-right">{l.state === 'screened' ? clock(l.durationS) : '–'}</td>
					<td class="numbers py-1.5 text-right">{l.state === 'screened' ? l.rows : '–'}</td>
					<td class="numbers py-1.5 text-right">{size(l.bytes)}</td>
					<td class="py-1.5 text-right">{l.sentBy}</td>
				</tr>
			{/each}
		</tbody>
	</table>
{:else}
	<p class="text-muted mt-4 max-w-prose">
		No log yet. Ask the customer for idle, a light cruise, light and medium acceleration and two gears of full
		throttle, and drop the export above.
	</p>
{/if}

<div class="mt-7 grid grid-cols-2 gap-8">
	<section>
		<h2 class="mb-1">Vehicle</h2>
		<dl class="grid grid-cols-[140px_1fr] gap-y-0.5">
			<dt class="text-muted">Engine</dt>
			<dd>
				{vehicle.engine.displacementL ? `${vehicle.engine.displacementL} l ` : ''}{vehicle.engine.layout ??
					''}
				{vehicle.engine.cylinders}, {vehicle.engine.aspiration === 'na'
					? 'naturally aspirated'
					: vehicle.engine.aspiration}
			</dd>
			<dt class="text-muted">Rev limit</dt>
			<dd class="numbers">{vehicle.engine.revLimitRpm} rpm</dd>
			<dt class="text-muted">Fuel</dt>
			<dd>
				{vehicle.fuel?.name ?? 'not stated'}{vehicle.fuel?.ethanolPct !== undefined
					? `, ${vehicle.fuel.ethanolPct} % ethanol`
					: ''}
			</dd>
			<dt class="text-muted">Injectors</dt>
			<dd>{vehicle.injectors?.flowCcMin ? `${vehicle.injectors.flowCcMin} cc/min` : 'not stated'}</dd>
			<dt class="text-muted">Controller</dt>
			<dd class="break-words">
				{[vehicle.controller?.hardware, vehicle.controller?.software].filter(Boolean).join(', ') ||
					'not stated'}
			</dd>
			<dt class="text-muted">Job since</dt>
			<dd>{day(data.job.createdAt)}</dd>
		</dl>
	</section>
	<section>
		<h2 class="mb-1">Customer's page</h2>
		<p class="text-muted mb-2">
			Shows R{data.current.number}, what changed, the cautions, and takes the next log. Whoever has the link
			can open it; nothing else.
		</p>
		{#if link}
			<label class="block">
				<span class="text-[13px]">The link, shown only now. Send it to the customer.</span>
				<input readonly value={link} onfocus={(e) => e.currentTarget.select()} />
			</label>
			<a class="mt-1 inline-block underline" href={link}>Open the customer's page</a>
		{:else}
			<form method="POST" action="?/link" use:enhance>
				<button class="button"
					>{data.hasLink ? 'Make a new link (the old one stops working)' : 'Make a link'}</button
				>
			</form>
		{/if}
	</section>
</div>
