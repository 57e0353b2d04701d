<script lang="ts">
	import { fixed } from '$core/format';
	/** Every row of a table as a line over its x axis: lumps and cliffs that numbers hide. The focused row stands out, as it was in grey. */
	let {
		xs,
		ys,
		values,
		before,
		row,
		decimals
	}: {
		xs: readonly number[];
		ys: readonly number[];
		values: readonly (readonly number[])[];
		before: readonly (readonly number[])[];
		/** Index of the row in focus. */
		row: number;
		decimals: number;
	} = $props();
	const WIDTH = 760;
	const HEIGHT = 200;
	const PAD = { left: 48, right: 10, top: 8, bottom: 22 };
	const all = $derived([...values.flat(), ...before.flat()]);
	const low = $derived(Math.min(...all));
	const high = $derived(Math.max(...all));
	const px = (x: number) =>
		PAD.left + ((x - xs[0]!) / Math.max(1e-9, xs.at(-1)! - xs[0]!)) * (WIDTH - PAD.left - PAD.right);
	const py = (v: number) =>
		HEIGHT - PAD.bottom - ((v - low) / Math.max(1e-9, high - low)) * (HEIGHT - PAD.top - PAD.bottom);
	const path = (line: readonly number[]) =>
		line.map((v, i) => `${i ? 'L' : 'M'}${fixed(px(xs[i]!), 1)} ${fixed(py(v), 1)}`).join('');
	const ticks = $derived(xs.filter((_, i) => i % Math.ceil(xs.length / 12) === 0));
</script>

<svg
	viewBox="0 0 {WIDTH} {HEIGHT}"
	class="mt-1 w-full max-w-[760px]"
	role="img"
	aria-label="Rows of the table as lines, from {fixed(low, decimals)} to {fixed(high, decimals)}"
>
	{#each [low, (low + high) / 2, high] as v (v)}
		<line x1={PAD.left} x2={WIDTH - PAD.right} y1={py(v)} y2={py(v)} stroke="var(--line)" />
		<text x={PAD.left - 6} y={py(v) + 4} text-anchor="end">{fixed(v, decimals)}</text>
	{/each}
	{#each ticks as x (x)}<text x={px(x)} y={HEIGHT - 6} text-anchor="middle">{x}</text>{/each}
	{#each values as line, r (ys[r])}
		{#if r !== row}<path d={path(line)} fill="none" stroke="var(--strong-line)" stroke-width="1" />{/if}
	{/each}
	{#if before[row]}<path
			d={path(before[row])}
			fill="none"
			stroke="var(--trace-old)"
			stroke-width="2"
			stroke-dasharray="4 3"
		/>{/if}
	{#if values[row]}<path d={path(values[row])} fill="none" stroke="var(--trace-2)" stroke-width="2.5" />{/if}
</svg>

<style>
	text {
		font-family: var(--font-mono);
		font-size: 11px;
		fill: var(--muted);
	}
</style>
