<script lang="ts">
	/** A moment by the clock of whoever reads it. Until the page knows that clock it is UTC, and says so. */
	import { onMount } from 'svelte';
	import { localMoment, moment } from './time';

	let { at }: { at: string } = $props();
	let local = $state(false);
	onMount(() => {
		local = true;
	});
</script>

<time datetime={at}>{local ? localMoment(at) : `${moment(at)} UTC`}</time>
