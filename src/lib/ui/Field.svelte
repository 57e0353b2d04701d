<script lang="ts">
	/** A field of a form with its title over it. */
	import type { Snippet } from 'svelte';

	let { title, class: more = '', children }: { title: string; class?: string; children: Snippet } = $props();
</script>

<label class={more}><span class="text-small">{title}</span> {@render children()}</label>
