<script lang="ts">
	/** What the customer said with a log. */
	import type { LogLine } from '$lib/server/logs/logs';
	import { clock } from '../time';

	let { log }: { log: LogLine } = $props();
	const WORD: Record<string, string> = {
		fuel: 'Fuel',
		ethanol: 'Ethanol',
		weather: 'Weather',
		where: 'Where',
		odd: 'Odd'
	};
	const answers = $derived(Object.entries(log.answers).filter(([id]) => id in WORD));
</script>

{#if log.kind === 'problem' || log.words || answers.length || log.declinedAt}
	<section class="border-line mb-3 border-b pb-2 text-text" aria-label="Said with the log">
		{#if log.declinedAt}<p class="text-fix font-semibold">Rejected: another log was asked for.</p>{/if}
		{#if log.kind === 'problem'}
			<p>
				<span class="font-semibold">A problem</span>{log.momentS === null
					? ', no moment was marked'
					: `, marked at ${clock(log.momentS)}`}
			</p>
		{/if}
		{#if log.words}<p class="max-w-prose break-words whitespace-pre-line">“{log.words}”</p>{/if}
		{#if answers.length}
			<p class="break-words">
				{#each answers as [id, text], i (id)}{i ? ' · ' : ''}<span class="text-muted">{WORD[id]}</span>
					{text}{/each}
			</p>
		{/if}
	</section>
{/if}
