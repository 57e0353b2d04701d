<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { fixed, plural } from '$core/format';
	import { enhance } from '$app/forms';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { signedText } from '$lib/ui/cellmap/colour';
	import LaneStack from '$lib/ui/lanes/LaneStack.svelte';
	import { LOG_NUMBER } from '$lib/ui/lanes/scale';
	import type { Lane } from '$lib/ui/lanes/types';
	import { day } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const number = (v: number | null, decimals = 1) => (v === null ? '–' : fixed(v, decimals));
	const xs = $derived(data.progress.map((_, i) => i + 1));
	const lanes = $derived<Lane[]>([
		{
			id: 'error',
			title: 'Mean error of the visited cells',
			unit: '%',
			decimals: 1,
			minSpan: 4,
			floor: 0,
			height: 90,
			series: [{ label: 'error', x: xs, y: data.progress.map((c) => c.errorPct), tone: 'second' }]
		},
		{
			id: 'knock',
			title: 'Worst knock in a pull',
			unit: '°',
			decimals: 1,
			minSpan: 4,
			floor: 0,
			height: 70,
			series: [{ label: 'retard', x: xs, y: data.progress.map((c) => c.knockDeg), tone: 'first' }]
		}
	]);
</script>

<svelte:head><title>Report of {data.job.title} – Tanto</title></svelte:head>

{#snippet actions()}<button class="button" onclick={() => print()}>Print this sheet</button>{/snippet}
<PageHead
	title={data.job.title}
	says={['Report', data.job.customer, data.job.vehicle.name, `since ${day(data.job.createdAt)}`]}
	{actions}
	more={[{ title: 'Whole job as an archive', href: `/api/v1/jobs/${data.job.id}/archive`, download: true }]}
/>
{#if data.job.done}
	<p class="border-clear mb-4 border-l-4 py-1 pl-3" role="status">
		<strong>Complete since {day(data.job.done.at)}.</strong>
		<span class="whitespace-pre-line">{data.job.done.words}</span>
	</p>
{/if}
{#if !data.job.done && data.open.some((o) => o.stop)}
	<p class="border-stop no-print mb-4 border-l-4 py-1 pl-3 font-semibold">
		{data.open.find((o) => o.stop)?.text}. Don't drive it hard.
	</p>
{/if}
{#each [['Goals', data.job.record.goals], ['Agreed', data.job.record.agreed]] as const as [title, text] (title)}
	{#if text}<p class="mb-2">
			<span class="font-semibold">{title}:</span> <span class="whitespace-pre-line">{text}</span>
		</p>{/if}
{/each}

<section class="mt-4" aria-label="Logs">
	<h2 class="mb-1">Log by log</h2>
	{#if data.progress.length === 0}
		<p class="text-muted">No log has been screened yet.</p>
	{:else}
		<table class="w-full text-right">
			<thead>
				<tr class="table-head">
					<th class="py-1 text-left font-normal">Log</th><th class="text-left font-normal">Made with</th><th
						class="text-left font-normal">Verdict</th
					><th class="font-normal">Mean error, %</th><th class="font-normal">Within 2 %</th><th
						class="font-normal">Leanest, %</th
					><th class="font-normal">Knock, °</th><th class="font-normal">Duty, %</th>
				</tr>
			</thead>
			<tbody>
				{#each data.progress as c (c.id)}
					<tr class="border-line border-b">
						<td class="max-w-64 truncate py-1 text-left" title={c.name}
							><a class="underline" href="/jobs/{data.job.id}/logs/{c.id}">{c.title}</a></td
						><td class="numbers text-left">R{c.revision}</td><td class="text-left"
							><Mark state={c.verdict} size={12} /></td
						><td class="numbers">{number(c.errorPct)}</td><td class="numbers"
							>{c.withinPct === null ? '–' : `${fixed(c.withinPct, 0)} %`}</td
						><td class="numbers">{c.leanestPct === null ? '–' : signedText(c.leanestPct)}</td><td
							class="numbers">{number(c.knockDeg)}</td
						><td class="numbers">{number(c.dutyPct, 0)}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if data.progress.length > 1}
			<div class="mt-3 max-w-3xl">
				<LaneStack
					{lanes}
					min={1}
					max={data.progress.length}
					axis={LOG_NUMBER}
					label="Error and knock log by log"
				/>
			</div>
		{/if}
	{/if}
</section>

<section class="mt-6" aria-label="Revisions">
	<h2 class="mb-1">Revisions</h2>
	{#each data.revisions as r (r.id)}
		<article class="border-line border-b py-1.5">
			<p>
				<a class="font-semibold underline" href="/jobs/{data.job.id}/revisions/{r.id}">R{r.number}</a>, {day(
					r.at
				)},
				{r.cells} cells{r.holds ? `, over ${plural(r.holds, 'answered hold')}` : ''}{r.withdrawn
					? ', withdrawn'
					: ''}
			</p>
			<p class="text-muted whitespace-pre-line">{r.notes}</p>
		</article>
	{:else}
		<p class="text-muted">Nothing has been released yet; the car runs R0.</p>
	{/each}
</section>

<section class="no-print mt-6 max-w-xl" aria-label="Complete" id="complete">
	<Alert message={messageOf(form)} class="mb-2" />
	<form method="POST" action="?/archive" use:enhance class="mb-3">
		<button class="button">{data.job.archivedAt ? 'Take out of the archive' : 'Archive'}</button>
		<span class="text-muted text-text"
			>{data.job.archivedAt
				? `In the archive since ${day(data.job.archivedAt)}.`
				: 'It leaves the queue, is found by its words, and comes back when the customer writes.'}</span
		>
	</form>
	{#if data.job.done}
		<form method="POST" action="?/reopen" use:enhance>
			<button class="button">Reopen job</button>
		</form>
	{:else}
		<form method="POST" action="?/done" use:enhance>
			{#if data.open.length}
				<div class="border-stop mb-3 border-l-4 pl-3" role="group" aria-label="Still open">
					<p class="font-semibold">This stands open:</p>
					<ul class="list-disc pl-5">
						{#each data.open as o (o.text)}<li>{o.text}</li>{/each}
					</ul>
					<Field title="Why it is complete all the same (a note for the tuners)" class="mt-2 block">
						<input name="reason" value={form && 'entered' in form ? form.entered['reason'] : ''} /></Field
					>
				</div>
			{/if}
			<Field title="Closing words for the customer: what holds now, what to watch" class="block">
				<textarea name="words" rows="3">{form && 'entered' in form ? form.entered['words'] : ''}</textarea
				></Field
			>
			<button class="button button-main mt-2">Complete job</button>
		</form>
	{/if}
</section>
