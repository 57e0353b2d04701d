<script lang="ts">
	/** What the controller kept as maxima, typed without a log: against the limits, and beside another car of the workshop. */
	import { enhance } from '$app/forms';
	import Alert from '$lib/ui/Alert.svelte';
	import ConfirmButton from '$lib/ui/ConfirmButton.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { moment } from '$lib/ui/time';
	import UnitField from '$lib/ui/vehicle/UnitField.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const entered = $derived<Record<string, string>>(
		form && 'entered' in form && form.entered ? (form.entered as Record<string, string>) : {}
	);
	// What is typed, in the units of the document; a refused form keeps it.
	// svelte-ignore state_referenced_locally
	let values = $state<Record<string, string>>({ ...entered });
	const LIMITS = ['watch', 'fix', 'stop'] as const;
	/** Readings of this car that stand side by side. */
	const SHOWN = 3;
	const own = $derived(data.readings.slice(0, SHOWN));
	const newest = $derived(data.readings[0]);
	const unitOf = (unit: string) => preferences.shown(1, unit).unit;
	const bare = (value: number | undefined, unit: string) =>
		value === undefined ? '–' : preferences.text(value, unit).replace(/\s?[°%].*$/, '');
	const judgedOf = (reading: (typeof own)[number], id: string) =>
		reading.judged.maxima.find((m) => m.id === id);
	const standing = $derived(
		newest
			? newest.judged.severity
				? `beyond a limit at ${newest.judged.severity}`
				: 'the newest are within their limits'
			: 'none typed yet'
	);
</script>

<svelte:head><title>Maxima of {data.job.title} – Tanto</title></svelte:head>

<PageHead title="Maxima" says={['what the controller kept since it was last cleared', standing]} />
<Alert box message={messageOf(form)} class="mb-4" />
{#if form && 'kept' in form}<p role="status" class="border-clear mb-4 border-l-4 px-3 py-2">
		Kept. What passed a limit at fix or stop holds a riskier revision until it is answered.
	</p>{/if}

<form
	id="keep"
	method="POST"
	action="?/keep"
	use:enhance={() =>
		async ({ result, update }) => {
			await update({ reset: false });
			if (result.type === 'success') values = {};
		}}
>
	<table class="numbers text-right text-text">
		<thead>
			<tr class="table-head">
				<th class="pr-6 text-left">Maximum</th>
				<th class="w-[96px] pr-6">Now</th>
				<th class="w-[64px] pr-6 text-left"><span class="sr-only">Unit</span></th>
				{#each LIMITS as limit (limit)}<th class="pr-6 font-normal">{limit}</th>{/each}
				{#each own as r (r.id)}
					<th class="pr-6" title="{r.reading.source}, typed by {r.author}">R{r.revision}, {moment(r.at)}</th>
				{/each}
				{#each data.others as o (o.jobId)}
					<th class="pr-6"
						><a class="block max-w-[140px] truncate underline" title={o.vehicle} href="/jobs/{o.jobId}/maxima"
							>{o.vehicle}</a
						></th
					>
				{/each}
			</tr>
		</thead>
		<tbody>
			{#each data.kinds as kind (kind.id)}
				<tr class="border-line border-b">
					<th scope="row" class="py-1 pr-6 text-left font-sans font-normal">{kind.title}</th>
					<td class="py-1 pr-2"
						><label aria-label="{kind.title}, {unitOf(kind.unit)}"
							><UnitField
								field={{ path: `values.${kind.id}`, label: kind.title, kind: 'number', unit: kind.unit }}
								bind:value={values[`values.${kind.id}`]}
							/></label
						></td
					>
					<td class="text-muted pr-6 text-left">{unitOf(kind.unit)}</td>
					{#each LIMITS as limit (limit)}
						<td class="text-muted pr-6"
							>{bare(kind.limits.find((l) => l.severity === limit)?.value, kind.unit)}</td
						>
					{/each}
					{#each own as r (r.id)}
						{@const m = judgedOf(r, kind.id)}
						<td class="pr-6 whitespace-nowrap" class:font-semibold={m?.severity}>
							{#if m?.severity}<Mark state={m.severity} bare size={11} /><span class="sr-only"
									>{m.severity}</span
								>{/if}
							{bare(m?.value, kind.unit)}
						</td>
					{/each}
					{#each data.others as o (o.jobId)}
						<td class="text-muted pr-6">{bare(o.values[kind.id], kind.unit)}</td>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
	<div class="mt-4 flex flex-wrap items-end gap-4">
		<Field title="Read from" class="w-72">
			<input
				name="source"
				required
				minlength="3"
				maxlength="200"
				autocomplete="off"
				placeholder="the controller’s own page"
				value={entered['source'] ?? ''}
			/>
		</Field>
		<Field title="Last cleared (day, if known)" class="w-48"
			><input name="since" type="date" value={entered['since'] ?? ''} /></Field
		>
		<Field title="In the car" class="w-28">
			<select name="revision" value={entered['revision'] ?? String(data.current)}>
				{#each data.revisions as r (r.id)}<option value={String(r.id)}>R{r.number}</option>{/each}
			</select>
		</Field>
		<button class="button button-main">Keep reading</button>
	</div>
</form>

{#if data.readings.length}
	<section class="mt-8" aria-label="Readings">
		<h2 class="mb-1">Readings</h2>
		<ul>
			{#each data.readings as r (r.id)}
				<li id="reading-{r.id}" class="border-line flex items-baseline gap-3 border-b py-2">
					<Mark state={r.judged.severity ?? 'clear'} bare size={12} />
					<span class="flex-1"
						>R{r.revision}, {r.reading.source}{r.reading.since ? `, since ${r.reading.since}` : ''}
						<span class="text-muted text-small">{r.author}, {moment(r.at)} UTC</span></span
					>
					<form method="POST" action="?/drop" use:enhance>
						<input type="hidden" name="reading" value={r.id} />
						<ConfirmButton
							text="Remove"
							label="Remove the reading of {moment(r.at)}"
							question="Remove this reading?"
							consequence="It no longer holds a revision, and leaves the string of the job."
							action="Remove"
						/>
					</form>
				</li>
			{/each}
		</ul>
	</section>
{:else}
	<p class="text-muted mt-6">
		Many controllers keep the highest values since they were cleared. Ask the customer for a picture of that
		page: a limit that was passed is known without a log.
	</p>
{/if}
