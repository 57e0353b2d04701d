<script lang="ts">
	/**
	 * A map of values per cell. The inked square in a cell's corner shows how much data stands behind it. Cells can be picked where the
	 * owner wants that: by click, and by arrow keys from there.
	 */
	import { fixed } from '$core/format';
	import type { CellMap } from '$core/evidence/cells/correction-map';
	import { tick } from 'svelte';
	import { usePreferences } from '../preferences.svelte';
	import { laidOver, over, type Drive } from './laid';
	import { certain, signedText, tint, trust } from './colour';

	let {
		map,
		x,
		y,
		xLabel,
		yLabel,
		yUnit,
		caption,
		text = (v: number) => signedText(v),
		background = tint,
		describe = (v: number) => `${signedText(v, 2)} %`,
		picked = null,
		trusts = null,
		drives = null,
		onpick
	}: {
		map: CellMap;
		x: number[];
		y: number[];
		xLabel: string;
		yLabel: string;
		yUnit: string;
		caption: string;
		/** How a value is printed; percent with its sign by default. */
		text?: (v: number) => string;
		background?: (v: number | null) => string;
		/** A value in full, for the hint of its cell. */
		describe?: (v: number) => string;
		picked?: { column: number; row: number } | null;
		/** How certain each cell is, 0–1, where that isn't a matter of its own samples alone. */
		trusts?: readonly (readonly number[])[] | null;
		/** Drives laid over the map, by the values of its axes; with it all cells are shown, not only those that hold anything. */
		drives?: readonly Drive[] | null;
		onpick?: ((column: number, row: number) => void) | undefined;
	} = $props();
	let table = $state<HTMLTableElement>();

	const preferences = usePreferences();
	/** A cell of a field that is known less well than this is a guess, percent; else one with fewer samples. */
	const GUESS_SD = 3;
	const PROVEN_SAMPLES = 10;
	const sure = (r: number, c: number) =>
		trusts ? certain(trusts[r]?.[c] ?? 0) : trust(map.samples[r]?.[c] ?? 0);
	const isWeak = (r: number, c: number) =>
		trusts ? (map.se[r]?.[c] ?? Infinity) > GUESS_SD : (map.samples[r]?.[c] ?? 0) < PROVEN_SAMPLES;
	const holds = (r: number, c: number) =>
		trusts ? (map.percent[r]?.[c] ?? null) !== null : (map.samples[r]?.[c] ?? 0) > 0;
	/** Columns and rows that hold anything: empty edges aren't shown. */
	const columns = $derived(x.map((_, c) => c).filter((c) => drives || y.some((__, r) => holds(r, c))));
	const rows = $derived(
		y
			.map((_, r) => r)
			.filter((r) => drives || x.some((__, c) => holds(r, c)))
			.reverse()
	);
	const laid = $derived(laidOver(drives ?? [], x, y));
	/** From a picked cell to its neighbour that holds anything. */
	function move(event: KeyboardEvent, c: number, r: number) {
		const along = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
		if (!along || !onpick) return;
		event.preventDefault();
		let i = columns.indexOf(c) + along[0]!;
		let k = rows.indexOf(r) + along[1]!;
		while (columns[i] !== undefined && rows[k] !== undefined) {
			if ((map.percent[rows[k]!]?.[columns[i]!] ?? null) !== null) {
				onpick(columns[i]!, rows[k]!);
				const id = `${columns[i]}-${rows[k]}`;
				void tick().then(() => table?.querySelector<HTMLElement>(`[data-cell="${id}"]`)?.focus());
				return;
			}
			i += along[0]!;
			k += along[1]!;
		}
	}
	const upwards = $derived(`${yLabel}${yUnit ? `, ${preferences.shown(1, yUnit).unit}` : ''}`);
	const yText = (v: number) => {
		const s = preferences.shown(v, yUnit);
		// Points of a ratio or of bars stand close together: as many decimals as they need, at most two.
		return yUnit.startsWith('kPa') ? fixed(s.value, s.decimals) : String(Number(fixed(s.value, 2)));
	};
</script>

{#if columns.length === 0}
	<p class="text-muted">No usable sample fell into a cell: see which driving the log lacks.</p>
{:else}
	<div class="overflow-x-auto">
		<table
			bind:this={table}
			class="numbers border-separate border-spacing-px text-right {drives ? 'w-full table-fixed' : ''}"
		>
			<caption class="text-muted pb-1 text-left font-sans text-small">{caption}</caption>
			<thead>
				<tr>
					<th class={drives ? 'w-11' : ''}><span class="sr-only">{upwards}</span></th>
					{#each columns as c (c)}<th
							scope="col"
							class="text-muted font-normal {drives ? 'text-note' : 'min-w-[46px] px-1'}">{x[c]}</th
						>{/each}
				</tr>
			</thead>
			<tbody>
				{#each rows as r (r)}
					<tr>
						<th scope="row" class="text-muted pr-2 font-normal">{yText(y[r]!)}</th>
						{#each columns as c (c)}
							{@const p = map.percent[r]?.[c] ?? null}
							{@const n = map.samples[r]?.[c] ?? 0}
							{@const weak = isWeak(r, c)}
							{@const side = 8 * sure(r, c)}
							<td
								class="relative {drives
									? 'bg-sheet h-[26px] px-0.5 align-top text-note'
									: 'h-[22px] pr-1 pl-3'} {weak ? 'text-muted' : ''}"
								style:background={weak ? 'transparent' : background(p)}
								class:outline-2={picked?.column === c && picked.row === r}
								class:outline-ink={picked?.column === c && picked.row === r}
								title={p === null
									? undefined
									: `${describe(p)}${map.se[r]?.[c] == null ? '' : ` ± ${map.se[r]![c]}`}, ${n} samples${trusts ? `, ${fixed(100 * (trusts[r]?.[c] ?? 0), 0)} % certain` : ''}`}
							>
								{#each over(laid, r, c) as d (d.name)}
									<span
										class="bg-strong-line absolute inset-x-0 top-[10px] h-1.5 opacity-40"
										aria-hidden="true"
									></span>
									{#if c === d.x[0] && r === d.y[1]}<span
											class="bg-ink text-paper absolute top-0 left-0 z-1 grid h-4 w-4 place-items-center rounded-full text-[10px] font-bold"
											aria-label="drive {d.name}">{d.name}</span
										>{/if}
								{/each}
								{#if p !== null}
									<span
										class="bg-ink absolute bottom-[3px] left-[3px]"
										style:width="{side}px"
										style:height="{side}px"
										aria-hidden="true"
									></span>
									{#if onpick}
										<button
											class="cursor-pointer"
											data-cell="{c}-{r}"
											aria-pressed={picked?.column === c && picked.row === r}
											onclick={() => onpick(c, r)}
											onkeydown={(e) => move(e, c, r)}>{text(p)}</button
										>
									{:else}{text(p)}{/if}
								{/if}
							</td>
						{/each}
					</tr>
				{/each}
			</tbody>
			<tfoot>
				<tr
					><td></td><td colspan={columns.length} class="text-muted pt-0.5 text-left font-sans text-small"
						>across: {xLabel}{yLabel ? `, up: ${upwards}` : ''}</td
					></tr
				>
			</tfoot>
		</table>
	</div>
{/if}
