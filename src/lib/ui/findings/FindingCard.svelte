<script lang="ts">
	import type { Report } from '../../../core/screening/report';
	import Mark from './Mark.svelte';

	let {
		finding,
		open = false,
		onopen,
		id
	}: { finding: Report['findings'][number]; open?: boolean; onopen: () => void; id: string } = $props();
</script>

<article class="border-line border-b py-2 {open ? 'bg-sheet -mx-3 px-3' : ''}">
	<button
		{id}
		class="flex w-full cursor-pointer items-baseline gap-3 text-left"
		aria-expanded={open}
		onclick={onopen}
	>
		<span class="w-[64px] shrink-0"><Mark state={finding.severity} /></span>
		<span class="min-w-0 flex-1"
			><span class="font-semibold">{finding.title}</span>
			{#if !open}<span class="text-muted line-clamp-2">{finding.summary}</span>{/if}</span
		>
		<span class="numbers text-muted hidden 2xl:inline">{finding.code}</span>
	</button>
	{#if open}
		<div class="mt-1 pl-6">
			<p>{finding.summary}</p>
			{#if finding.limit !== undefined}
				<p class="text-muted text-[13px]">
					Rule <span class="numbers">{finding.code}</span>: value
					<span class="numbers">{finding.value} {finding.unit ?? ''}</span>, limit
					<span class="numbers">{finding.limit} {finding.unit ?? ''}</span>{#if finding.channels.length}, seen
						in {finding.channels.join(', ')}{/if}.
				</p>
			{/if}
			<div class="mt-2 grid gap-x-8 gap-y-2 grid-cols-1">
				<div>
					<h3 class="text-[13px] font-semibold">Usual causes, in the order to look</h3>
					<ol class="list-decimal pl-5">
						{#each finding.causes as c, i (i)}<li>{c}</li>{/each}
					</ol>
				</div>
				<div>
					<h3 class="text-[13px] font-semibold">Next</h3>
					<ul class="list-disc pl-5">
						{#each finding.next as n, i (i)}<li>{n}</li>{/each}
					</ul>
				</div>
			</div>
		</div>
	{/if}
</article>
