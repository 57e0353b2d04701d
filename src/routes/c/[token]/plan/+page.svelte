<script lang="ts">
	import { page } from '$app/state';
	import { fixed, markedBy } from '$core/format';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const plan = $derived(data.plan);
	const KIND: Record<string, string> = {
		idle: 'Let it idle',
		cruise: 'Cruise',
		light: 'Accelerate gently',
		medium: 'Half throttle',
		pull: 'Full throttle',
		start: 'Start it',
		symptom: 'Make it happen'
	};
	const conditions = $derived(
		[
			plan.conditions.coolantMinC === undefined
				? ''
				: `Coolant at least ${preferences.text(plan.conditions.coolantMinC, '°C')} before full throttle.`,
			plan.conditions.intakeOverAmbientMaxC === undefined
				? ''
				: `Intake air at most ${preferences.say(markedBy(plan.conditions.intakeOverAmbientMaxC, '°C'))} above the air outside: let it cool down if it is hotter.`,
			plan.conditions.ethanolPct === undefined
				? ''
				: `The fuel that was agreed: ${plan.conditions.ethanolPct} % ethanol. A pump may sell less than it says.`,
			plan.conditions.fuelLevelMaxPct === undefined
				? ''
				: `Tank at most ${plan.conditions.fuelLevelMaxPct} % full.`,
			plan.conditions.speedCapKmh === undefined
				? ''
				: `Never faster than ${preferences.text(plan.conditions.speedCapKmh, 'km/h')}.`
		].filter(Boolean)
	);
	const files = $derived(data.kit.files.filter((f) => !f.picture));
	const pictures = $derived(data.kit.files.filter((f) => f.picture));
	const nameOf = (file: string) => file.replace(/\.\w+$/, '').replace(/[-_]+/g, ' ');
	const sizeOf = (bytes: number) =>
		bytes < 1024
			? `${bytes} B`
			: bytes < 1 << 20
				? `${Math.round(bytes / 1024)} kB`
				: `${fixed(bytes / (1 << 20), 1)} MB`;
	const fast = $derived(plan.channels.filter((c) => c.minRateHz >= 5));
	const slow = $derived(plan.channels.filter((c) => c.minRateHz < 5));
</script>

<h1 class="break-words">{plan.title}</h1>
<p class="text-muted mt-1 mb-5">{plan.purpose}</p>

{#if plan.cautions.length}
	<section class="border-stop mb-6 border-l-4 pl-3">
		<h2>First of all</h2>
		<ul class="mt-1 space-y-1.5">
			{#each plan.cautions as c (c)}<li>{c}</li>{/each}
		</ul>
	</section>
{/if}

{#if plan.preparations.length || conditions.length}
	<section class="mb-6">
		<h2>Before you begin</h2>
		<ul class="mt-1 space-y-1.5">
			{#each [...plan.preparations, ...conditions] as p (p)}
				<li class="flex gap-3">
					<input type="checkbox" class="mt-1.5 h-5 w-5 shrink-0" aria-label="Done: {p}" /><span>{p}</span>
				</li>
			{/each}
		</ul>
	</section>
{/if}

{#if data.kit.steps.length || data.kit.files.length}
	<section class="mb-6" aria-label="Set up the recording">
		<h2>Set up the recording</h2>
		<ol class="mt-1 list-decimal space-y-1.5 pl-6">
			{#each data.kit.steps as step, i (i)}<li>{step}</li>{/each}
		</ol>
		{#if files.length}
			<ul class="mt-3 space-y-2">
				{#each files as f (f.id)}
					<li>
						<a
							class="button w-full justify-start break-all"
							href="/c/{page.params['token']}/kit/{f.id}"
							download>{f.name}<span class="text-muted ml-auto shrink-0 pl-3">{sizeOf(f.bytes)}</span></a
						>
					</li>
				{/each}
			</ul>
		{/if}
		{#each pictures as f (f.id)}
			<figure class="mt-3">
				<img
					class="border-line w-full border"
					src="/c/{page.params['token']}/kit/{f.id}"
					alt={nameOf(f.name)}
				/>
				<figcaption class="text-muted text-text">{nameOf(f.name)}</figcaption>
			</figure>
		{/each}
	</section>
{/if}

<section class="mb-6">
	<h2>Drive it in this order</h2>
	<ol class="mt-1">
		{#each plan.manoeuvres as m, i (i)}
			<li class="border-line break-inside-avoid border-b py-3">
				<label class="flex gap-3">
					<input type="checkbox" class="mt-1.5 h-5 w-5 shrink-0" aria-label="Step {i + 1} done" />
					<span>
						<strong>{i + 1}. {KIND[m.kind]}</strong>
						<span class="block">{m.how}</span>
						{#if m.doneWhen}<span class="text-muted block text-text">Done: {m.doneWhen}.</span>{/if}
					</span>
				</label>
			</li>
		{/each}
	</ol>
</section>

{#if plan.aborts.length}
	<section class="border-fix mb-6 border-l-4 pl-3">
		<h2>When to stop</h2>
		<ul class="mt-1 space-y-1.5">
			{#each plan.aborts as a (a)}<li>{a}</li>{/each}
		</ul>
	</section>
{/if}

<section class="mb-6">
	<h2>What to record</h2>
	<p class="mt-1 text-text">Choose these in the logging program; names differ from one to the next.</p>
	<ul class="mt-2 space-y-1">
		{#each [...fast, ...slow] as c (c.id)}
			<li class="flex gap-2 text-lead">
				<span class="min-w-0 flex-1">{c.title}<span class="text-muted block text-text">{c.why}</span></span>
				{#if c.minRateHz > 1}<span class="numbers text-muted shrink-0 pt-1">{c.minRateHz}+ a second</span
					>{/if}
			</li>
		{/each}
	</ul>
</section>
<button class="button no-print w-full justify-center py-3!" onclick={() => print()}>Print these steps</button>
