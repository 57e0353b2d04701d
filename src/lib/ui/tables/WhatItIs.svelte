<script lang="ts">
	/** What a pasted table is: the item, its unit, what its axes are read by. */
	import { axisTitle } from '$core/calibration/axes';
	import { ITEMS, titleOf } from '$core/calibration/items';
	import { CHANNELS } from '$core/channels/canonical';
	import type { Paste } from './paste.svelte';

	let { paste }: { paste: Paste } = $props();
	const axes = $derived<('x' | 'y')[]>(paste.curve ? ['x'] : ['x', 'y']);
	/** What axes are read by most often; the other channels come after them. */
	const USUAL = [
		'rpm',
		'map',
		'boost',
		'pressureRatio',
		'airmass',
		'tps',
		'pedal',
		'mafFrequency',
		'vbat',
		'iat',
		'ect',
		'gear',
		'cylinder',
		'ethanol'
	];
	const axisChannels = [...USUAL, ...[...CHANNELS.keys()].filter((c) => !USUAL.includes(c))];
	const TABLES = ITEMS.filter((i) => i.id !== 'sensor.map');
</script>

<div class="mb-2 flex flex-wrap items-end gap-3 text-small">
	<label
		>It is
		<select
			value={paste.item}
			onchange={(e) => (paste.said['item'] = e.currentTarget.value)}
			class="max-w-56"
		>
			{#each paste.read.guess?.items ?? [] as g (`${g.item}${g.unit}`)}
				{#if g.item !== paste.read.guess?.items[0]?.item || g === paste.read.guess?.items[0]}<option
						value={g.item}>{titleOf({ id: g.item })}</option
					>{/if}
			{/each}
			<optgroup label="all">
				{#each TABLES as i (i.id)}<option value={i.id}>{i.title}</option>{/each}
			</optgroup>
			<option value="own">kept under its own name …</option>
		</select></label
	>
	{#if paste.ownName}
		<label
			>Name <input
				class="w-40!"
				value={paste.said['own'] ?? ''}
				oninput={(e) => (paste.said['own'] = e.currentTarget.value)}
			/></label
		>
	{/if}
	<label
		>Unit <input
			class="w-20!"
			value={paste.unit}
			oninput={(e) => (paste.said['unit'] = e.currentTarget.value)}
		/></label
	>
	{#each axes as axis (axis)}
		{@const r = axis === 'x' ? paste.x : paste.y}
		<label
			>{axis === 'x' ? 'Across' : 'Up'}
			<select
				value={r.channel}
				onchange={(e) => (paste.said[`${axis}Channel`] = e.currentTarget.value)}
				class="max-w-44"
				aria-label="{axis === 'x' ? 'Across' : 'Up'} is read by"
			>
				{#each axisChannels as c (c)}<option value={c}>{axisTitle(c)}</option>{/each}
			</select></label
		>
		<label
			><span class="sr-only">Unit {axis === 'x' ? 'across' : 'up'}</span>
			<input
				class="w-20!"
				value={r.unit}
				oninput={(e) => (paste.said[`${axis}Unit`] = e.currentTarget.value)}
				aria-label="Unit {axis === 'x' ? 'across' : 'up'}"
			/></label
		>
	{/each}
</div>
