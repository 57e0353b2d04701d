<script lang="ts">
	import { plural } from '$core/format';
	import { enhance } from '$app/forms';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const changed = $derived(data.limits.filter((l) => l.own !== null).length);
	const was = (name: string) => (form && 'entered' in form ? form.entered?.[name] : undefined);
</script>

<svelte:head><title>Limits of {data.job.title} – Tanto</title></svelte:head>

<h1 class="mb-1">Limits</h1>
<p class="text-muted mb-4 max-w-prose">
	What the checks judge by. A vehicle may have its own; an emptied field takes the default again. Every
	screening keeps the limits that it was made with.
	{changed === 0
		? 'This vehicle has none of its own.'
		: `${plural(changed, 'is', 'are')} this vehicle's own.`}
</p>
{#if form && 'message' in form}<p role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
		{form.message}
	</p>{/if}
{#if form && 'saved' in form}<p role="status" class="border-clear mb-4 border-l-4 px-3 py-2">
		Saved. The logs of this vehicle are screened again with these limits.
	</p>{/if}
<form
	method="POST"
	use:enhance={() =>
		async ({ update }) =>
			update({ reset: false })}
	class="max-w-[760px]"
>
	<table class="w-full text-left">
		<thead>
			<tr class="text-muted border-strong-line border-b text-[13px]">
				<th class="py-1 font-normal">Meaning</th>
				<th class="w-[110px] py-1 pr-4 text-right font-normal">Default</th>
				<th class="w-[130px] py-1 font-normal">Own value</th>
				<th class="w-[60px] py-1 font-normal">Unit</th>
			</tr>
		</thead>
		<tbody>
			{#each data.limits as l (l.name)}
				<tr class="border-line border-b {l.own !== null ? 'bg-shade' : ''}">
					<td class="py-1 pr-3" id="meaning-{l.name}"
						>{l.meaning}{#if l.own !== null}<span class="text-fix ml-2 text-[13px] font-semibold"
								>changed</span
							>{/if}{#if l.source !== 'own choice'}<span class="text-muted ml-2 text-[13px]">{l.source}</span
							>{/if}</td
					>
					<td class="numbers pr-4 text-right">{l.value}</td>
					<td class="py-1"
						><input
							name={l.name}
							class="numbers"
							inputmode="decimal"
							autocomplete="off"
							aria-labelledby="meaning-{l.name}"
							value={was(l.name) ?? l.own ?? ''}
						/></td
					>
					<td class="numbers pl-2">{l.unit}</td>
				</tr>
			{/each}
		</tbody>
	</table>
	<button class="button button-main mt-4">Save the limits</button>
</form>
