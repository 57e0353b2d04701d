<script lang="ts">
	import type { PullCurves } from '$core/evidence/segments/pull-curves';
	import PullChart from '$lib/ui/lanes/PullChart.svelte';
	import { clock } from '$lib/ui/time';
	import type { EarlierLog } from '$lib/ui/lanes/types';
	import type { Pulls } from './pulls.svelte';

	interface Props {
		pulls: Pulls;
		pull: PullCurves;
		stoich: number;
		/** Earlier logs of the job, to lay a pull of theirs behind it. */
		earlier: readonly EarlierLog[];
	}
	let { pulls, pull, stoich, earlier }: Props = $props();
</script>

<div class="mb-1 flex items-center gap-3">
	<h2>{pulls.picked === null ? 'Widest pull' : `Pull ${pulls.picked + 1}`}</h2>
	<span class="text-muted text-small whitespace-nowrap"
		>{pull.gear ? `gear ${pull.gear}, ` : ''}<span class="numbers"
			>{pull.summary.fromRpm}–{pull.summary.toRpm} rpm</span
		>, at <span class="numbers">{clock(pull.fromS)}</span></span
	>
	{#if pulls.all.length > 1 || earlier.some((e) => e.pulls.length)}
		<select
			class="no-print text-small ml-auto min-h-7! w-44! py-0!"
			aria-label="Overlay"
			value={pulls.againstKey}
			onchange={(e) => void pulls.setAgainst(e.currentTarget.value)}
		>
			<option value="">Overlay: none</option>
			{#each pulls.all as p, i (p.fromS)}
				{#if i !== pulls.index}
					<option value="{pulls.logId}/{i}"
						>pull {i + 1}{p.gear ? `, gear ${p.gear}` : ''}, at {clock(p.fromS)}</option
					>
				{/if}
			{/each}
			{#each earlier as e (e.id)}
				{#each e.pulls as p, i (i)}
					<option value="{e.id}/{i}"
						>{e.name.slice(0, 30)}: pull {i + 1}{p.gear ? `, gear ${p.gear}` : ''}</option
					>
				{/each}
			{/each}
		</select>
	{/if}
</div>
<PullChart {pull} {stoich} against={pulls.against} />
