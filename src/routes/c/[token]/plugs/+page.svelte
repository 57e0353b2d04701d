<script lang="ts">
	/** A photo of each plug, into its place. */
	import { enhance } from '$app/forms';
	import PhotoUpload from '$lib/ui/customer/PhotoUpload.svelte';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const photosOf = (c: number) => data.photos.filter((p) => p.cylinder === c);
	const missing = $derived(data.cylinders.filter((c) => photosOf(c).length === 0).length);
	const faulty = $derived(
		form && 'entered' in form ? (form.entered as Record<string, string> | undefined)?.['item'] : undefined
	);
</script>

<h1>The spark plugs</h1>
<p class="mt-1" role="status">
	{missing === 0
		? 'Every cylinder has its photo. Your tuner sees them.'
		: `${missing} of ${data.cylinders.length} to go. What you send is kept at once.`}
</p>
<ul class="mt-2 mb-4 list-disc space-y-1 pl-5">
	<li>
		Switch the engine off at the end of the pass and roll out: a drive back wipes out what the plugs show.
	</li>
	<li>Let it cool, take them out one by one, and keep them in order.</li>
	<li>
		Photograph each from the side and a little from above, sharp and in daylight: the ring at the bottom and
		the strap.
	</li>
</ul>
{#each data.cylinders as c (c)}
	<section class="border-line border-t py-3" aria-labelledby="plug-{c}">
		<h3 class="font-semibold" id="plug-{c}">Cylinder {c}</h3>
		{#if form && 'message' in form && faulty === `plug-${c}`}<p role="alert" class="text-stop mt-1">
				{form.message}
			</p>{/if}
		{#if photosOf(c).length}
			<div class="mt-2 flex flex-wrap gap-2">
				{#each photosOf(c) as p, n (p.id)}
					<form method="POST" action="?/removePhoto" use:enhance class="relative">
						<img
							src="{data.base}/photos/{p.id}"
							alt="Plug of cylinder {c}, {moment(p.at)}"
							width={p.width}
							height={p.height}
							class="border-line h-28 w-auto border"
							loading="lazy"
						/>
						<input type="hidden" name="id" value={p.id} />
						<button
							class="button absolute top-1 right-1 px-2! py-0!"
							aria-label="Take out photo {n + 1} of cylinder {c}">×</button
						>
					</form>
				{/each}
			</div>
		{/if}
		<PhotoUpload
			item="plug-{c}"
			label="Photo of plug {c}"
			text={photosOf(c).length ? 'Another photo' : 'Take the photo'}
			main={photosOf(c).length === 0}
			class="mt-2"
		/>
	</section>
{/each}
<p class="text-muted mt-2 text-text">
	Photos are made small, and place, time and camera are taken out of them.
</p>
