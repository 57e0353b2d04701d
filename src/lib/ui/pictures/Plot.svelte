<script lang="ts">
	/** One small picture over an axis: what was asked for dashed, what came solid, and the place where they part shaded. */
	import { areaOf, figuresOf, pathOf, rangeOf, scaleOf, type PlotLine } from './plot';

	interface Props {
		lines: PlotLine[];
		/** Ends of the axis, shared by the pictures that stand under one another. */
		domain: readonly [number, number];
		/** Least span of the values, in their unit as shown. */
		leastSpan: number;
		decimals: number;
		height?: number;
		/** The stretch of the axis where the first two lines part. */
		apart?: { from: number; to: number; tone: 'stop' | 'fix' | 'watch' } | null;
		/** What the picture shows, in words. */
		label: string;
	}
	let { lines, domain, leastSpan, decimals, height = 104, apart = null, label }: Props = $props();
	const LEFT = 40;
	const EDGE = 6;
	const LOW = 8;
	let width = $state(240);
	const range = $derived(rangeOf(lines, leastSpan));
	const sx = $derived(scaleOf(domain[0], domain[1], LEFT, Math.max(LEFT + 1, width - EDGE)));
	const sy = $derived(scaleOf(range?.[0] ?? 0, range?.[1] ?? 1, height - LOW, EDGE));
	const upright = $derived(figuresOf(domain[0], domain[1]));
	const level = $derived(range ? figuresOf(range[0], range[1]) : []);
	const area = $derived(
		apart && lines.length > 1 ? areaOf(lines[0]!, lines[1]!, apart.from, apart.to, sx, sy) : ''
	);
	const places = $derived(Math.max(decimals, 0));
</script>

<div bind:clientWidth={width} class="min-w-0">
	<svg {width} {height} role="img" aria-label={label} class="block">
		{#each upright as v (v)}<line class="guide" x1={sx.at(v)} x2={sx.at(v)} y1="0" y2={height} />{/each}
		{#each level as v (v)}
			<line class="guide" x1={LEFT} x2={width - EDGE} y1={sy.at(v)} y2={sy.at(v)} />
			<text class="figure" x={LEFT - 6} y={sy.at(v) + 4}>{v.toFixed(places)}</text>
		{/each}
		{#if area}<path d={area} class="area" style="fill: var(--{apart?.tone})" />{/if}
		{#each lines as l, n (n)}
			<path
				d={pathOf(l, sx, sy)}
				class="line"
				class:dashed={l.dashed}
				style={!l.dashed && apart ? `stroke: var(--${apart.tone})` : ''}
			/>
		{/each}
	</svg>
</div>

<style>
	.guide {
		stroke: var(--chart-line);
		stroke-width: 1;
		shape-rendering: crispEdges;
	}
	.figure {
		font-family: var(--font-mono);
		font-size: 11.5px;
		fill: var(--muted);
		text-anchor: end;
	}
	.line {
		fill: none;
		stroke: var(--trace-1);
		stroke-width: 1.75;
		stroke-linejoin: round;
	}
	.dashed {
		stroke-width: 1.4;
		stroke-dasharray: 5 3;
	}
	.area {
		opacity: 0.25;
	}
</style>
