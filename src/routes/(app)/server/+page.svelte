<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	/** What an owner wants to know of the machine: whether anything needs a hand, first. */
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { moment } from '$lib/ui/time';
	import { conditionLines } from '$lib/ui/server-condition';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const c = $derived(data.condition);
	const lines = $derived(conditionLines(c, Date.now()));
</script>

<svelte:head><title>Server – Tanto</title></svelte:head>

<main class="max-w-[820px] px-(--gutter) pb-6">
	<PageHead
		title="Server"
		says={[`version ${c.version}`, `running since ${moment(c.startedAt)} UTC`, `Node ${c.node}`]}
	/>
	<table class="mb-6 w-full text-left">
		<tbody>
			{#each lines as l (l.title)}
				<tr class="border-line border-b align-top">
					<th scope="row" class="w-[160px] py-1.5 pr-3 font-semibold">{l.title}</th>
					<td class="w-[26px] py-1.5"><Mark state={l.state} bare size={13} /></td>
					<td class="py-1.5"
						>{l.text}{#if l.advice}<span class="text-muted block text-small">{l.advice}</span>{/if}</td
					>
				</tr>
			{/each}
		</tbody>
	</table>
	<h2 class="mb-1">Asking for help</h2>
	<p class="mb-2 max-w-prose">
		The diagnosis file has versions, counts and sizes. Nothing in it was written by a customer or a tuner, and
		no setting’s value is.
	</p>
	<a class="button" href="/api/v1/diagnosis" download>Download the diagnosis file</a>
</main>
