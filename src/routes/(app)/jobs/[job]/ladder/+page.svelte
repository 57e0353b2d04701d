<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** The ladder: the rung that comes next, and its gates; the one that is closed is what a tuner needs to see. */
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { fixed, plural, signed } from '$core/format';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { JobLadder } from '$lib/server/views/ladders';
	import type { PageProps } from './$types';
	import Staircase from '$lib/ui/pictures/Staircase.svelte';
	import type { Stair } from '$lib/ui/pictures/stairs';
	import type { LadderPage } from './+page.server';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	const RUNG = {
		fuel: 'Fuel: the mixture to its target',
		banks: 'The banks: find the cause of their difference',
		boost: 'Boost',
		timing: 'Timing',
		done: 'Nothing more to climb'
	} as const;
	const GATE: Record<string, string> = {
		revision: 'Log of this revision',
		verdict: 'Verdict',
		banks: 'Banks',
		sensors: 'Sensors',
		fuel: 'Mixture',
		knock: 'Knock',
		delivered: 'Timing delivered',
		duty: 'Injectors',
		axes: 'Axes and sensor',
		limitBoost: 'Boost cut',
		overshoot: 'Overshoot',
		intake: 'Intake air',
		exhaust: 'Exhaust',
		supply: 'Supply',
		baseTiming: 'Base timing',
		plugs: 'Plugs',
		misfire: 'Misfires'
	};
	const stairsOf = ({ answer, numbers, logs }: JobLadder): Stair[] =>
		answer.steps
			.map((step, n) => ({
				...step,
				name: `R${numbers[n]}`,
				kind: n === 0 ? 'first driven' : step.changed.join(', ') || 'other'
			}))
			// The one in the car is drawn once it was driven.
			.slice(0, logs.length ? undefined : -1);
	function nextOf({ answer, revision }: JobLadder) {
		const { kind, from, to } = answer.rung;
		if (from === null || to === null) return null;
		return {
			name: `R${revision.number + 1}`,
			kind: kind === 'boost' || kind === 'timing' ? kind : ('other' as const),
			to
		};
	}
	const amount = (kind: string, v: number) =>
		kind === 'boost' ? preferences.text(v, 'kPa abs') : `${preferences.text(v, '°')}`;
</script>

<svelte:head><title>Ladder – Tanto</title></svelte:head>

{#snippet take(what: 'rung' | 'shifts' | 'throttle', words: string, needed: boolean)}
	<form
		method="POST"
		action="?/take"
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
		class="mt-3 flex flex-wrap items-end gap-3"
	>
		<input type="hidden" name="what" value={what} />
		{#if needed}
			<Field title="Why it is taken now" class="min-w-72 flex-1"
				><input
					name="reason"
					required
					minlength="8"
					maxlength="300"
					autocomplete="off"
					placeholder="stands with each change, and in the record"
					defaultValue={form && 'entered' in form && form.entered.what === what ? form.entered.reason : ''}
				/></Field
			>
		{/if}
		<button class="button" class:button-main={what === 'rung'}>{words}</button>
		<span class="text-muted pb-1.5 text-small">Nothing of it is accepted before you do.</span>
	</form>
{/snippet}

<PageHead
	title="Ladder"
	says={[
		'one step at a time: fuel, then boost, then timing',
		'each is driven, logged and looked at before the next'
	]}
>
	{#snippet actions()}<a class="button" href="/jobs/{data.job.id}/fuel">Targets</a>{/snippet}
</PageHead>
<Alert box message={messageOf(form)} class="mb-4" />

{#await data.page}
	<p role="status" aria-busy="true" class="text-muted">
		Reading the logs of this step and of those before it …
	</p>
{:then view}
	{#if view.ladder}{@render rungOf(view.ladder, view)}{:else}
		<p role="status" class="text-muted">No step can be said: {view.problem}.</p>
	{/if}
{:catch}
	<p role="alert" class="text-stop">The ladder could not be worked out. Load the page again.</p>
{/await}

{#snippet rungOf(ladder: JobLadder, { climbs, titles }: Pick<LadderPage, 'climbs' | 'titles'>)}
	{@const answer = ladder.answer}
	{@const shut = answer.gates.filter((g) => !g.open && (g.checked || ladder.logs.length > 0))}
	{@const open = answer.gates.filter((g) => g.open && g.checked)}
	{@const unseen = answer.gates.filter((g) => !g.checked && !shut.includes(g))}
	{@const last = answer.steps.at(-1)}
	<div class="split">
		<div class="min-w-0">
			{#if ladder.logs.length || answer.steps.length > 1}
				<Staircase stairs={stairsOf(ladder)} next={nextOf(ladder)} goal={ladder.goal} limits={data.limits} />
			{:else}
				<p class="text-muted">
					No log was made with R{ladder.revision.number} yet: the way so far is drawn from the first one on.
				</p>
			{/if}
		</div>
		<div class="grid gap-3 self-start">
			<section aria-label="The next step" class="card">
				<h2 class="mb-1">The next step</h2>
				<p class="text-title font-semibold" data-testid="rung">
					{RUNG[answer.rung.kind]}{#if answer.rung.from !== null && answer.rung.to !== null}: <span
							>{amount(answer.rung.kind, answer.rung.from)} → {amount(answer.rung.kind, answer.rung.to)}</span
						>{/if}
				</p>
				{#if answer.end}<p class="mt-1">{answer.end.reason}</p>{/if}
				{#if answer.drive}<p class="border-watch mt-1 border-l-4 pl-3">
						{preferences.say(answer.driveSaid ?? answer.drive)}
					</p>{/if}
				<p class="text-muted text-text">
					From R{ladder.revision.number}{ladder.logs.length
						? ` and ${plural(ladder.logs.length, 'log')} made with it`
						: '; no log was made with it yet'}.
				</p>
				{#each answer.changes as c (c.item)}
					<p class="mt-1">
						<span class="font-semibold">{titles[c.item] ?? c.item}</span>, {plural(c.cells.length, 'value')}:
						{c.reason}.
					</p>
				{/each}
				{#if last?.power || answer.proven}
					<dl class="facts" aria-label="The last step">
						{#if last?.power}
							<dt>The last step gave, by the road</dt>
							<dd>{signed(last.power.morePct, 1)} % ± {fixed(last.power.sePct, 1)}</dd>
						{/if}
						{#if answer.proven}
							{@const p = answer.proven}
							<dt>Proven in</dt>
							<dd>
								{p.iatC === null ? '' : `${preferences.text(p.iatC, '°C')} intake air, `}{preferences.text(
									p.baroKpa,
									'kPa abs'
								)}{p.ethanolPct === null ? '' : `, ${fixed(p.ethanolPct, 0)} % ethanol`}
							</dd>
							<dt class="wide">
								{p.hot
									? 'As hot as the season has it.'
									: 'The hottest days are yet to come: final timing keeps 2° in hand.'}
							</dt>
						{/if}
					</dl>
				{/if}
				{#if answer.changes.length}{@render take('rung', 'Take the step into a draft', climbs)}{/if}
			</section>
			{#each shut as g (g.id)}
				<section class="card closed" aria-label="Closed gate">
					<p class="text-stop mb-1 font-semibold">
						<Mark state="stop" bare size={12} /> Closed: {GATE[g.id]?.toLowerCase()}
					</p>
					<p>{preferences.say(g.said ?? g.why)}</p>
				</section>
			{/each}
		</div>
	</div>
	<section aria-label="Gates" class="mb-5">
		<h2 class="mt-5 mb-2">
			{shut.length
				? `Gates: ${open.length} open, ${shut.length} closed`
				: unseen.length
					? 'Every gate that could be looked at is open'
					: 'Every gate is open'}
		</h2>
		<ol class="gates" aria-hidden="true">
			{#each answer.gates as g (g.id)}
				{@const state = shut.includes(g) ? 'stop' : g.checked ? 'pass' : 'not-checked'}
				<li class={state === 'stop' ? 'text-stop font-semibold' : state === 'pass' ? '' : 'text-muted'}>
					<span class="node"><Mark {state} bare size={state === 'stop' ? 18 : 14} /></span>
					{GATE[g.id]}
				</li>
			{/each}
		</ol>
		<details class="mt-3" open={shut.length > 0}>
			<summary>All with their reasons</summary>
			<ul class="mt-2">
				{#each [...shut, ...open, ...unseen] as g (g.id)}
					{@const state = shut.includes(g) ? 'stop' : g.checked ? 'pass' : 'not-checked'}
					<li class="border-line grid grid-cols-[170px_minmax(0,1fr)] gap-4 border-b py-1.5">
						<span class={state === 'stop' ? 'font-semibold' : ''}
							><Mark {state} bare size={12} /> {GATE[g.id]}</span
						>
						<span class={state === 'stop' ? '' : 'text-muted'}
							>{state === 'not-checked' ? 'Not looked at: ' : ''}{preferences.say(g.said ?? g.why)}</span
						>
					</li>
				{/each}
			</ul>
		</details>
	</section>
	{#if answer.shifts.says.length}
		<section aria-label="Shifts" class="mb-5">
			<h2 class="mb-1">Full-throttle shifts</h2>
			<ul>
				{#each answer.shifts.says as s (s)}<li class="border-line border-b py-1">{s}</li>{/each}
			</ul>
			{#if answer.shifts.changes.length}
				{@render take('shifts', 'Take the shift speeds into a draft', true)}
			{/if}
		</section>
	{/if}
	{#if answer.throttle.why}
		<section aria-label="Throttle" class="mb-5">
			<h2 class="mb-1">Throttle</h2>
			<p>{answer.throttle.why}</p>
			{#if answer.throttle.changes.length}
				{@render take('throttle', 'Take the demand into a draft', true)}
			{/if}
		</section>
	{/if}
{/snippet}

<style>
	.split {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 320px;
		gap: 24px;
	}
	.card {
		padding: 12px 16px;
		border: 1px solid var(--line);
		background: var(--sheet);
	}
	.closed {
		border-color: var(--stop);
		border-left-width: 4px;
	}
	.facts {
		display: grid;
		grid-template-columns: auto auto;
		gap: 4px 12px;
		margin-top: 10px;
		padding-top: 8px;
		border-top: 1px solid var(--line);
		font-size: 13px;
	}
	.facts dt {
		color: var(--muted);
	}
	.facts dd {
		text-align: right;
	}
	.facts .wide {
		grid-column: 1 / -1;
	}
	.gates {
		display: grid;
		grid-auto-columns: minmax(0, 1fr);
		grid-auto-flow: column;
		font-size: 12px;
		line-height: 15px;
		text-align: center;
	}
	.gates li {
		position: relative;
	}
	.gates li::before {
		content: '';
		position: absolute;
		top: 10px;
		left: -50%;
		right: 50%;
		border-top: 1px solid var(--strong-line);
	}
	.gates li:first-child::before {
		display: none;
	}
	.node {
		position: relative;
		display: grid;
		place-items: center;
		width: 22px;
		height: 22px;
		margin: 0 auto 4px;
		background: var(--paper);
	}
</style>
