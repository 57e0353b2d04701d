<script lang="ts">
	/** Pasted lines of name, value, unit, and which item each is. */
	import { ITEMS } from '$core/calibration/items';
	import type { Paste } from './paste.svelte';

	let { paste }: { paste: Paste } = $props();
</script>

<table class="mb-2 text-text">
	<tbody>
		{#each paste.read.scalars ?? [] as s, n (n)}
			<tr class="border-line border-b">
				<td class="py-1 pr-4">{s.name}</td>
				<td class="numbers pr-4 text-right">{s.value}</td><td class="text-muted pr-4">{s.unit}</td>
				<td>
					<select
						aria-label="{s.name} is"
						value={paste.mapping[n]!.item}
						onchange={(e) => (paste.said[`scalar${n}`] = e.currentTarget.value)}
					>
						<option value={s.name}>kept as “{s.name}”</option>
						{#each ITEMS as i (i.id)}<option value={i.id}>{i.title}</option>{/each}
					</select>
				</td>
			</tr>
		{/each}
	</tbody>
</table>
