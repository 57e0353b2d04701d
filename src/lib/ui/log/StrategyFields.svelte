<script lang="ts">
	/** How the proposal is made, inside its form; where this isn't shown the kept settings hold. */
	import type { Strategy } from '$core/correction/strategy';

	let {
		strategy,
		injectors
	}: {
		strategy: Strategy;
		/** This revision has other injector data than the one before, or the workshop moves them first. */
		injectors: boolean;
	} = $props();
	const percent = (v: number) => String(Math.round(v * 1000) / 10);
	const fields = $derived([
		['addShare', 'of what is missing is added, %', percent(strategy.addShare)],
		['removeShare', 'of what is surely too much is taken out, %', percent(strategy.removeShare)],
		['maxRemovePct', 'taken out of a cell at most, %', String(strategy.maxRemovePct)],
		['maxRemoveAgreedPct', 'and where two witnesses agree, %', String(strategy.maxRemoveAgreedPct)],
		['maxPct', 'changed in a cell at most, %', String(strategy.maxPct)],
		['minSamples', 'samples at least', String(strategy.minSamples)],
		['minSeconds', 'seconds at least', String(strategy.minSeconds)],
		['mostSdPct', 'measured up to an uncertainty of, %', String(strategy.mostSdPct)],
		['quietPct', 'left alone below, %', String(strategy.quietPct)]
	] as const);
</script>

<fieldset class="grid grid-cols-2 gap-x-8 gap-y-1 text-small">
	<label class="flex items-center gap-2"
		>a sample speaks for <select name="method" class="w-auto!" value={strategy.method}>
			<option value="bilinear">the four cells around it</option>
			<option value="nearest">the nearest cell</option>
		</select></label
	>
	{#each fields as [name, word, value] (name)}
		<label class="flex items-center gap-2"
			><input
				class="numbers w-20!"
				{name}
				{value}
				inputmode="decimal"
				required
				autocomplete="off"
			/>{word}</label
		>
	{/each}
	<label class="flex items-center gap-2"
		><input type="checkbox" name="carry" checked={strategy.carry} />carried over into neighbours that the
		field is sure of</label
	>
	<label class="flex items-center gap-2"
		><input type="checkbox" name="cautious" checked={strategy.cautious} />additions over 8 % are left out
		where no misfires are counted</label
	>
	<label class="flex items-center gap-2"
		><input type="checkbox" name="injectors" checked={injectors} />flow and dead time of the injectors first:
		they were changed, or the workshop works so</label
	>
</fieldset>
