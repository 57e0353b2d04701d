<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { INSPECTION } from '$core/planning/inspection';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const open = $derived(data.items.filter((i) => i.state === null).length);
	const bad = $derived(data.items.filter((i) => i.state === 'not-fine' || i.state === 'unsure').length);
	const WORD = { fine: 'fine', 'not-fine': 'not fine', unsure: 'not sure' } as const;
	const titleOf = (id: string) => INSPECTION.find((l) => l.id === id)!.title;
</script>

<svelte:head><title>Inspection of {data.job.title} – Tanto</title></svelte:head>

<PageHead
	title="Inspection"
	says={[
		open === data.items.length
			? 'not answered yet: the list stands on the customer’s page'
			: bad === 0
				? 'nothing to worry about so far'
				: `${bad} to talk about`,
		open > 0 && open < data.items.length && `${open} not answered`
	]}
/>
<ul>
	{#each data.items as i (i.item)}
		<li class="border-line grid grid-cols-[190px_100px_minmax(0,1fr)] gap-4 border-b py-2">
			<span class="font-semibold">{titleOf(i.item)}</span>
			<span
				class={i.state === 'not-fine'
					? 'text-stop font-semibold'
					: i.state === 'unsure'
						? 'text-fix font-semibold'
						: i.state
							? 'text-clear'
							: 'text-muted'}>{i.state ? WORD[i.state] : 'no answer'}</span
			>
			<div>
				{#if i.remark}<p class="max-w-prose break-words whitespace-pre-line">{i.remark}</p>{/if}
				{#if i.photos.length}
					<div class="mt-1 flex flex-wrap gap-2">
						{#each i.photos as p, n (p.id)}
							<a href="/jobs/{data.job.id}/photos/{p.id}" target="_blank" rel="noopener"
								><img
									src="/jobs/{data.job.id}/photos/{p.id}"
									alt="{titleOf(i.item)}, photo {n + 1}"
									width={p.width}
									height={p.height}
									class="border-line h-28 w-auto border"
									loading="lazy"
								/></a
							>
						{/each}
					</div>
				{/if}
			</div>
		</li>
	{/each}
</ul>
