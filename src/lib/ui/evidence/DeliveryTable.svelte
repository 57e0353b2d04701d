<script lang="ts">
	/** One quantity from the table to the engine: a row per link, a column per engine speed; the break is marked where it is. */
	import type { Line, Link } from '$core/delivered/line';
	import { fixed } from '$core/format';
	import { usePreferences } from '../preferences.svelte';

	let { line, stoich }: { line: Line; stoich: number } = $props();
	const preferences = usePreferences();
	const NAMES = {
		written: 'Written',
		commanded: 'Commanded',
		delivered: 'Delivered',
		measured: 'Measured'
	} as const;
	const shown = (l: Link, v: number | null) => {
		if (v === null) return '–';
		const s = preferences.shown(v, l.unit, stoich);
		return fixed(s.value, s.decimals);
	};
	const inBreak = (l: Link, x: number) =>
		line.broken?.at === l.name &&
		(line.broken.from === undefined || (x >= line.broken.from && x <= (line.broken.to ?? x)));
</script>

<section aria-label="{line.title} in figures" class="mb-6">
	<h2 class="mb-1">{line.title}</h2>
	<div class="overflow-x-auto">
		<table class="text-right text-text">
			<thead>
				<tr class="table-head">
					<th class="w-[290px] py-1 pr-3 text-left font-normal"
						>{line.axis.title}{line.axis.unit ? `, ${line.axis.unit}` : ''}</th
					>
					{#each line.axis.points as p (p)}<th scope="col" class="numbers w-[62px] min-w-[52px] font-normal"
							>{p}</th
						>{/each}
				</tr>
			</thead>
			<tbody>
				{#each line.links as l (l.name)}
					{@const broken = line.broken?.at === l.name}
					<tr class="border-line border-b {l.missing ? 'text-muted' : ''}">
						<th scope="row" class="py-1 pr-3 text-left font-normal">
							<span class={broken ? 'text-fix font-semibold' : 'font-semibold'}>{NAMES[l.name]}</span>
							{#if l.title}<span class="text-muted text-small"
									>{l.title}{l.unit && !l.missing
										? `, ${preferences.shown(1, l.unit, stoich).unit}`
										: ''}</span
								>{/if}
						</th>
						{#if l.missing}
							<td
								class="text-left text-small whitespace-nowrap"
								colspan={Math.max(1, line.axis.points.length)}>{l.missing}</td
							>
						{:else}
							{#each l.values as v, i (line.axis.points[i])}
								<td
									class="numbers {inBreak(l, line.axis.points[i]!) ? 'bg-shade text-fix font-semibold' : ''}"
									>{shown(l, v)}</td
								>
							{/each}
						{/if}
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
</section>
