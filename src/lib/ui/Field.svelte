<script module lang="ts">
	/** What an input takes on that can't be left as it is. */
	export type Bound = { 'aria-invalid'?: true; 'aria-describedby'?: string };
</script>

<script lang="ts">
	/** A field of a form with its title over it, and under it what is wrong with it, said to a screen reader as well. */
	import type { Snippet } from 'svelte';

	let {
		title,
		problem = '',
		class: more = '',
		children
	}: { title: string; problem?: string | undefined; class?: string; children: Snippet<[Bound]> } = $props();
	const id = $props.id();
	const bound = $derived<Bound>(problem ? { 'aria-invalid': true, 'aria-describedby': `${id}-problem` } : {});
</script>

<div class={more}>
	<label class="block"><span class="text-small">{title}</span> {@render children(bound)}</label>
	{#if problem}<p id="{id}-problem" class="text-stop mt-0.5 text-small">{problem}</p>{/if}
</div>
