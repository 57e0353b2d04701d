<script lang="ts">
	import { enhance } from '$app/forms';
	import type { PageProps } from './$types';

	let { form }: PageProps = $props();
	let way = $state<'form' | 'file'>('form');
	let sending = $state(false);
	const was = (name: string, otherwise = '') => form?.entered?.[name] ?? otherwise;
	$effect(() => {
		if (form?.message) document.getElementById('problem')?.focus();
	});
</script>

<svelte:head><title>Take on a job – Tanto</title></svelte:head>

{#snippet text(name: string, label: string, unit = '', otherwise = '', required = false)}
	<label class="block">
		<span class="text-[13px]">{label}{unit ? `, ${unit}` : ''}{required ? ' · needed' : ''}</span>
		<input {name} value={was(name, otherwise)} {required} autocomplete="off" />
	</label>
{/snippet}

{#snippet choice(name: string, label: string, options: [string, string][], otherwise = '')}
	<label class="block">
		<span class="text-[13px]">{label}</span>
		<select {name} value={was(name, otherwise)}>
			{#each options as [value, title] (value)}<option {value}>{title}</option>{/each}
		</select>
	</label>
{/snippet}

<main class="max-w-[1080px] px-6 py-5">
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
			{@render text('customer', 'Customer', '', '', true)}
			{@render text('email', 'Mail address')}
			{@render text('title', 'Job', '', '', true)}
		</div>

		<div class="mt-6 mb-2 flex items-baseline gap-4">
			<h2>Vehicle</h2>
			<label><input type="radio" name="way" value="form" bind:group={way} /> fill in</label>
			<label><input type="radio" name="way" value="file" bind:group={way} /> read from a file</label>
		</div>
		{#if way === 'file'}
			<label class="block max-w-xl">
				<span class="text-[13px]">Vehicle document (tanto.vehicle/1, JSON)</span>
				<input type="file" name="vehicleFile" accept=".json,application/json" required />
			</label>
		{:else}
			<div class="grid grid-cols-4 gap-x-4 gap-y-3">
				{@render text('vehicleName', 'Name', '', '', true)}
				{@render choice(
					'layout',
					'Layout',
					[
						['inline', 'inline'],
						['v', 'V'],
						['flat', 'flat']
					],
					'inline'
				)}
				{@render text('cylinders', 'Cylinders', '', '4', true)}
				{@render text('displacementL', 'Displacement', 'litres')}
				{@render choice(
					'aspiration',
					'Air',
					[
						['na', 'naturally aspirated'],
						['turbo', 'turbo'],
						['supercharged', 'supercharged']
					],
					'na'
				)}
				{@render choice(
					'injection',
					'Injection',
					[
						['', 'not known'],
						['port', 'port'],
						['direct', 'direct']
					],
					'port'
				)}
				{@render text('compressionRatio', 'Compression ratio')}
				{@render text('idleRpm', 'Idle speed', 'rpm')}
				{@render text('revLimitRpm', 'Rev limit', 'rpm', '', true)}
				{@render text('fuelName', 'Fuel')}
				{@render text('ethanolPct', 'Ethanol', '%')}
				{@render text('octaneRon', 'Octane', 'RON')}
				{@render text('flowCcMin', 'Injector flow', 'cc/min')}
				{@render text('ratedPressureKpa', 'flow rated at', 'kPa')}
				{@render text('basePressureKpa', 'Base pressure', 'kPa')}
				{@render choice('pressureReference', 'Pressure follows', [
					['', 'not known'],
					['manifold', 'the manifold'],
					['atmosphere', 'the atmosphere'],
					['controlled', 'a controlled rail']
				])}
				{@render text('injectionsPerCycle', 'Injections per cycle')}
				{@render text('windowDeg', 'Injection window, direct', '°')}
				{@render text('gears', 'Gear ratios', 'like 3.4 2.1 1.45')}
				{@render text('finalDrive', 'Final drive')}
				{@render text('tyre', 'Tyre circumference', 'm')}
				{@render text('hardware', 'Controller hardware')}
				{@render text('software', 'Controller software')}
				{@render choice('learnedTrim', 'Learned trim at full load', [
					['', 'not known'],
					['applied', 'applied'],
					['ignored', 'ignored'],
					['positive-only', 'only when it adds fuel']
				])}
			</div>
		{/if}

		<h2 class="mt-6 mb-2">Baseline calibration</h2>
		<label class="block max-w-xl">
			<span class="text-[13px]">What is in the car now (tanto.calibration/1, JSON): becomes R0</span>
			<input type="file" name="calibrationFile" accept=".json,application/json" required />
		</label>
		<div class="mt-6 flex items-center gap-3">
			<button class="button button-main" disabled={sending}
				>{sending ? 'Reading …' : 'Take the job on'}</button
			>
			<a class="button" href="/">Leave it</a>
		</div>
	</form>
</main>
