<script lang="ts">
	import { day } from '$lib/ui/time';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const MARK = { go: 'pass', look: 'watch', 'no-go': 'stop', 'not-checked': 'not-checked' } as const;
	const WORD = { go: 'go', look: 'look at it', 'no-go': "don't go", 'not-checked': 'not checked' } as const;
</script>

<svelte:head><title>Readiness of {data.job.vehicle.name} – Tanto</title></svelte:head>

<div class="flex items-baseline gap-4">
	<p class="text-muted no-print text-[13px]">
		<a class="underline" href="/jobs/{data.job.id}/logs/{data.log.id}">{data.log.name}</a>
	</p>
	<button class="button no-print ml-auto" onclick={() => print()}>Print this sheet</button>
</div>
<h1 class="mt-1">Readiness: {data.job.vehicle.name}</h1>
<p class="text-muted mb-3">
	{data.job.customer} · from {data.log.name}, received {day(data.log.receivedAt)}
</p>
<p
	class="mb-4 border-l-4 py-1 pl-3 text-[18px] {data.verdict.go ? 'border-clear' : 'border-stop'}"
	data-testid="go"
>
	{data.verdict.why}
</p>
<table class="w-full text-left">
	<thead>
		<tr class="text-muted border-strong-line border-b text-[13px]">
			<th class="w-[150px] py-1 font-normal">Item</th>
			<th class="w-[110px] py-1 font-normal"></th>
			<th class="py-1 font-normal">Seen</th>
			<th class="w-[230px] py-1 font-normal">Held against</th>
		</tr>
	</thead>
	<tbody>
		{#each data.lines as l (l.code)}
			<tr class="border-line border-b align-top">
				<td class="py-1.5 pr-3 font-semibold">{l.item}</td>
				<td class="py-1.5 pr-3 whitespace-nowrap"
					><Mark state={MARK[l.state]} bare size={12} /> {WORD[l.state]}</td
				>
				<td class="py-1.5 pr-4">{l.seen}</td>
				<td class="text-muted py-1.5">{l.against}</td>
			</tr>
		{/each}
	</tbody>
</table>
<p class="text-muted mt-4 text-[13px]">
	Advice from data of unknown quality; a person decides. An engine that misfires, knocks or gets too hot is
	not driven on.
</p>
