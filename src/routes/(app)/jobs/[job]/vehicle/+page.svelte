<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import { tick } from 'svelte';
	import { messageOf, refusedOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import VehicleSheet from '$lib/ui/vehicle/VehicleSheet.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	let saving = $state(false);
	// svelte-ignore state_referenced_locally
	let fields = $state<Record<string, string>>({ ...data.fields });
	const refused = $derived(refusedOf(form));
</script>

<svelte:head><title>Vehicle of {data.job.title} – Tanto</title></svelte:head>

<PageHead
	title="Vehicle"
	says={[data.job.vehicle.name]}
	more={[{ title: 'New job with a copy of it', href: `/jobs/new?from=${data.job.vehicleId}` }]}
/>
<Alert box message={messageOf(form)} class="mb-4" />
{#if form && 'saved' in form}<p role="status" class="border-clear mb-4 border-l-4 px-3 py-2">
		Saved. The logs of this vehicle are screened again with it.
	</p>{/if}
<form
	method="POST"
	novalidate
	use:enhance={() => {
		saving = true;
		return async ({ update }) => {
			await update({ reset: false });
			saving = false;
			await tick();
			const wrong = document.querySelector<HTMLElement>('[aria-invalid]');
			if (wrong) wrong.focus();
			else window.scrollTo({ top: 0 });
		};
	}}
>
	<VehicleSheet bind:fields {refused} />
	<button class="button button-main mt-2" disabled={saving}>{saving ? 'Saving …' : 'Save the vehicle'}</button
	>
</form>
