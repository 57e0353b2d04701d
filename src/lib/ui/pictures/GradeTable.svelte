<script lang="ts">
	/** The trainee's word beside Tanto's and the truth. */
	import type { Grade } from '$core/practice/grade';
	import Mark from '../findings/Mark.svelte';

	let { grade }: { grade: Grade } = $props();
	const MARKS = { hit: 'pass', near: 'watch', missed: 'stop', wrong: 'fix' } as const;
	const WORDS = { hit: 'hit', near: 'nearly', missed: 'missed', wrong: 'wrong' } as const;
</script>

<table class="w-full text-left text-text">
	<thead>
		<tr class="table-head">
			<th class="py-1 font-normal">What is there</th><th class="w-24 font-normal">you</th><th
				class="w-24 font-normal">Tanto</th
			><th class="font-normal">what it means</th>
		</tr>
	</thead>
	<tbody>
		{#each grade.lines as l (l.subject)}
			<tr class="border-line border-b align-top">
				<td class="py-1.5 pr-3 font-semibold">{l.mark === 'wrong' ? 'Not there: ' : ''}{l.title}</td>
				<td class="py-1.5"><Mark state={MARKS[l.mark]} bare size={12} /> {WORDS[l.mark]}</td>
				<td class="py-1.5"
					><Mark state={l.tanto ? 'pass' : 'not-checked'} bare size={12} />
					{l.tanto ? 'says it' : 'doesn’t'}</td
				>
				<td class="text-muted py-1.5">{l.words}.</td>
			</tr>
		{:else}
			<tr><td colspan="4" class="text-muted py-1.5">Nothing is wrong with it any more.</td></tr>
		{/each}
	</tbody>
</table>
<p class="text-muted mt-1 text-small">
	Verdict: you said <b>{grade.verdict.own}</b>, Tanto <b>{grade.verdict.tanto}</b>.
</p>
