<script lang="ts">
	/** What the checks of one subject say: findings first, then what held and what could not be checked, each reason once. */
	import type { SubjectOutcome } from '$core/screening/sections';
	import { usePreferences } from '../preferences.svelte';
	import Mark from '../findings/Mark.svelte';

	let { said }: { said: SubjectOutcome } = $props();
	const preferences = usePreferences();

	/** A title is a line without an end; a question keeps its own. */
	const sentence = (title: string): string => (/[.?!]$/.test(title) ? title : `${title}.`);
</script>

<ul>
	{#each said.findings as f (f.code + String(f.cylinder ?? '') + f.title)}
		<li class="py-0.5">
			<Mark state={f.severity} bare size={12} />
			{sentence(preferences.finding(f).title)}
			<span class="text-muted">{preferences.finding(f).summary}</span>
		</li>
	{/each}
	{#each said.lines as l (l.titles.join())}
		<li class="text-muted py-0.5">
			<Mark state={l.outcome} bare size={12} />
			{l.titles.join(', ')}: {preferences.say(l.reason)}
		</li>
	{/each}
</ul>
