<script lang="ts">
	/** Where practitioners disagree: what this workshop chose, and what Tanto does about the rest, each with its reason. */
	import { enhance } from '$app/forms';
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>Ways of working – Tanto</title></svelte:head>

<main class="px-(--gutter) pb-6">
	<PageHead
		title="Ways of working"
		says={[
			'where practitioners disagree, and what is done here',
			data.owner ? 'you choose for the workshop' : 'the owner chooses for the workshop'
		]}
	/>
	<Alert box message={messageOf(form)} class="mb-4" />
	{#if form && 'saved' in form}<p role="status" class="border-clear mb-4 border-l-4 px-3 py-2">
			Kept. What is proposed, planned and released from now on follows it.
		</p>{/if}
	<form
		method="POST"
		action="?/choose"
		class="mb-8 max-w-[1080px]"
		use:enhance={() =>
			async ({ update }) =>
				update({ reset: false })}
	>
		<div class="grid grid-cols-2 gap-x-10 gap-y-6 max-[900px]:grid-cols-1">
			{#each data.ways as way (way.id)}
				<fieldset disabled={!data.owner}>
					<legend class="font-semibold">{way.title}</legend>
					{#each way.schools as school (school.value)}
						<label class="border-line flex items-baseline gap-2 border-b py-1.5">
							<input
								type="radio"
								name={way.id}
								value={school.value}
								checked={data.chosen[way.id] === school.value}
							/>
							<span>{school.title}<br /><span class="text-muted text-small">{school.why}</span></span>
						</label>
					{/each}
					<p class="text-small mt-1">{way.does}</p>
				</fieldset>
			{/each}
		</div>
		{#if data.owner}<button class="button button-main mt-4">Save</button>{/if}
	</form>
	<h2 class="mb-1">Not chosen here</h2>
	<table class="w-full max-w-[1080px] text-left">
		<thead>
			<tr class="table-head">
				<th class="py-1 pr-4 font-normal">Matter</th><th class="py-1 pr-4 font-normal">What Tanto does</th>
				<th class="py-1 pr-4 font-normal">Why</th><th class="py-1 font-normal">Where it is set</th>
			</tr>
		</thead>
		<tbody>
			{#each data.settled as s (s.title)}
				<tr class="border-line border-b align-baseline">
					<th scope="row" class="py-1.5 pr-4 font-semibold">{s.title}</th>
					<td class="py-1.5 pr-4">{s.does}</td>
					<td class="text-muted py-1.5 pr-4">{s.why}</td>
					<td class="py-1.5">{s.where}</td>
				</tr>
			{/each}
		</tbody>
	</table>
</main>
