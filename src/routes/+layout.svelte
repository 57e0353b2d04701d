<script lang="ts">
	import '../app.css';
	import { afterNavigate } from '$app/navigation';
	import { followLinks } from '$lib/ui/followed.svelte';
	import { providePreferences } from '$lib/ui/preferences.svelte';
	import { keepTypedEarly } from '$lib/ui/typed-early';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
	// Cookies are read once a visit; from then on the page itself holds the choice.
	// svelte-ignore state_referenced_locally
	providePreferences(data.preferences);
	followLinks();
	keepTypedEarly();
	// Says which page stands here, drawn and taken over by its scripts: for whoever drives it by program.
	afterNavigate(() => (document.documentElement.dataset['at'] = location.pathname));
</script>

{@render children()}
