<script lang="ts">
	/** Every page of a log stays true while the log is read again: it says so, looks again, and shows the new reading when it is there. */
	import { page } from '$app/state';
	import { refreshEvery } from '$lib/ui/refresh';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	/** The overview and the channels say it in their own words. */
	const saysItself = $derived(
		page.route.id?.endsWith('/[log]') === true || page.route.id?.endsWith('/channels') === true
	);
	$effect(() => {
		if (data.reading) return refreshEvery(700);
	});
</script>

{#if data.reading && !saysItself}
	<p role="status" class="border-watch bg-shade mb-3 border-l-4 px-3 py-2">
		This log is being read again. What stands here is from before; it is replaced as soon as the new reading
		is there.
	</p>
{/if}
{@render children()}
