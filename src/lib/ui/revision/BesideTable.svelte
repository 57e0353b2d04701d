<script lang="ts">
	/** What a proposal says beside its cells: what else the error follows, and that the learned trims have to go. */
	import type { Item } from '$core/calibration/document';
	import { titleOf } from '$core/calibration/items';
	import { fixed } from '$core/format';
	import type { Proposal } from '$core/revising/proposal';
	import { convert } from '$core/units/units';
	import { signedText } from '../cellmap/colour';
	import { usePreferences } from '../preferences.svelte';

	let { proposal, items }: { proposal: Proposal; items: readonly Item[] } = $props();
	const preferences = usePreferences();
	const follows = $derived(proposal.follows ?? []);
	type Term = 'iat' | 'vbat' | 'time';
	const FOLLOWED: Record<Term, string> = {
		iat: 'intake air',
		vbat: 'the supply voltage',
		time: 'the time since the start'
	};
	const per = (term: Term) =>
		({ iat: `per ${preferences.units.temperature}`, vbat: 'per V', time: 'over the warm-up' })[term];
	/** Degrees of the reader in one of ours: a slope is by so much smaller. */
	const degrees = $derived(
		convert(1, '°C', preferences.units.temperature) - convert(0, '°C', preferences.units.temperature)
	);
	const inReaders = (term: Term, v: number) => (term === 'iat' ? v / degrees : v);
</script>

{#if follows.length || proposal.resetTrims}
	<section class="border-watch mb-4 border-l-4 pl-3" aria-label="Beside the table">
		<ul>
			{#each follows as f (f.term)}
				<li>
					The error follows {FOLLOWED[f.term]},
					<span class="numbers"
						>{signedText(inReaders(f.term, f.slope), 2)} ± {fixed(inReaders(f.term, f.se), 2)} %</span
					>
					{per(f.term)}: {f.item
						? `“${titleOf(items.find((i) => i.id === f.item) ?? { id: f.item })}” is where that belongs, not the table`
						: 'that belongs into the warm-up, not into the table'}.
				</li>
			{/each}
			{#if proposal.resetTrims}
				<li>
					The learned trims are over 2 % in these logs, and the proposal holds what they held: they have to be
					reset with this revision, and the release says so.
				</li>
			{/if}
		</ul>
	</section>
{/if}
