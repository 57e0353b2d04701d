<script lang="ts">
	/** A value in the band that is normal for it: the band as a bar, the value as a dot, hollow where the band is only that of its kind. */
	interface Props {
		value: number;
		band: { low: number; high: number };
		out: boolean;
		/** The band is of vehicles of its kind. */
		kind?: boolean;
		label: string;
	}
	let { value, band, out, kind = false, label }: Props = $props();
	const WIDTH = 120;
	/** The band fills the middle half; what lies farther out stands at the end. */
	const half = $derived(Math.max(1e-9, (band.high - band.low) / 2));
	const middle = $derived((band.high + band.low) / 2);
	const at = $derived(WIDTH / 2 + (Math.max(-2, Math.min(2, (value - middle) / half)) * (WIDTH - 12)) / 4);
</script>

<svg width={WIDTH} height="14" role="img" aria-label={label} class="inline-block align-middle">
	<line x1="0" x2={WIDTH} y1="7" y2="7" class="axis" />
	<rect x={WIDTH / 2 - (WIDTH - 12) / 4} y="3" width={(WIDTH - 12) / 2} height="8" class="band" class:kind />
	<circle cx={at} cy="7" r="4.5" class={out ? 'out' : 'in'} />
</svg>

<style>
	.axis {
		stroke: var(--line);
	}
	.band {
		fill: var(--clear-soft);
		stroke: var(--clear);
	}
	.kind {
		fill: none;
		stroke: var(--strong-line);
		stroke-dasharray: 3 2;
	}
	.in {
		fill: var(--ink);
	}
	.out {
		fill: var(--watch);
	}
</style>
