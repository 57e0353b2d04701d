<script lang="ts">
	/** A pasted table as it was read: the highest row on top, as people draw it. */
	import type { PastedTable } from '$core/calibration/tables/block';

	let { table }: { table: PastedTable } = $props();
	const MOST = 24;
	const rows = $derived(table.values.map((_, r) => r).reverse());
</script>

<div class="max-h-[340px] overflow-auto">
	<table class="numbers text-right text-small" aria-label="As it was read">
		{#if table.x}
			<thead
				><tr
					><td></td>{#each table.x.slice(0, MOST) as x, c (c)}<th class="text-muted px-1.5 font-normal"
							>{x}</th
						>{/each}</tr
				></thead
			>
		{/if}
		<tbody>
			{#each rows.slice(0, MOST * 2) as r (r)}
				<tr>
					<th class="text-muted px-1.5 font-normal">{table.y?.[r] ?? ''}</th>
					{#each table.values[r]!.slice(0, MOST) as v, c (c)}<td class="px-1.5">{v}</td>{/each}
				</tr>
			{/each}
		</tbody>
	</table>
</div>
