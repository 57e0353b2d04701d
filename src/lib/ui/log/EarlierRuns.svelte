<script lang="ts">
	import { plural } from '$core/format';
	import type { EarlierRun } from '$lib/server/logs/logs';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { moment } from '$lib/ui/time';

	let { runs }: { runs: readonly EarlierRun[] } = $props();
</script>

<details class="mt-5 text-text">
	<summary class="cursor-pointer">Screened {plural(runs.length, 'time')} before</summary>
	<ul class="mt-1">
		{#each runs as r (r.at)}
			<li class="border-line border-b py-1">
				{moment(r.at)} UTC: <Mark state={r.verdict} size={12} />, {plural(
					r.findings,
					'finding'
				)}{#each r.limits as l (l.name)}; {l.name}
					{l.then}, now {l.now}{/each}
			</li>
		{/each}
	</ul>
</details>
