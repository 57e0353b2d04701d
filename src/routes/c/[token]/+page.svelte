<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import Download from '@lucide/svelte/icons/download';
	import { day, moment, size } from '$lib/ui/time';
	import DropZone from '$lib/ui/upload/DropZone.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const base = $derived(`/c/${page.params.token}`);
	const reading = $derived(data.sent.some((s) => s.state === 'received' || s.state === 'reading'));
	$effect(() => {
		if (!reading) return;
		const timer = setInterval(() => void invalidateAll(), 1500);
		return () => clearInterval(timer);
	});
	const CAUTIONS = [
		'Full throttle only on a closed course, or where it stays within the law: straight, dry and empty.',
		'Nobody looks at the screen while driving. A passenger reads it, or you park first. Strap the laptop down.',
		'Lift at once on a misfire, pinging, a lean warning or high temperature. Let it rest, and send what you have.',
		'An engine that misfired is not driven hard again until the cause is found.',
		'Knock sensors stay connected and switched on.'
	];
	const STATE: Record<string, string> = {
		received: 'arrived',
		reading: 'being read',
		screened: 'arrived and read',
		failed: 'arrived, but could not be read'
	};
</script>

<svelte:head><title>{data.title}</title><meta name="robots" content="noindex" /></svelte:head>

<main class="mx-auto max-w-[560px] px-4 py-6 text-[17px]">
	<p class="text-muted text-[15px] break-words">{data.vehicle}</p>
	<h1 class="mb-5 break-words">{data.title}</h1>

	{#if data.revision.released}
		<section class="mb-7">
			<h2>1 · Put this into the car</h2>
			<p class="mt-1 mb-2">
				Your new file is <strong>R{data.revision.number}</strong>, from {day(data.revision.at)}.
			</p>
			{#each data.files as f (f.id)}
				<a
					class="button button-main mb-2 w-full justify-center py-3! whitespace-normal!"
					href="{base}/files/{f.id}"
					download
				>
					<Download size={18} aria-hidden="true" /><span class="break-all">{f.name}</span>, {size(f.bytes)}
				</a>
				<p class="text-muted mb-3 text-[14px] break-words">
					Only for controller {f.hardware}, software {f.software}. Check both before you flash.
					<span class="numbers block break-all">sha-256 {f.sha256}</span>
				</p>
			{/each}
			<a
				class="button w-full justify-center py-3! {data.files.length ? '' : 'button-main'}"
				href="{base}/calibration"
				download
			>
				<Download size={18} aria-hidden="true" />Calibration R{data.revision.number}
			</a>
		</section>
		<section class="mb-7">
			<h2>What changed</h2>
			<p class="mt-1 whitespace-pre-line">{data.revision.notes || 'Your tuner left no notes.'}</p>
		</section>
	{:else}
		<section class="mb-7">
			<h2>1 · Nothing to flash yet</h2>
			<p class="mt-1">Your tuner needs a log of the car as it is now.</p>
		</section>
	{/if}

	<section class="mb-7">
		<h2>Before you drive</h2>
		<ul class="mt-1 list-disc space-y-1.5 pl-5">
			{#each CAUTIONS as c (c)}<li>{c}</li>{/each}
		</ul>
	</section>

	<section class="mb-7">
		<h2>2 · Send the next log</h2>
		<p class="mt-1 mb-3">
			Engine warm. Idle for half a minute, cruise gently, accelerate a little, then with half throttle, and at
			the end full throttle through two gears. Save it as a text file (CSV).
		</p>
		<DropZone
			url="{base}/log"
			label="Choose the log"
			hint="from your phone or laptop"
			onsent={() => void invalidateAll()}
		/>
		{#if data.sent.length}
			<ul class="mt-3">
				{#each data.sent as s (s.at)}
					<li class="border-line border-b py-1.5">
						<span class="break-all">{s.name}</span>
						<span class="text-muted block text-[14px]">{moment(s.at)} UTC · {STATE[s.state] ?? s.state}</span>
						{#if s.message}<span class="text-stop block text-[15px]">{s.message}</span>{/if}
					</li>
				{/each}
			</ul>
		{/if}
	</section>
	<p class="text-muted border-line border-t pt-3 text-[14px]">
		What is said here is advice from data; a person decides. Emissions, noise and road registration are
		matters of your local rules.
	</p>
</main>
