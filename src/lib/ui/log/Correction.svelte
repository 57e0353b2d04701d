<script lang="ts">
	import { axisTitle, axisUnit } from '$core/calibration/axes';
	import type { CorrectionCells } from '$core/evidence/cells/correction-map';
	import CellMap from '$lib/ui/cellmap/CellMap.svelte';

	let { cells }: { cells: CorrectionCells } = $props();
	let which = $state<'1' | '2' | 'difference'>('1');
	const shownMap = $derived(
		which === 'difference' ? cells.difference : (cells.banks[Number(which) - 1] ?? null)
	);
	const yUnit = $derived(axisUnit({ channel: cells.yChannel, unit: cells.yUnit }));
</script>

<section class="mt-6">
	<div class="mb-2 flex flex-wrap items-center gap-2">
		<h2 class="mr-3">Required correction</h2>
		{#each cells.banks as b, i (i)}
			{#if b}<button
					class="button {which === String(i + 1) ? 'button-main' : ''}"
					aria-pressed={which === String(i + 1)}
					onclick={() => (which = i === 0 ? '1' : '2')}
					>{cells.banks.length > 1 ? `Bank ${i + 1}` : 'Engine'}</button
				>{/if}
		{/each}
		{#if cells.difference}
			<button
				class="button {which === 'difference' ? 'button-main' : ''}"
				aria-pressed={which === 'difference'}
				onclick={() => (which = 'difference')}>Bank 2 against bank 1</button
			>
		{/if}
	</div>
	{#if shownMap}
		<CellMap
			map={shownMap}
			x={cells.x}
			y={cells.y}
			xLabel={axisTitle(cells.xChannel)}
			yLabel={axisTitle(cells.yChannel)}
			{yUnit}
			caption={which === 'difference'
				? 'Percent that bank 2 wants more (+) or less (−) fuel than bank 1. The square shows how much data stands behind a cell: full is proven, a dot is a guess.'
				: 'Percent that the engine wanted more (+, lean) or less (−, rich) fuel than the table gave. The square shows how much data stands behind a cell: full is proven, a dot is a guess.'}
		/>
	{:else}
		<p class="text-muted">This bank was not seen in this log.</p>
	{/if}
</section>
