<script lang="ts">
	/** What went into the tank: a pump's blend differs each time. */
	import Field from '$lib/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import type { FillRecord } from '$lib/server/jobs/stages';
	import { moment } from '../time';

	let { fills }: { fills: FillRecord[] } = $props();
	let open = $state(false);
	let at = $state('');
	const SOURCES = [
		['sensor', 'measured'],
		['stated', 'as the pump or the customer says'],
		['inferred', 'inferred from trims']
	] as const;
	const sourceOf = (s: string) => SOURCES.find(([id]) => id === s)?.[1] ?? s;
	function show() {
		const now = new Date();
		at = new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
		open = true;
	}
</script>

<section id="fills" aria-label="Fills of the tank" class="mt-8 max-w-[860px] scroll-mt-4">
	<h2 class="mb-1">Fills of the tank</h2>
	{#if fills.length === 0}
		<p class="text-muted">
			None is noted. A pump's blend differs each time: note what went in, and where that is known from.
		</p>
	{:else}
		<ul>
			{#each fills as f (f.id)}
				<li class="border-line border-b py-1.5">
					<span class="numbers">{moment(f.at)}</span>
					{#if f.ethanolPct !== null}<strong class="numbers ml-2">{f.ethanolPct} % ethanol</strong>, {sourceOf(
							f.source
						)}{/if}
					{#if f.octaneRon !== null}<span class="numbers ml-2">RON {f.octaneRon}</span>{/if}
					{#if f.words}<span class="ml-2">{f.words}</span>{/if}
					<span class="text-muted text-small">{f.author}</span>
				</li>
			{/each}
		</ul>
	{/if}
	{#if open}
		<form
			method="POST"
			action="?/fill"
			class="mt-2 flex flex-wrap items-end gap-2"
			use:enhance={({ formData }) => {
				formData.set('at', at ? new Date(at).toISOString() : '');
				return async ({ update, result }) => {
					await update({ reset: result.type === 'success' });
					if (result.type === 'success') open = false;
				};
			}}
		>
			<Field title="When"><input type="datetime-local" bind:value={at} required /></Field>
			<Field title="Ethanol, %" class="w-28"
				><input name="ethanolPct" inputmode="decimal" autocomplete="off" /></Field
			>
			<Field title="Known from"
				><select name="source"
					>{#each SOURCES as [value, word] (value)}<option {value}>{word}</option>{/each}</select
				></Field
			>
			<Field title="Octane, RON" class="w-28"
				><input name="octaneRon" inputmode="decimal" autocomplete="off" /></Field
			>
			<Field title="In words" class="min-w-48 flex-1"
				><input name="words" maxlength="300" placeholder="how much, from where" /></Field
			>
			<button class="button">Note it</button>
			<button type="button" class="button" onclick={() => (open = false)}>Cancel</button>
		</form>
	{:else}
		<button class="button mt-2" onclick={show}>Note a fill</button>
	{/if}
</section>
