<script lang="ts">
	import { enhance } from '$app/forms';
	import PhotoUpload from '$lib/ui/customer/PhotoUpload.svelte';
	import { INSPECTION } from '$core/planning/inspection';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const stateOf = (id: string) => data.items.find((i) => i.item === id)!;
	const faultyItem = $derived(
		form && 'entered' in form ? (form.entered as Record<string, string> | undefined)?.['item'] : undefined
	);
	const open = $derived(data.items.filter((i) => i.state === null).length);
	const STATES = [
		['fine', 'Fine'],
		['not-fine', 'Not fine'],
		['unsure', 'Not sure']
	] as const;
</script>

<h1>Inspection</h1>
<p class="mt-1 mb-4" role="status">
	{open === 0
		? 'All answered. Your tuner sees it.'
		: `${open} of ${data.items.length} to go. What you enter is kept at once.`}
</p>
{#each INSPECTION as item (item.id)}
	{@const now = stateOf(item.id)}
	<section class="border-line border-t py-4" aria-labelledby="item-{item.id}">
		<h3 class="font-semibold" id="item-{item.id}">{item.title}</h3>
		<p class="mb-2">{item.how}</p>
		<form
			method="POST"
			action="?/answer"
			use:enhance={() =>
				async ({ update }) =>
					update({ reset: false })}
		>
			<input type="hidden" name="item" value={item.id} />
			<label class="mb-2 block"
				><span class="text-muted text-text">Remark</span><input
					name="remark"
					maxlength="1000"
					value={now.remark}
					autocomplete="off"
				/></label
			>
			<div class="grid grid-cols-3 gap-2">
				{#each STATES as [state, word] (state)}
					<button
						name="state"
						value={state}
						class="button justify-center py-2.5! {now.state === state ? 'button-main' : ''}"
						aria-pressed={now.state === state}>{word}</button
					>
				{/each}
			</div>
		</form>
		{#if form && 'message' in form && faultyItem === item.id}<p role="alert" class="text-stop mt-2">
				{form.message}
			</p>{/if}
		{#if now.photos.length}
			<div class="mt-3 flex flex-wrap gap-2">
				{#each now.photos as p, n (p.id)}
					<form method="POST" action="?/removePhoto" use:enhance class="relative">
						<img
							src="{data.base}/photos/{p.id}"
							alt="{item.title}, photo {n + 1}"
							width={p.width}
							height={p.height}
							class="border-line h-24 w-auto border"
							loading="lazy"
						/>
						<input type="hidden" name="id" value={p.id} />
						<button
							class="button absolute top-1 right-1 px-2! py-0!"
							aria-label="Take out photo {n + 1} of {item.title}">×</button
						>
					</form>
				{/each}
			</div>
		{/if}
		{#if item.photo}
			<PhotoUpload item={item.id} label="Photo for {item.title}" text="Add a photo" class="mt-3" />
		{/if}
	</section>
{/each}
<p class="text-muted mt-2 text-text">
	Photos are made small, and place, time and camera are taken out of them.
</p>
