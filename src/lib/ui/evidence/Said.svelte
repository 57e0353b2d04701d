<script lang="ts">
	/** What the checks of one subject say: findings first, then what held and what could not be checked, each reason once. */
	import type { Said } from '$core/screening/sections';
	import Mark from '../findings/Mark.svelte';

	let { said }: { said: Said } = $props();
</script>

<ul>
	{#each said.findings as f (f.code + String(f.cylinder ?? '') + f.title)}
		<li class="py-0.5">
			<Mark state={f.severity} bare size={12} />
			{f.title}. <span class="text-muted">{f.summary}</span>
		</li>
	{/each}
	{#each said.lines as l (l.titles.join())}
		<li class="text-muted py-0.5">
			<Mark state={l.outcome} bare size={12} />
			{l.titles.join(', ')}: {l.reason}
		</li>
	{/each}
</ul>
