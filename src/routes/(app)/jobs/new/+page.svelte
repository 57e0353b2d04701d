<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Field from '$lib/ui/Field.svelte';
	import ArchiveIn from '$lib/ui/upload/ArchiveIn.svelte';
	import FileDrop from '$lib/ui/FileDrop.svelte';
	import { enhance } from '$app/forms';
	import { refusedOf } from '$lib/ui/form-message';
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
	const refused = $derived(refusedOf(form));
	/** The first field that is wrong; what is no field's fault stands at the top. */
	$effect(() => {
		if (!form?.message) return;
		(
			document.querySelector<HTMLElement>('form [aria-invalid]') ?? document.getElementById('problem')
		)?.focus();
	});
</script>

<svelte:head><title>New job – Tanto</title></svelte:head>

{#snippet text(name: string, label: string, otherwise = '', required = false)}
	<Field title="{label}{required ? ' · needed' : ''}" class="block" problem={refused?.fields[name]}>
		{#snippet children(bound)}
			<input {name} value={was(name, otherwise)} {required} autocomplete="off" {...bound} />
		{/snippet}
	</Field>
{/snippet}

{#snippet words(name: string, label: string)}
	<Field title={label} class="block">
		<textarea {name} rows="3" value={was(name)}></textarea>
	</Field>
{/snippet}

<main class="max-w-[1180px] px-(--gutter) pb-6">
	<PageHead
		title="New job"
		says={['only what is marked as needed has to be filled in', "what stays empty isn't guessed"]}
		more={data.role === 'apprentice' ? [] : [{ title: 'Import a job from another Tanto', href: '#import' }]}
	/>
	{#if form?.message}
		<p id="problem" tabindex="-1" role="alert" class="border-stop bg-stop-soft mb-4 border-l-4 px-3 py-2">
			{form.message}
		</p>
	{/if}
	<form
		method="POST"
		enctype="multipart/form-data"
		novalidate
		use:enhance={() => {
			sending = true;
			return async ({ update }) => {
				await update({ reset: false });
				sending = false;
			};
		}}
	>
		<div class="grid grid-cols-3 gap-4">
			<Field title="Customer · needed" class="block" problem={refused?.fields['customer']}>
				{#snippet children(bound)}
					<input
						{...bound}
						name="customer"
						list="customers"
						value={was('customer', data.customer?.name ?? '')}
						required
						autocomplete="off"
						onchange={known}
					/>
				{/snippet}
			</Field>
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
		<input type="hidden" name="calibrationFrom" value={source} />
		<input type="hidden" name="vehicleFrom" value={way} />
		{#if source === 'file'}
			<div class="max-w-xl">
				<FileDrop
					title="What is in the car now (tanto.calibration/1 JSON, or CDF 2.0 XML): becomes R0"
					name="calibrationFile"
					accept=".json,.xml,application/json,text/xml"
					required
				/>
			</div>
		{:else if source === 'job'}
			<div class="grid max-w-xl gap-1">
				<Field title="Search customer or job" class="block">
					<input bind:value={search} autocomplete="off" /></Field
				>
				<Field title="Its newest revision becomes R0 here" class="block">
					<select name="fromRevision" required size={Math.min(6, Math.max(2, found.length))}>
						{#each found as r (r.id)}<option value={String(r.id)}>{r.word}</option>{/each}
					</select></Field
				>
				{#if found.length === 0}<p class="text-muted text-text">No job is called that.</p>{/if}
				<label class="flex items-center gap-1.5"
					><input type="checkbox" name="vehicleToo" bind:checked={vehicleToo} />its vehicle as well: it is the
					same car</label
				>
			</div>
		{:else}
			<Field
				title="How the controller computes its fuel; the tables come on the next page, or later"
				class="block max-w-xl"
			>
				<select name="fuelModel" value={was('fuelModel', 'speed-density')}>
					<option value="speed-density">by pressure and the filling of the cylinder</option>
					<option value="pulse-width">by pulse: the table is a share of a reference pulse</option>
					<option value="maf">by an air meter</option>
				</select>
			</Field>
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
					<Field title="Start from a kind" class="ml-auto">
						<select bind:value={kind} onchange={start} class="w-64!">
							<option value="">nothing filled in</option>
							{#each KINDS as k (k.id)}<option value={k.id}>{k.title}</option>{/each}
						</select></Field
					>
					<Field title="or copy a vehicle">
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
						</select></Field
					>
					{#if data.vehicles.length > 12}
						<Field title="Search vehicles">
							<input class="w-40!" bind:value={vehicleSearch} autocomplete="off" /></Field
						>
					{/if}
				{/if}
			</div>
			{#if way === 'file'}
				<div class="max-w-xl">
					<FileDrop
						title="Vehicle document (tanto.vehicle/1, JSON)"
						name="vehicleFile"
						accept=".json,application/json"
						required
					/>
				</div>
			{:else}
				<VehicleSheet bind:fields {refused} />
			{/if}
		{/if}

		<div class="mt-6 flex items-center gap-3">
			<button class="button button-main" disabled={sending}>{sending ? 'Reading …' : 'Create job'}</button>
			<a class="button" href="/">Cancel</a>
		</div>
	</form>
	{#if data.role !== 'apprentice'}<ArchiveIn />{/if}
</main>
