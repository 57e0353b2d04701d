<script lang="ts">
	import { axisTitle, axisUnit } from '$core/calibration/axes';
	import { fixed, fixedOrDash, plural } from '$core/format';
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { tick } from 'svelte';
	import type { LayoutHint } from '$core/logfile/layout-error';
	import LayoutForm from '$lib/ui/upload/LayoutForm.svelte';
	import { refreshEvery } from '$lib/ui/refresh';
	import { bestPull, type PullCurves } from '$core/evidence/segments/pull-curves';
	import Outcome from '$lib/ui/log/Outcome.svelte';
	import AskAgain from '$lib/ui/log/AskAgain.svelte';
	import StrategyFields from '$lib/ui/log/StrategyFields.svelte';
	import Said from '$lib/ui/log/Said.svelte';
	import TakeOutForm from '$lib/ui/log/TakeOutForm.svelte';
	import TakenOut from '$lib/ui/log/TakenOut.svelte';
	import Undecided from '$lib/ui/log/Undecided.svelte';
	import CellMap from '$lib/ui/cellmap/CellMap.svelte';
	import { signedText } from '$lib/ui/cellmap/colour';
	import { useCommands } from '$lib/ui/commands.svelte';
	import Sections from '$lib/ui/findings/Sections.svelte';
	import { changesInWords } from '$core/screening/brief';
	import { findingKey } from '$core/screening/types';
	import FindingCard from '$lib/ui/findings/FindingCard.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { counts, sentence } from '$lib/ui/findings/verdict';
	import PullChart from '$lib/ui/lanes/PullChart.svelte';
	import Traces from '$lib/ui/lanes/Traces.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { clock, moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	/** Title of the finding that explains another one. */
	const behindTitle = (id: string) => {
		const found = report?.findings.find((c) => findingKey(c) === id);
		return found ? preferences.finding(found).title : null;
	};
	const report = $derived(data.screening?.report ?? null);
	const pulls = $derived(data.screening?.pulls ?? []);
	let pickedPull = $state<number | null>(null);
	/** Curves of pulls that were asked for after the first. */
	let fetched = $state<Record<number, PullCurves>>({});
	const pull = $derived(
		pickedPull === null ? (pulls[bestPull(pulls)] ?? null) : (fetched[pickedPull] ?? null)
	);
	async function pick(i: number) {
		const answer = pulls[i]?.rpm.length ? null : await fetch(`/api/v1/logs/${data.log.id}/pulls/${i}`);
		const curves = answer ? ((await answer.json()) as PullCurves) : pulls[i];
		if (curves) fetched[i] = curves;
		pickedPull = i;
	}
	/** Another pull behind it, of this log or an earlier one: "log/pull". */
	let againstKey = $state('');
	let against = $state.raw<PullCurves | null>(null);
	async function setAgainst(key: string) {
		againstKey = key;
		const [id, nth] = key.split('/');
		if (!nth) {
			against = null;
			return;
		}
		const answer = await fetch(`/api/v1/logs/${id}/pulls/${nth}`);
		if (againstKey === key) against = answer.ok ? ((await answer.json()) as PullCurves) : null;
	}
	let opened = $state<number | null>(null);
	const finding = $derived(report?.findings[opened ?? 0] ?? null);
	const busy = $derived(data.log.state === 'received' || data.log.state === 'reading');
	let which = $state<'1' | '2' | 'difference'>('1');
	const cells = $derived(data.screening?.cells ?? null);
	const shownMap = $derived(
		cells ? (which === 'difference' ? cells.difference : (cells.banks[Number(which) - 1] ?? null)) : null
	);
	const yUnit = $derived(cells ? axisUnit({ channel: cells.yChannel, unit: cells.yUnit }) : '');
	let declining = $state(false);
	let layoutForm = $state<HTMLFormElement>();
	let layoutText = $state('');
	async function sayLayout(hint: LayoutHint) {
		layoutText = JSON.stringify(hint);
		await tick();
		layoutForm?.requestSubmit();
	}
	const marks = $derived(
		data.log.momentS === null ? [] : [{ at: data.log.momentS, title: 'marked by the customer' }]
	);
	let proposing = $state(false);
	let proposeForm = $state<HTMLFormElement>();

	$effect(() => {
		if (busy) return refreshEvery(500);
	});
	function openFinding(index: number) {
		opened = index;
		document.getElementById(`finding-${index}`)?.scrollIntoView({ block: 'center' });
		document.getElementById(`finding-${index}`)?.focus();
	}
	function toFinding(by: number) {
		if (!report?.findings.length) return;
		opened = Math.max(0, Math.min(report.findings.length - 1, (opened ?? (by > 0 ? -1 : 0)) + by));
		document.getElementById(`finding-${opened}`)?.focus();
	}
	useCommands([
		{ id: 'finding-next', title: 'Next finding', key: 'f', run: () => toFinding(1) },
		{ id: 'finding-previous', title: 'Previous finding', key: 'F', run: () => toFinding(-1) },
		{ id: 'decline', title: "This log won't do, please log again", key: 'w', run: () => (declining = true) },
		{
			id: 'channels',
			title: 'Channels of this log',
			key: 'c',
			run: () => void goto(`/jobs/${data.job.id}/logs/${data.log.id}/channels`)
		},
		{
			id: 'propose',
			title: 'Propose the next revision',
			key: 'r',
			run: () => {
				if (data.draft) void goto(`/jobs/${data.job.id}/revisions/${data.draft.id}`);
				else proposeForm?.requestSubmit();
			}
		}
	]);
</script>

<svelte:head><title>{data.log.name} – Tanto</title></svelte:head>

{#if declining}
	<AskAgain
		text={data.askAgain}
		plan={data.plan}
		email={data.job.email}
		problem={form && 'message' in form ? String(form.message) : ''}
		onclose={() => (declining = false)}
	/>
{/if}
{#if !busy}
	<Undecided
		questions={data.log.questions}
		action="/jobs/{data.job.id}/logs/{data.log.id}/channels?/assign"
		customer={data.job.customer}
	/>
{/if}

{#if busy}
	<h1 class="mb-2 break-words">{data.log.name}</h1>
	<p class="mb-3" role="status">
		{data.log.state === 'received' ? 'Waiting to be read' : 'Being read and screened'} …
	</p>
	<progress class="w-80" max="100" value={data.log.progress} aria-label="Read"></progress>
{:else if data.log.state === 'failed'}
	<h1 class="mb-2 break-words">{data.log.name}</h1>
	<p role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
		This log could not be read: {data.log.message}
	</p>
	{#if data.log.seen}
		<div class="mb-4 max-w-[900px]">
			<LayoutForm seen={data.log.seen} button="Read it like this" onsay={sayLayout} />
			<form bind:this={layoutForm} method="POST" action="?/layout" use:enhance class="hidden">
				<input type="hidden" name="hint" value={layoutText} />
			</form>
		</div>
	{/if}
	<div class="flex gap-3">
		<form method="POST" action="?/again" use:enhance>
			<button class="button {data.log.seen ? '' : 'button-main'}">Read again</button>
		</form>
		<button class="button" onclick={() => (declining = true)}>Ask for another log</button>
		<form method="POST" action="?/remove" use:enhance>
			<button class="button">Delete it</button>
		</form>
	</div>
{:else if report && data.screening}
	{@const n = counts(report)}
	<div
		class="grid gap-6 xl:grid-cols-[minmax(0,5fr)_minmax(0,6fr)] lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]"
	>
		<section aria-label="Verdict">
			<p class="text-muted truncate text-[13px]" title={data.log.name}>
				<span class="text-ink font-semibold">{data.log.title}</span> ·
				<span class="numbers">{clock(report.log.durationS)}</span> · {data.log.name}
			</p>
			<TakenOut log={data.log} />
			<Said log={data.log} />
			<h1 class="mt-1 mb-3">
				<Mark state={report.verdict} bare size={20} />
				{sentence(report, (f) => preferences.finding(f).title)}
			</h1>
			<dl class="border-line mb-3 flex border-y">
				{#each [['stop', 'to stop', n.stop], ['fix', 'to fix', n.fix], ['watch', 'to watch', n.watch], ['not-checked', 'not checked', n.notChecked]] as [state, word, count] (state)}
					<div class="border-line flex-1 border-r px-2 py-1.5 last:border-r-0">
						<dd class="text-[22px] leading-6 font-semibold">{count}</dd>
						<dt class="text-[13px]"><Mark state={String(state)} bare size={11} /> {word}</dt>
					</div>
				{/each}
			</dl>
			{#if data.outcome}<Outcome
					outcome={data.outcome}
					open={data.stillOpen}
					compareUrl="/jobs/{data.job.id}/compare-logs?a={data.outcome.from}&b={data.log.id}"
				/>{/if}
			{#if data.since}
				<p class="text-muted mb-3 text-[14px]" data-testid="since">
					Since {data.since.name}:
					{preferences.say(changesInWords(data.since.changes)) || 'nothing else was found than before'}.
				</p>
			{/if}
			{#if form && 'message' in form}<p role="alert" class="text-stop mb-2">{form.message}</p>{/if}
			<div class="flex flex-wrap items-start gap-2">
				{#if data.draft}
					<a class="button button-main" href="/jobs/{data.job.id}/revisions/{data.draft.id}"
						>Open draft R{data.draft.number}</a
					>
				{/if}
				<form
					method="POST"
					action="?/propose"
					bind:this={proposeForm}
					use:enhance={() => {
						proposing = true;
						return async ({ update }) => {
							await update();
							proposing = false;
						};
					}}
				>
					<button class="button {data.draft ? '' : 'button-main'}" disabled={proposing}
						>{proposing
							? 'Working it out …'
							: data.draft
								? `Propose into R${data.draft.number}`
								: 'Propose the next revision'}</button
					>
					<StrategyFields strategy={data.strategy} injectors={data.injectorsChanged} />
				</form>
				<button class="button" onclick={() => (declining = true)}>This log won't do</button>
				<a class="button" href="/jobs/{data.job.id}/advice">Advice instead</a>
				<form method="POST" action="?/restate" use:enhance class="flex items-center gap-1.5">
					<label for="made-with" class="text-[13px]">made with</label>
					<select
						id="made-with"
						name="revision"
						class="w-auto!"
						value={String(data.log.revisionId)}
						onchange={(e) => e.currentTarget.form?.requestSubmit()}
					>
						{#each data.revisions as r (r.id)}<option value={String(r.id)}>R{r.number}</option>{/each}
					</select>
				</form>
				<a class="button" href="/jobs/{data.job.id}/logs/{data.log.id}/channels"
					>{report.log.channels.length} channels{report.log.unmapped.length
						? `, ${report.log.unmapped.length} not recognised`
						: ''}</a
				>
				{#if !data.log.takenOut}<TakeOutForm />{/if}
			</div>
			<section class="mt-5" aria-label="Findings">
				<h2 class="mb-1">Findings</h2>
				{#if report.findings.length === 0}
					<p class="text-muted">Nothing found. Look below at what was not checked before you trust it.</p>
				{/if}
				{#each report.findings as f, i (i)}
					<FindingCard
						finding={f}
						id="finding-{i}"
						open={opened === i}
						onopen={() => (opened = opened === i ? null : i)}
						behind={f.because ? behindTitle(f.because) : null}
						answer={data.answers[findingKey(f)] ?? null}
						history={data.history[findingKey(f)] ?? []}
						causeUrl="/jobs/{data.job.id}/cause"
						swaps={data.swappable.includes(f.code)}
						rule={data.rules[f.code] ?? f.code}
					/>
				{/each}
			</section>
			{#each report.log.notes as note (note)}<p class="text-muted mt-2 text-[13px]">{note}</p>{/each}
		</section>
		<section aria-label={opened === null ? 'Best pull' : 'Evidence'}>
			{#if opened !== null && finding}
				<Traces
					logId={data.log.id}
					{report}
					stoich={data.stoich}
					profile={data.screening.profile}
					{finding}
					shown={data.shown[finding.code] ?? null}
					ownLanes={data.ownLanes}
					earlier={data.earlier}
					{marks}
					onfinding={toFinding}
				/>
			{:else if pull}
				<p class="text-muted text-[13px]">
					{pickedPull === null ? 'Widest pull' : `Pull ${pickedPull + 1}`}{pull.gear
						? `, gear ${pull.gear}`
						: ''},
					<span class="numbers">{pull.summary.fromRpm}–{pull.summary.toRpm} rpm</span>, at
					<span class="numbers">{clock(pull.fromS)}</span>
				</p>
				<PullChart {pull} stoich={data.stoich} {against} />
				{#if pulls.length > 1 || data.earlier.some((e) => e.pulls.length)}
					<label class="no-print mt-2 flex items-center gap-2 text-[13px]"
						>laid over
						<select class="w-72!" value={againstKey} onchange={(e) => void setAgainst(e.currentTarget.value)}>
							<option value="">nothing</option>
							{#each pulls as p, i (p.fromS)}
								{#if i !== (pickedPull ?? bestPull(pulls))}
									<option value="{data.log.id}/{i}"
										>pull {i + 1}{p.gear ? `, gear ${p.gear}` : ''}, at {clock(p.fromS)}</option
									>
								{/if}
							{/each}
							{#each data.earlier as e (e.id)}
								{#each e.pulls as p, i (i)}
									<option value="{e.id}/{i}"
										>{e.name.slice(0, 30)}: pull {i + 1}{p.gear ? `, gear ${p.gear}` : ''}</option
									>
								{/each}
							{/each}
						</select></label
					>
				{/if}
			{:else}
				<p class="text-muted pt-8">There is no full-throttle pull in this log to draw.</p>
			{/if}
		</section>
	</div>

	{#if opened === null}
		<div class="mt-6">
			<Traces
				logId={data.log.id}
				{report}
				stoich={data.stoich}
				profile={data.screening.profile}
				initial={data.traces}
				ownLanes={data.ownLanes}
				earlier={data.earlier}
				{marks}
				onfinding={report.findings.length ? toFinding : undefined}
			/>
		</div>
	{/if}

	{#if pulls.length}
		<section class="mt-6">
			<h2 class="mb-1">Pulls</h2>
			<table class="w-full text-right">
				<thead>
					<tr class="text-muted border-strong-line border-b text-[13px]">
						<th class="py-1 text-left font-normal">Pull</th><th class="py-1 font-normal">Gear</th><th
							class="py-1 font-normal">rpm</th
						>
						<th class="py-1 font-normal">Length, s</th><th class="py-1 font-normal"
							>Pressure, {preferences.shown(1, 'kPa abs').unit}</th
						>
						<th class="py-1 font-normal">Leanest, % of target</th><th class="py-1 font-normal">Knock, °</th>
						<th class="py-1 font-normal">Duty, %</th><th class="py-1 font-normal"
							>Intake air, {preferences.units.temperature}</th
						>
					</tr>
				</thead>
				<tbody class="numbers">
					{#each pulls as p, i (p.fromS)}
						<tr class="border-line border-b {i === (pickedPull ?? bestPull(pulls)) ? 'bg-shade' : ''}">
							<td class="py-1 text-left"
								><button
									class="cursor-pointer underline"
									aria-pressed={i === (pickedPull ?? bestPull(pulls))}
									onclick={() => void pick(i)}>{i + 1} at {clock(p.fromS)}</button
								></td
							>
							<td>{p.gear ?? '–'}</td><td>{p.summary.fromRpm}–{p.summary.toRpm}</td><td
								>{fixed(p.toS - p.fromS, 1)}</td
							>
							<td
								>{p.summary.highestMapKpa === null
									? '–'
									: fixed(
											preferences.shown(p.summary.highestMapKpa, 'kPa abs').value,
											preferences.shown(1, 'kPa abs').decimals
										)}</td
							>
							<td>{p.summary.leanestPct === null ? '–' : signedText(p.summary.leanestPct)}</td>
							<td>{fixedOrDash(p.summary.knockDeg, 1)}</td><td>{fixedOrDash(p.summary.dutyPct, 0)}</td>
							<td
								>{p.summary.iatC === null ? '–' : fixed(preferences.shown(p.summary.iatC, '°C').value, 0)}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		</section>
	{/if}

	{#if cells}
		<section class="mt-6">
			<div class="mb-2 flex flex-wrap items-center gap-2">
				<h2 class="mr-3">Required correction</h2>
				{#each cells.banks as b, i (i)}
					{#if b}<button
							class="button {which === String(i + 1) ? 'button-main' : ''}"
							aria-pressed={which === String(i + 1)}
							onclick={() => (which = i === 0 ? '1' : '2')}
							>{cells.banks.length > 1 ? `Bank ${i + 1}` : 'Engine'}</button
						>{/if}
				{/each}
				{#if cells.difference}
					<button
						class="button {which === 'difference' ? 'button-main' : ''}"
						aria-pressed={which === 'difference'}
						onclick={() => (which = 'difference')}>Bank 2 against bank 1</button
					>
				{/if}
			</div>
			{#if shownMap}
				<CellMap
					map={shownMap}
					x={cells.x}
					y={cells.y}
					xLabel={axisTitle(cells.xChannel)}
					yLabel={axisTitle(cells.yChannel)}
					{yUnit}
					caption={which === 'difference'
						? 'Percent that bank 2 wants more (+) or less (−) fuel than bank 1. The square shows how much data stands behind a cell: full is proven, a dot is a guess.'
						: 'Percent that the engine wanted more (+, lean) or less (−, rich) fuel than the table gave. The square shows how much data stands behind a cell: full is proven, a dot is a guess.'}
				/>
			{:else}
				<p class="text-muted">This bank was not seen in this log.</p>
			{/if}
		</section>
	{/if}

	<div class="mt-7">
		<Sections
			sections={data.sections}
			onfinding={openFinding}
			planUrl="/jobs/{data.job.id}/plan"
			logUrl="/jobs/{data.job.id}/logs/{data.log.id}"
		/>
	</div>
	{#if data.runs.length}
		<details class="mt-5 text-[14px]">
			<summary class="cursor-pointer">Screened {plural(data.runs.length, 'time')} before</summary>
			<ul class="mt-1">
				{#each data.runs as r (r.at)}
					<li class="border-line border-b py-1">
						{moment(r.at)} UTC: <Mark state={r.verdict} size={12} />, {plural(
							r.findings,
							'finding'
						)}{#each r.limits as l (l.name)}; {l.name}
							{l.then}, now {l.now}{/each}
					</li>
				{/each}
			</ul>
		</details>
	{/if}
{/if}
