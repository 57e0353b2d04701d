<script lang="ts">
	/** A replay cylinder by cylinder: how far each is off its target under load, predicted, over engine speed. */
	import type { Replay } from '$core/revising/replay-schema';
	import { signedText, tint } from '../cellmap/colour';

	let { cylinders, revision }: { cylinders: NonNullable<Replay['cylinders']>; revision: number } = $props();
	const WIDTH_RPM = 500;
	/** Every second window: they overlap by half. */
	const speeds = $derived(
		[...new Set(cylinders.flatMap((c) => c.places.map((p) => p.rpm[0])))]
			.filter((r) => r % WIDTH_RPM === 0)
			.sort((a, b) => a - b)
	);
	const at = (c: (typeof cylinders)[number], rpm: number) => c.places.find((p) => p.rpm[0] === rpm);
</script>

<section class="mt-5" aria-label="Cylinders replayed">
	<h2>By cylinder under load, % off target</h2>
	<p class="text-muted text-small mb-1">
		Predicted with R{revision}, as logged below it. From engine speed to {WIDTH_RPM} rpm over it.
	</p>
	<table class="numbers text-right text-small">
		<thead>
			<tr class="text-muted border-strong-line border-b">
				<th class="pr-3 text-left font-normal">Cylinder</th>
				{#each speeds as rpm (rpm)}<th class="px-2 font-normal">{rpm}</th>{/each}
			</tr>
		</thead>
		<tbody>
			{#each cylinders as c (c.cylinder)}
				<tr class="border-line border-b">
					<th class="pr-3 text-left font-normal">{c.cylinder}</th>
					{#each speeds as rpm (rpm)}
						{@const p = at(c, rpm)}
						<td class="px-2 py-0.5" style:background={tint(p?.after ?? null)}
							>{#if p}{signedText(p.after)}<br /><span class="text-muted">{signedText(p.before)}</span
								>{:else}–{/if}</td
						>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
</section>
