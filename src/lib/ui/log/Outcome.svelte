<script lang="ts">
	/** Did the last change work: each kind of change with its measure before and now, and what was predicted against what came. */
	import { fixed, plural, uncapital } from '$core/format';
	import type { Outcome, Prediction } from '$core/revising/outcome';
	import type { StillOpen } from '$core/screening/brief';
	import type { RevisionOutcome } from '$lib/server/views/outcome';
	import { signedText } from '../cellmap/colour';
	import { usePreferences } from '../preferences.svelte';

	let {
		outcome,
		open,
		compareUrl
	}: {
		outcome: RevisionOutcome;
		/** What this log still finds: one statement with what the change did, never two that contradict each other. */
		open: readonly StillOpen[];
		/** Both logs' errors, side by side. */
		compareUrl: string;
	} = $props();
	const preferences = usePreferences();
	const WORDS: Record<Outcome['verdict'], string> = {
		worked: 'What it changed worked',
		partly: 'The change worked in part',
		nothing: 'The change did nothing',
		worse: 'The change made it worse',
		'not-visited': 'The changed places were not driven again'
	};
	const MOST_OPEN = 3;
	/** How much of it there was before, and is now, where that changed. */
	const was = ({ value, before, unit }: StillOpen) =>
		value === null || before === null || fixed(before, 1) === fixed(value, 1)
			? ''
			: ` (${fixed(before, 1)} → ${fixed(value, 1)} ${unit})`;
	/** Within a sentence; what begins with a quantity or a sign stays. */
	const lowered = (title: string) => (/^[A-Z][a-z]/.test(title) ? uncapital(title) : title);
	const EACH: Record<Outcome['verdict'], string> = {
		worked: 'worked',
		partly: 'worked in part',
		nothing: 'did nothing',
		worse: 'got worse',
		'not-visited': 'not driven again'
	};
	const subject = (o: Outcome) => {
		const [first, ...rest] = o.items;
		return `${outcome.titles[first!] ?? first}${rest.length ? ` and ${rest.length} more` : ''}`;
	};
	const what = (o: Outcome) =>
		o.measure === 'mixture'
			? `in ${o.places} cells the mixture was off by`
			: o.measure === 'knock'
				? `highest knock${o.rpm ? ` at ${o.rpm[0]} to ${o.rpm[1]} rpm` : ''}`
				: o.measure === 'cylinders'
					? 'the trimmed cylinder that is furthest from the others was off by'
					: 'boost was off its set point by';
	const number = (o: Outcome, v: number) => {
		if (o.unit !== 'kPa') return `${fixed(v, 1)}${o.unit === '°' ? '°' : ' %'}`;
		const p = preferences.shown(v, 'kPa');
		return `${fixed(p.value, Math.max(1, p.decimals))} ${p.unit}`;
	};
	const PREDICTED: Record<Prediction['what'], string> = {
		duty: 'injector duty',
		leanest: 'leanest of the pulls against target',
		mixture: 'mean error of the mixture'
	};
</script>

<div class="border-line mb-3 border-b pb-3" data-testid="outcome">
	<h2>Did the last change work</h2>
	<p>
		<span class="font-semibold"
			>{WORDS[outcome.verdict]}{open.length ? ';' : ', and nothing is left to deal with.'}</span
		>
		{#if open.length}still open: {#each open.slice(0, MOST_OPEN) as f, i (f.key)}{i ? '; ' : ''}{lowered(
					preferences.say(f.title)
				)}<span class="text-muted numbers">{was(f)}</span>{/each}{open.length > MOST_OPEN
				? `; ${plural(open.length - MOST_OPEN, 'more finding')}`
				: ''}.{/if}
		<a class="text-text underline" href={compareUrl}>Cell by cell, before and after</a>
	</p>
	<ul>
		{#each outcome.outcomes as o, i (o.items.join())}
			<li>
				{#if outcome.outcomes.length > 1 || o.measure !== 'mixture'}<span class="font-semibold"
						>{subject(o)}</span
					>
					{EACH[o.verdict]}{o.places ? ':' : '.'}{/if}
				{#if o.places}{outcome.outcomes.length > 1 || o.measure !== 'mixture'
						? what(o)
						: what(o).replace(/^i/, 'I')}
					<span class="numbers" data-testid={i === 0 ? 'before' : undefined}>{number(o, o.before)}</span>
					before,
					<span class="numbers" data-testid={i === 0 ? 'after' : undefined}>{number(o, o.after)}</span> now.{/if}
			</li>
		{/each}
	</ul>
	{#if outcome.predictions.length}
		<p class="text-muted text-text">
			Predicted and measured: {#each outcome.predictions as p, i (p.what)}{i ? '; ' : ''}{PREDICTED[p.what]}
				<span class="numbers"
					>{p.what === 'leanest' ? signedText(p.predicted) : fixed(p.predicted, 1)} and {p.what === 'leanest'
						? signedText(p.measured)
						: fixed(p.measured, 1)} %</span
				>{#if p.missed}<span class="text-fix font-semibold">, missed by {signedText(p.off)}</span
					>{/if}{/each}.
		</p>
	{/if}
</div>
