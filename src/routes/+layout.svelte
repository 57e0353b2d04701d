<script lang="ts">
	import '../app.css';
	import { providePreferences } from '$lib/ui/preferences.svelte';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	// Cookies are read once a visit; from then on the page itself holds the choice.
	// svelte-ignore state_referenced_locally
	providePreferences(data.preferences);
</script>

{@render children()}
