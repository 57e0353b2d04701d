<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { fixed } from '$core/format';
	import { signedText } from '$lib/ui/cellmap/colour';
	import RequirementMap from '$lib/ui/evidence/RequirementMap.svelte';
	import { useRequirement } from '$lib/ui/evidence/requirement.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const url = $derived(`/api/v1/jobs/${data.job.id}/requirement`);
	const asked = useRequirement(() => url);
	let leaving = $state<number | null>(null);
	let changing = $state(false);
	/** Now, as a date field of the browser wants it: in the reader's own time. */
	const localNow = () => {
		const d = new Date();
		return new Date(d.getTime() - d.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
	};
	let at = $state(localNow());
	const answer = $derived(asked.answer);
	const place = (id: number) => answer?.logIds.indexOf(id) ?? -1;
	const spoken = (id: number) => answer?.requirement?.logs.find((l) => l.log === place(id)) ?? null;
	const silence = (line: (typeof data.lines)[number]) =>
		line.silent ??
		answer?.requirement?.silent.find((s) => s.log === place(line.id))?.reason ??
		(answer && place(line.id) < 0 ? `only the newest ${data.most} are computed with` : null);
	const nameOf = (n: number) => {
		const line = data.lines.find((l) => l.id === answer?.logIds[n]);
		return line ? `R${line.revision}, ${moment(line.at)}` : '';
	};
	const titles = $derived(data.titles);
	const KINDS = {
		cruise: 'Cruise',
		light: 'Light acceleration',
		medium: 'Half throttle',
		pull: 'Full throttle'
	};
	const planUrl = $derived(
		answer
			? `/jobs/${data.job.id}/plan?drives=${encodeURIComponent(
					JSON.stringify(
						answer.next.map(({ kind, gear, rpm, load, seconds, count }) => ({
							kind,
							gear,
							rpm,
							load,
							seconds,
							count
						}))
					)
				)}`
			: ''
	);
	const again = () => void asked.load(url);
</script>

<svelte:head><title>Evidence of {data.job.title} – Tanto</title></svelte:head>

<PageHead
	title="Requirement"
	says={[
		`required correction of the fuel in R${data.revision.number}`,
		'from all logs that still tell of this engine'
	]}
/>
<Alert message={messageOf(form)} class="mb-2" />

<section aria-label="Logs used" class="mb-6">
	<h2 class="mb-1">Logs used</h2>
	{#if data.lines.length === 0}
		<p class="text-muted">No log yet. Add one on the page of the job.</p>
	{:else}
		<table class="w-full text-left text-text">
			<thead>
				<tr class="table-head">
					<th class="py-1 font-normal">Log</th><th class="font-normal">Verdict</th>
					<th class="font-normal">Used</th><th class="text-right font-normal">Day offset, %</th><th></th>
				</tr>
			</thead>
			<tbody>
				{#each data.lines as line (line.id)}
					{@const why = silence(line)}
					{@const heard = spoken(line.id)}
					<tr class="border-line border-b align-top">
						<td class="py-1 pr-3"
							><a class="font-semibold hover:underline" href="/jobs/{data.job.id}/logs/{line.id}"
								>{line.title}</a
							><span class="text-muted block max-w-56 truncate text-small" title={line.name}>{line.name}</span
							></td
						>
						<td class="pr-3"
							>{#if line.verdict}<Mark state={line.verdict} size={12} />{/if}</td
						>
						<td class="pr-3"
							>{#if why}<span class="text-muted">no: {why}</span>{:else if heard}yes, <span class="numbers"
									>{fixed(heard.seconds, 0)} s</span
								>{:else if asked.problem}–{:else}…{/if}</td
						>
						<td class="numbers pr-3 text-right"
							>{heard ? `${signedText(heard.offsetPct)} ± ${fixed(heard.sdPct, 1)}` : ''}</td
						>
						<td class="text-right">
							<form
								method="POST"
								action="?/leaveOut"
								class="flex justify-end gap-1.5"
								use:enhance={() =>
									async ({ update, result }) => {
										await update();
										if (result.type === 'success') {
											leaving = null;
											again();
										}
									}}
							>
								<input type="hidden" name="log" value={line.id} />
								{#if line.leftOut}
									<input type="hidden" name="reason" value="" />
									<button class="cursor-pointer text-small underline" title="by {line.leftOut.by}"
										>Take in again</button
									>
								{:else if leaving === line.id}
									<input
										name="reason"
										class="w-44!"
										required
										minlength="3"
										maxlength="300"
										aria-label="Why it is left out"
										placeholder="why"
									/>
									<button class="button">Leave out</button>
								{:else}
									<button
										type="button"
										class="cursor-pointer text-small underline"
										onclick={() => (leaving = line.id)}>Leave out</button
									>
								{/if}
							</form>
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
	<div class="mt-2 text-text">
		{#each data.hardware as h (h.id)}
			<p>
				{moment(h.at)}: {h.what} <span class="text-muted">({h.author}). Logs from before aren’t used.</span>
			</p>
		{/each}
		{#if changing}
			<form
				method="POST"
				action="?/hardware"
				class="mt-1 flex flex-wrap items-end gap-2"
				use:enhance={({ formData }) => {
					formData.set('at', new Date(at).toISOString());
					return async ({ update, result }) => {
						await update();
						if (result.type === 'success') {
							changing = false;
							again();
						}
					};
				}}
			>
				<Field
					title="What was changed (injectors, intake, turbocharger, exhaust, sensor …)"
					class="min-w-64 flex-1"
				>
					<input name="what" required minlength="3" maxlength="300" /></Field
				>
				<Field title="When"><input type="datetime-local" bind:value={at} required /></Field>
				<label class="flex items-center gap-2 pb-1.5"
					><input type="checkbox" name="injectors" class="w-auto!" /> other injectors</label
				>
				<button class="button">Note it</button>
				<button type="button" class="button" onclick={() => (changing = false)}>Cancel</button>
				<p class="text-muted w-full text-small">
					Logs from before will no longer speak, and baselines that were measured on this car are taken out of
					its sheet.
				</p>
			</form>
		{:else}
			<button class="button mt-1" onclick={() => (changing = true)}>Hardware changed</button>
		{/if}
	</div>
</section>

{#if asked.problem}
	<p role="status" class="text-muted">Nothing is estimated: {asked.problem}.</p>
{:else if !answer}
	<p role="status" aria-busy="true" class="text-muted">Reading the logs together …</p>
{:else if !answer.requirement}
	<p role="status" class="text-muted">The logs say nothing about the fuel table.</p>
{:else}
	<div class="grid gap-6 xl:grid-cols-[minmax(0,1fr)_236px]">
		<section aria-label="Required correction" class="min-w-0">
			<h2 class="mb-1">Required correction</h2>
			<RequirementMap requirement={answer.requirement} {titles} {nameOf} />
			<p class="text-muted mt-2 text-small">
				Readings scatter by <span class="numbers">{fixed(answer.requirement.noisePct[0], 1)} %</span> at part
				throttle and
				<span class="numbers">{fixed(answer.requirement.noisePct[1], 1)} %</span> loaded, days by
				<span class="numbers">{fixed(answer.requirement.dayPct, 1)} %</span>.
				<a class="underline" href="{url}?format=csv" download>Requirement as CSV</a>
			</p>
		</section>
		<section aria-label="The next log">
			<h2 class="mb-1">The next log</h2>
			{#if answer.next.length === 0}
				<p class="text-muted">No drive would settle much more.</p>
			{:else}
				<ol class="mb-3">
					{#each answer.next as d (`${d.kind} ${d.rpm[0]} ${d.load?.[0]}`)}
						<li class="border-line border-b py-1.5">
							<span class="font-semibold">{KINDS[d.kind]}</span>{d.gear ? `, gear ${d.gear}` : ''},
							<span class="numbers">{Math.round(d.rpm[0])}–{Math.round(d.rpm[1])} rpm</span>{#if d.load}, at
								<span class="numbers"
									>{data.loadUnit ? preferences.text(d.load[1], data.loadUnit) : d.load[1]}</span
								>{/if},
							<span class="numbers">{d.count > 1 ? `${d.count} × ` : ''}{fixed(d.seconds, 0)} s</span>
							<span class="text-muted block text-small"
								>{d.why}. <span class="numbers">{fixed(d.gainPct, 0)}</span> points of uncertainty a minute.</span
							>
						</li>
					{/each}
				</ol>
				<a class="button" href={planUrl}>Make it the drive plan</a>
			{/if}
		</section>
	</div>
{/if}
