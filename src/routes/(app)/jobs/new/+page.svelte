<script lang="ts">
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { KINDS } from '$core/vehicle/kinds';
	import VehicleSheet from '$lib/ui/vehicle/VehicleSheet.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	let way = $state<'form' | 'file'>('form');
	let source = $state<'tables' | 'file' | 'job'>('tables');
	let vehicleToo = $state(true);
	let search = $state('');
	const found = $derived(
		data.revisions.filter((r) => r.word.toLowerCase().includes(search.trim().toLowerCase())).slice(0, 50)
	);
	const vehicles = $derived(
		data.vehicles
			.filter((v) => v.name.toLowerCase().includes(vehicleSearch.trim().toLowerCase()))
			.slice(0, 50)
	);
	let vehicleSearch = $state('');
	/** A customer that is known brings the address along. */
	function known(e: Event) {
		const name = (e.currentTarget as HTMLInputElement).value;
		const address = document.querySelector<HTMLInputElement>('input[name=email]');
		const match = data.customers.find((c) => c.name === name);
		if (match?.email && address && address.value === '') address.value = match.email;
	}
	let sending = $state(false);
	let kind = $state('');
	const was = (name: string, otherwise = '') => form?.entered?.[name] ?? otherwise;
	// svelte-ignore state_referenced_locally
	let fields = $state<Record<string, string>>({
		'engine.aspiration': 'na',
		...data.template?.fields,
		...form?.entered
	});
	function start() {
		const chosen = KINDS.find((k) => k.id === kind);
		if (chosen) fields = { ...chosen.fields, name: fields['name'] ?? '' };
	}
	$effect(() => {
		if (form?.message) document.getElementById('problem')?.focus();
	});
</script>

<svelte:head><title>Take on a job – Tanto</title></svelte:head>

{#snippet text(name: string, label: string, otherwise = '', required = false)}
	<label class="block">
		<span class="text-[13px]">{label}{required ? ' · needed' : ''}</span>
		<input {name} value={was(name, otherwise)} {required} autocomplete="off" />
	</label>
{/snippet}

{#snippet words(name: string, label: string)}
	<label class="block">
		<span class="text-[13px]">{label}</span>
		<textarea {name} rows="3" value={was(name)}></textarea>
	</label>
{/snippet}

<main class="max-w-[1180px] px-6 py-5">
	<h1 class="mb-1">Take on a job</h1>
	<p class="text-muted mb-4">
		Only what is marked as needed has to be filled in. What stays empty isn't guessed: a check that needs it
		says so.
	</p>
	{#if form?.message}
		<p id="problem" tabindex="-1" role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
			{form.message}
		</p>
	{/if}
	<form
		method="POST"
		enctype="multipart/form-data"
		use:enhance={() => {
			sending = true;
			return async ({ update }) => {
				await update({ reset: false });
				sending = false;
			};
		}}
	>
		<div class="grid grid-cols-3 gap-4">
			<label class="block">
				<span class="text-[13px]">Customer · needed</span>
				<input
					name="customer"
					list="customers"
					value={was('customer', data.customer?.name ?? '')}
					required
					autocomplete="off"
					onchange={known}
				/>
			</label>
			<datalist id="customers"
				>{#each data.customers as c, n (n)}<option value={c.name}>{c.email ?? ''}</option>{/each}</datalist
			>
			{@render text('email', 'Mail address', data.customer?.email ?? '')}
			{@render text('title', 'Job', '', true)}
		</div>
		<div class="mt-3 grid grid-cols-3 gap-4">
			{@render words('goals', 'Goals: what the customer wants')}
			{@render words('doneBefore', 'What was done before')}
			{@render words('agreed', 'What was agreed')}
		</div>

		<h2 class="mt-6 mb-2">Baseline calibration</h2>
		<div class="mb-2 flex flex-wrap gap-x-5">
			{#each [['tables', 'tables from my own program, pasted one by one'], ['file', 'from a file'], ['job', 'from a revision of another job']] as const as [id, word] (id)}
				<label class="flex items-center gap-1.5"
					><input type="radio" bind:group={source} value={id} />{word}</label
				>
			{/each}
		</div>
		{#if source === 'file'}
			<label class="block max-w-xl">
				<span class="text-[13px]"
					>What is in the car now (tanto.calibration/1 JSON, or CDF 2.0 XML): becomes R0</span
				>
				<input type="file" name="calibrationFile" accept=".json,.xml,application/json,text/xml" required />
			</label>
		{:else if source === 'job'}
			<div class="grid max-w-xl gap-1">
				<label class="block"
					><span class="text-[13px]">Search customer or job</span>
					<input bind:value={search} autocomplete="off" /></label
				>
				<label class="block"
					><span class="text-[13px]">Its newest revision becomes R0 here</span>
					<select name="fromRevision" required size={Math.min(6, Math.max(2, found.length))}>
						{#each found as r (r.id)}<option value={String(r.id)}>{r.word}</option>{/each}
					</select></label
				>
				{#if found.length === 0}<p class="text-muted text-[14px]">No job is called that.</p>{/if}
				<label class="flex items-center gap-1.5"
					><input type="checkbox" name="vehicleToo" bind:checked={vehicleToo} />its vehicle as well: it is the
					same car</label
				>
			</div>
		{:else}
			<label class="block max-w-xl">
				<span class="text-[13px]"
					>How the controller computes its fuel; the tables come on the next page, or later</span
				>
				<select name="fuelModel" value={was('fuelModel', 'speed-density')}>
					<option value="speed-density">by pressure and the filling of the cylinder</option>
					<option value="pulse-width">by pulse: the table is a share of a reference pulse</option>
					<option value="maf">by an air meter</option>
				</select>
			</label>
		{/if}

		{#if source !== 'job' || !vehicleToo}
			<div class="mt-6 mb-3 flex flex-wrap items-end gap-x-5 gap-y-2">
				<h2>Vehicle</h2>
				<label class="flex items-center gap-1.5"
					><input type="radio" bind:group={way} value="form" />filled in here</label
				>
				<label class="flex items-center gap-1.5"
					><input type="radio" bind:group={way} value="file" />read from a file</label
				>
				{#if way === 'form'}
					<label class="ml-auto"
						><span class="text-[13px]">Start from a kind</span>
						<select bind:value={kind} onchange={start} class="w-64!">
							<option value="">nothing filled in</option>
							{#each KINDS as k (k.id)}<option value={k.id}>{k.title}</option>{/each}
						</select></label
					>
					<label
						><span class="text-[13px]">or copy a vehicle</span>
						<select
							class="w-56!"
							value={data.template?.id ?? ''}
							onchange={(e) =>
								void goto(`?from=${e.currentTarget.value}`, { invalidateAll: true }).then(() => {
									fields = { 'engine.aspiration': 'na', ...data.template?.fields };
								})}
						>
							<option value="">none</option>
							{#each vehicles as v (v.id)}<option value={v.id}>{v.name.slice(0, 60)}</option>{/each}
						</select></label
					>
					{#if data.vehicles.length > 12}
						<label
							><span class="text-[13px]">Search vehicles</span>
							<input class="w-40!" bind:value={vehicleSearch} autocomplete="off" /></label
						>
					{/if}
				{/if}
			</div>
			{#if way === 'file'}
				<label class="block max-w-xl">
					<span class="text-[13px]">Vehicle document (tanto.vehicle/1, JSON)</span>
					<input type="file" name="vehicleFile" accept=".json,application/json" required />
				</label>
			{:else}
				<VehicleSheet bind:fields />
			{/if}
		{/if}

		<div class="mt-6 flex items-center gap-3">
			<button class="button button-main" disabled={sending}
				>{sending ? 'Reading …' : 'Take the job on'}</button
			>
			<a class="button" href="/">Leave it</a>
		</div>
	</form>
</main>
