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
	import type { JobLadder } from '$lib/server/ladders';
	import type { PageProps } from './$types';
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
/>
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
	<section aria-label="The next step" class="border-line mb-5 border-y py-3">
		<h2 class="mb-1">The next step</h2>
		<p class="text-title font-semibold" data-testid="rung">
			{RUNG[answer.rung.kind]}{#if answer.rung.from !== null && answer.rung.to !== null}: <span
					class="numbers"
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
			<a class="underline" href="/jobs/{data.job.id}/fuel">Targets</a>
		</p>
		{#each answer.changes as c (c.item)}
			<p class="mt-1">
				<span class="font-semibold">{titles[c.item] ?? c.item}</span>, {plural(c.cells.length, 'value')}:
				{c.reason}.
			</p>
		{/each}
		{#if answer.changes.length}
			{@render take('rung', 'Take the step into a draft', climbs)}
		{/if}
	</section>
	{#if answer.brought || answer.proven}
		<section aria-label="The last step" class="mb-5 max-w-[640px]">
			<h2 class="mb-1">The last step</h2>
			{#if answer.brought}
				{@const { before, now, power } = answer.brought}
				<table class="w-full text-left">
					<thead
						><tr
							><th></th><th class="numbers text-right">before</th><th class="numbers text-right">now</th></tr
						></thead
					>
					<tbody>
						{#each [['Highest boost', 'boostKpa', 'kPa abs'], ['Most knock retard', 'knockDeg', '°'], ['Highest duty', 'dutyPct', '%']] as const as [word, key, unit] (key)}
							<tr class="border-line border-t"
								><td class="py-1">{word}</td>{#each [before[key], now[key]] as v, n (n)}<td
										class="numbers text-right">{v === null ? '–' : preferences.text(v, unit)}</td
									>{/each}</tr
							>
						{/each}
						<tr class="border-line border-t"
							><td class="py-1">Power by the road, same speeds</td><td class="numbers text-right" colspan="2"
								>{power
									? `${signed(power.morePct, 1)} % ± ${fixed(power.sePct, 1)}`
									: 'not comparable: two pulls of one gear in each are needed'}</td
							></tr
						>
					</tbody>
				</table>
			{/if}
			{#if answer.proven}
				{@const p = answer.proven}
				<p class="text-muted mt-1 text-text">
					Proven{p.iatC === null ? '' : ` at ${preferences.text(p.iatC, '°C')} intake air`}{p.ambientC ===
					null
						? ''
						: ` (${preferences.text(p.ambientC, '°C')} outside)`}, {preferences.text(p.baroKpa, 'kPa abs')} barometer{p.ethanolPct ===
					null
						? ''
						: `, ${fixed(p.ethanolPct, 0)} % ethanol`}. {p.hot
						? 'As hot as the season has it.'
						: 'The hottest days are yet to come: final timing keeps 2° in hand.'}
				</p>
			{/if}
		</section>
	{/if}
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
	<section aria-label="Gates">
		<h2 class="mb-1">
			{shut.length
				? `Closed: ${shut.length}`
				: unseen.length
					? 'Every gate that could be looked at is open'
					: 'Every gate is open'}
		</h2>
		<ul class={shut.length ? 'mb-4' : ''}>
			{#each shut as g (g.id)}
				<li class="border-line grid grid-cols-[170px_minmax(0,1fr)] gap-4 border-b py-1.5">
					<span><Mark state="stop" bare size={12} /> <span class="font-semibold">{GATE[g.id]}</span></span>
					<span>{preferences.say(g.said ?? g.why)}</span>
				</li>
			{/each}
		</ul>
		{#if open.length}
			{#if shut.length}<h2 class="mb-1">Open</h2>{/if}
			<ul>
				{#each open as g (g.id)}
					<li class="border-line grid grid-cols-[170px_minmax(0,1fr)] gap-4 border-b py-1.5">
						<span><Mark state="pass" bare size={12} /> {GATE[g.id]}</span>
						<span class="text-muted">{preferences.say(g.said ?? g.why)}</span>
					</li>
				{/each}
			</ul>
		{/if}
		{#if unseen.length}
			<h2 class="mt-3 mb-1">Not looked at</h2>
			<ul>
				{#each unseen as g (g.id)}
					<li class="border-line text-muted grid grid-cols-[170px_minmax(0,1fr)] gap-4 border-b py-1.5">
						<span><Mark state="not-checked" bare size={12} /> {GATE[g.id]}</span>
						<span>{preferences.say(g.said ?? g.why)}</span>
					</li>
				{/each}
			</ul>
		{/if}
	</section>
{/snippet}
