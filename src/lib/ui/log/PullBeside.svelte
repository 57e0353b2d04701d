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

<p class="text-muted text-[13px]">
	{pulls.picked === null ? 'Widest pull' : `Pull ${pulls.picked + 1}`}{pull.gear
		? `, gear ${pull.gear}`
		: ''},
	<span class="numbers">{pull.summary.fromRpm}–{pull.summary.toRpm} rpm</span>, at
	<span class="numbers">{clock(pull.fromS)}</span>
</p>
<PullChart {pull} {stoich} against={pulls.against} />
{#if pulls.all.length > 1 || earlier.some((e) => e.pulls.length)}
	<label class="no-print mt-2 flex items-center gap-2 text-[13px]"
		>laid over
		<select
			class="w-72!"
			value={pulls.againstKey}
			onchange={(e) => void pulls.setAgainst(e.currentTarget.value)}
		>
			<option value="">nothing</option>
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
		</select></label
	>
{/if}
