<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { fixed, plural } from '$core/format';
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
	const counts = $derived.by(() => {
		const of = { measured: 0, carried: 0, stays: 0 };
		for (const t of answer?.requirement?.tables ?? [])
			t.change.forEach((row, r) =>
				row.forEach((change, c) => {
					if (change === 0) of.stays++;
					else if (t.why[r]![c] === 'measured' || t.why[r]![c] === 'misfit') of.measured++;
					else of.carried++;
				})
			);
		return { ...of, all: of.measured + of.carried + of.stays };
	});
	const used = $derived(answer?.requirement?.logs.length ?? 0);
	/** Where the engine is leanest of what is certain. */
	const leanest = $derived.by(() => {
		let best: { pct: number; rpm: number } | null = null;
		for (const t of answer?.requirement?.tables ?? [])
			t.percent.forEach((row, r) =>
				row.forEach((pct, c) => {
					if (t.samples[r]![c]! >= 10 && t.sd[r]![c]! <= 3 && pct > (best?.pct ?? 1))
						best = { pct, rpm: t.x.points[c]! };
				})
			);
		return best as { pct: number; rpm: number } | null;
	});
	const minutes = $derived((answer?.next ?? []).reduce((sum, d) => sum + (d.seconds * d.count) / 60, 0));
	/** Scale of the day offsets, percent either side. */
	const OFFSET_PCT = 3;
	const across = (v: number) => `${50 + (50 * Math.max(-OFFSET_PCT, Math.min(OFFSET_PCT, v))) / OFFSET_PCT}%`;
	const again = () => void asked.load(url);
</script>

<svelte:head><title>Evidence of {data.job.title} – Tanto</title></svelte:head>

<PageHead
	title="Requirement"
	says={[
		`fuel of R${data.revision.number}`,
		answer?.requirement && `from ${used} of ${plural(data.lines.length, 'log')}`,
		answer?.requirement && `${counts.measured + counts.carried} of ${counts.all} cells may change`,
		leanest && `leanest ${signedText(leanest.pct)} % at ${leanest.rpm} rpm`
	]}
>
	{#snippet actions()}
		<button class="button" onclick={() => (changing = !changing)}>Hardware changed</button>
		{#if answer?.next.length}<a class="button" href={planUrl}>Make it the drive plan</a>{/if}
	{/snippet}
</PageHead>
<Alert message={messageOf(form)} class="mb-2" />
{#if changing}
	<form
		method="POST"
		action="?/hardware"
		class="border-line mb-4 flex flex-wrap items-end gap-2 border-b pb-4"
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
			Logs from before are no longer used, and baselines that were measured on this car are taken out of its
			sheet.
		</p>
	</form>
{/if}

<div class="grid gap-6 lg:grid-cols-[minmax(0,1fr)_300px]">
	<section aria-label="Required correction" class="min-w-0">
		{#if asked.problem}
			<p role="status" class="text-muted">Nothing is estimated: {asked.problem}.</p>
		{:else if !answer}
			<p role="status" aria-busy="true" class="text-muted">Reading the logs together …</p>
		{:else if !answer.requirement}
			<p role="status" class="text-muted">The logs say nothing about the fuel table.</p>
		{:else}
			<RequirementMap requirement={answer.requirement} {titles} {nameOf} next={answer.next} />
			<p class="text-muted mt-2 text-small">
				Readings scatter by <span class="numbers">{fixed(answer.requirement.noisePct[0], 1)} %</span> at part
				throttle and
				<span class="numbers">{fixed(answer.requirement.noisePct[1], 1)} %</span> loaded, days by
				<span class="numbers">{fixed(answer.requirement.dayPct, 1)} %</span>.
				<a class="underline" href="{url}?format=csv" download>Requirement as CSV</a>
			</p>
		{/if}
	</section>
	<div class="grid content-start gap-6">
		<section aria-label="Logs used">
			<div class="border-strong-line flex items-baseline justify-between border-b pb-1">
				<h2>Logs used</h2>
				<span class="text-muted text-note">day offset, %</span>
			</div>
			{#if data.lines.length === 0}
				<p class="text-muted mt-2">No log yet. Add one on the page of the job.</p>
			{/if}
			{#each data.lines as line (line.id)}
				{@const why = silence(line)}
				{@const heard = spoken(line.id)}
				<div class="border-line border-b py-1.5 text-text">
					<p class="flex items-center gap-2">
						{#if line.verdict}<Mark state={line.verdict} size={12} bare />{/if}
						<a
							class="min-w-0 flex-1 truncate hover:underline {why
								? 'text-muted line-through'
								: 'font-semibold'}"
							title={line.name}
							href="/jobs/{data.job.id}/logs/{line.id}">{line.title}</a
						>
						<span class="numbers text-muted">{heard ? `${fixed(heard.seconds, 0)} s` : ''}</span>
					</p>
					{#if heard}
						<p class="flex items-center gap-2">
							<span class="offset" aria-hidden="true"
								><i class="zero"></i><i
									class="span"
									style="left: {across(heard.offsetPct - heard.sdPct)}; right: calc(100% - {across(
										heard.offsetPct + heard.sdPct
									)})"
								></i><i class="dot" style="left: {across(heard.offsetPct)}"></i></span
							>
							<span class="numbers ml-auto">{signedText(heard.offsetPct)} ± {fixed(heard.sdPct, 1)}</span>
						</p>
					{:else if why}<p class="text-muted text-small">not used: {why}</p>
					{:else if !asked.problem}<p class="text-muted text-small">…</p>{/if}
					<form
						method="POST"
						action="?/leaveOut"
						class="flex gap-1.5"
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
								class="text-muted cursor-pointer text-note underline"
								onclick={() => (leaving = line.id)}>Leave out</button
							>
						{/if}
					</form>
				</div>
			{/each}
			{#each data.hardware as h (h.id)}
				<p class="mt-1 text-small">
					{moment(h.at)}: {h.what} <span class="text-muted">({h.author}). Logs from before aren’t used.</span>
				</p>
			{/each}
		</section>
		{#if answer?.requirement && counts.all}
			<section aria-label="Allowed change">
				<div class="flex items-baseline justify-between pb-1">
					<h2>Allowed change</h2>
					<span class="text-muted text-note">of {counts.all} cells</span>
				</div>
				<div class="border-strong-line mb-1 flex h-3 border" aria-hidden="true">
					<i class="bg-ink" style="width: {(100 * counts.measured) / counts.all}%"></i>
					<i class="hatched" style="width: {(100 * counts.carried) / counts.all}%"></i>
				</div>
				<dl class="tally">
					<dt>measured, may change</dt>
					<dd>{counts.measured}</dd>
					<dt>carried from what lies around</dt>
					<dd>{counts.carried}</dd>
					<dt>stays: right, held, or not known</dt>
					<dd>{counts.stays}</dd>
				</dl>
			</section>
		{/if}
		{#if answer?.requirement}
			<section aria-label="The next log">
				<div class="border-strong-line flex items-baseline justify-between border-b pb-1">
					<h2>Next drive</h2>
					{#if answer.next.length}<span class="text-muted text-note"
							>{fixed(Math.max(1, minutes), 0)} min</span
						>{/if}
				</div>
				{#if answer.next.length === 0}
					<p class="text-muted mt-1">No drive would settle much more.</p>
				{/if}
				<ol>
					{#each answer.next as d, i (`${d.kind} ${d.rpm[0]} ${d.load?.[0]}`)}
						<li class="border-line flex gap-2.5 border-b py-1.5 text-text">
							<span
								class="bg-ink text-paper grid h-5 w-5 flex-none place-items-center rounded-full text-note font-bold"
								aria-hidden="true">{i + 1}</span
							>
							<span class="min-w-0"
								><span class="font-semibold">{KINDS[d.kind]}</span>{d.gear ? `, gear ${d.gear}` : ''},
								<span class="numbers">{Math.round(d.rpm[0])}–{Math.round(d.rpm[1])} rpm</span>{#if d.load}, at
									<span class="numbers"
										>{data.loadUnit ? preferences.text(d.load[1], data.loadUnit) : d.load[1]}</span
									>{/if},
								<span class="numbers">{d.count > 1 ? `${d.count} × ` : ''}{fixed(d.seconds, 0)} s</span>
								<span class="text-muted block text-small"
									>{d.why}. <span class="numbers">{fixed(d.gainPct, 0)}</span> points of uncertainty a minute.</span
								></span
							>
						</li>
					{/each}
				</ol>
			</section>
		{/if}
	</div>
</div>

<style>
	.offset {
		position: relative;
		width: 140px;
		height: 14px;
	}
	.offset i {
		position: absolute;
	}
	.zero {
		left: 50%;
		top: 0;
		height: 14px;
		border-left: 1px solid var(--strong-line);
	}
	.span {
		top: 6px;
		border-top: 2px solid var(--ink);
	}
	.dot {
		top: 4px;
		width: 6px;
		height: 6px;
		margin-left: -3px;
		border-radius: 50%;
		background: var(--ink);
	}
	.hatched {
		background: repeating-linear-gradient(135deg, var(--ink) 0 1.5px, transparent 1.5px 4px);
	}
	.tally {
		display: grid;
		grid-template-columns: 1fr auto;
		font-size: 13px;
	}
	.tally dd {
		text-align: right;
		font-family: var(--font-mono);
	}
</style>
