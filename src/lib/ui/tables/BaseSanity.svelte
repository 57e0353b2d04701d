<script lang="ts">
	/** What stands out in R0: questions to ask before the first log. */
	import { LEAST_LIKE } from '$core/calibration/base-sanity';
	import type { BaseSanity } from '$lib/server/revisions/base-sanity';
	import Mark from '../findings/Mark.svelte';

	let { sanity }: { sanity: BaseSanity } = $props();
</script>

<section aria-label="What stands out in R0" class="mb-4">
	<h2 class="mb-1">What stands out in R0</h2>
	<ul class="text-text">
		{#each sanity.found as o (o.item)}
			<li class="border-line border-b py-1">
				<Mark state="watch" bare size={12} /> <span class="font-semibold">{o.title}</span>: {o.why}.
				{#if o.against}<span class="text-muted">Compared with {o.against}.</span>{/if}
			</li>
		{:else}
			<li class="text-muted">
				{sanity.like.length >= LEAST_LIKE
					? `Nothing, beside ${sanity.like.length} like engines of the workshop.`
					: 'Nothing in itself.'}
			</li>
		{/each}
	</ul>
	{#if sanity.like.length < LEAST_LIKE}
		<p class="text-muted mt-1 text-small">
			{sanity.like.length === 0
				? 'No like engine was released in this workshop yet'
				: `Only ${sanity.like.join(' and ')} ${sanity.like.length === 1 ? 'is' : 'are'} like it`}: from {LEAST_LIKE}
			on its timing, target and dead times are compared with theirs.
		</p>
	{/if}
</section>
