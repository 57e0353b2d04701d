<script lang="ts">
	/** The way up the ladder: boost and timing as stairs over the steps, under them what each step showed, and the next one dashed. */
	import { fixed, signed } from '$core/format';
	import { usePreferences } from '../preferences.svelte';
	import { bandsOf, type Band, type Way } from './stairs';

	let { stairs, next, goal, limits }: Way = $props();
	const preferences = usePreferences();
	const LEFT = 96;
	const HEAD = 44;
	let width = $state(640);
	const columns = $derived(stairs.length + (next ? 1 : 0));
	const step = $derived((width - LEFT) / Math.max(1, columns));
	const from = (n: number) => LEFT + n * step;
	const pressure = $derived(preferences.shown(100, 'kPa abs'));
	const kpa = (v: number) => preferences.shown(v, 'kPa abs').value;
	const bands = $derived(
		bandsOf(
			{ stairs, next, goal, limits },
			{ shown: kpa, unit: pressure.unit, decimals: pressure.decimals },
			HEAD
		)
	);
	const height = $derived((bands.at(-1)?.top ?? HEAD) + (bands.at(-1)?.height ?? 0) + 1);
	/** Stairs as a path; a step that nothing tells of leaves a gap. */
	function stair(b: Band): string {
		let d = '';
		let open = false;
		b.values.forEach((v, n) => {
			if (v === null) {
				open = false;
				return;
			}
			const y = b.scale.at(v);
			d += open ? `L${from(n)} ${y}L${from(n + 1)} ${y}` : `M${from(n)} ${y}L${from(n + 1)} ${y}`;
			open = true;
		});
		return d;
	}
	function dashed(b: Band): string {
		const last = b.values.at(-1) ?? null;
		if (!next || last === null) return '';
		const now = b.scale.at(last);
		const to = next.kind === b.id && next.to !== null ? (b.id === 'boost' ? kpa(next.to) : next.to) : last;
		return `M${from(stairs.length)} ${now}V${b.scale.at(to)}H${from(stairs.length + 1)}`;
	}
	const told = $derived(
		stairs
			.map(
				(s) =>
					`${s.name} ${s.kind}: boost ${preferences.text(s.boostKpa, 'kPa abs')}, timing ${preferences.text(s.timingDeg, '°')}, knock ${preferences.text(s.knockDeg, '°')}`
			)
			.join('; ')
	);
</script>

<div bind:clientWidth={width} class="min-w-0">
	<svg {width} {height} role="img" aria-label="Steps so far. {told}" class="block">
		{#if next}<rect x={from(stairs.length)} y="0" width={step} {height} class="next" />{/if}
		{#each stairs as s, n (n)}
			<text x={from(n) + step / 2} y="16" class="name">{s.name}</text>
			<text x={from(n) + step / 2} y="34" class="kind">{s.kind}</text>
			<line x1={from(n)} x2={from(n)} y1={HEAD} y2={height} class="guide" />
		{/each}
		{#if next}
			<text x={from(stairs.length) + step / 2} y="16" class="name">{next.name}</text>
			<text x={from(stairs.length) + step / 2} y="34" class="kind"
				>{next.kind === 'other' ? 'next' : next.kind}</text
			>
		{/if}
		{#each bands as b (b.id)}
			<line x1="0" x2={width} y1={b.top} y2={b.top} class="rule" />
			<text x="0" y={b.top + 20} class="title">{b.title}</text>
			<text x="0" y={b.top + 37} class="unit">{b.unit}</text>
			{#each b.figures as v (v)}
				<line x1={LEFT} x2={width} y1={b.scale.at(v)} y2={b.scale.at(v)} class="guide" />
				<text x={LEFT - 6} y={b.scale.at(v) + 4} class="figure">{fixed(v, b.decimals)}</text>
			{/each}
			{#if b.id === 'knock' || b.id === 'mixture'}
				{@const at = b.scale.at(b.id === 'knock' ? limits.knockDeg : limits.leanPct)}
				<rect x={LEFT} y={b.top} width={width - LEFT} height={Math.max(0, at - b.top)} class="limit" />
				<text x={LEFT + 6} y={b.top + 15} class="limit-name">limit{b.id === 'mixture' ? ', lean' : ''}</text>
			{/if}
			{#if b.goal}
				<line x1={LEFT} x2={width} y1={b.scale.at(b.goal.at)} y2={b.scale.at(b.goal.at)} class="aim" />
				<text x={LEFT + 6} y={b.scale.at(b.goal.at) - 4} class="aim-name">{b.goal.label}</text>
			{/if}
			{#if b.id === 'boost' || b.id === 'timing'}
				<path d={stair(b)} class="stair" />
				<path d={dashed(b)} class="stair dashed" />
				{#each b.values as v, n (n)}{#if v !== null && (n === 0 || Math.abs(v - (b.values[n - 1] ?? Infinity)) >= (b.scale.to - b.scale.from) / 40)}
						<text x={from(n) + step / 2} y={b.scale.at(v) + 16} class="value"
							>{fixed(v, b.id === 'timing' ? 1 : b.decimals)}</text
						>
					{/if}{/each}
				{#if next?.kind === b.id && next.to !== null}
					<text
						x={from(stairs.length) + step / 2}
						y={b.scale.at(b.id === 'boost' ? kpa(next.to) : next.to) - 6}
						class="value"
						>{fixed(b.id === 'boost' ? kpa(next.to) : next.to, b.id === 'timing' ? 1 : b.decimals)}</text
					>
				{/if}
			{:else if b.id === 'mixture'}
				{#each stairs as s, n (n)}{#if s.mixture}
						{@const x = from(n) + step / 2}
						<line
							x1={x}
							x2={x}
							y1={b.scale.at(s.mixture.lowPct)}
							y2={b.scale.at(s.mixture.highPct)}
							class="bar"
						/>
						<circle cx={x} cy={b.scale.at(s.mixture.middlePct)} r="4" class="dot" />
						<text x={x + 9} y={b.scale.at(s.mixture.middlePct) + 4} class="beside"
							>{signed(s.mixture.middlePct, 1)}</text
						>
					{/if}{/each}
			{:else}
				{#each b.values as v, n (n)}{#if v !== null}
						{@const x = from(n) + step / 2}
						{@const y = b.scale.at(v)}
						{@const zero = b.scale.at(0)}
						<rect
							x={x - 7}
							y={Math.min(y, zero) - 1}
							width="14"
							height={Math.max(2, Math.abs(zero - y))}
							class={b.id === 'knock' && v >= limits.knockDeg ? 'over' : b.id === 'power' ? 'gain' : 'dot'}
						/>
						{#if b.id === 'power' || v >= 0.05}<text x={x + 11} y={Math.min(y, zero) + 5} class="beside"
								>{b.id === 'power' ? signed(v, 1) : fixed(v, 1)}</text
							>{/if}
						{@const se = b.id === 'power' ? stairs[n]!.power?.sePct : undefined}
						{#if se}<line x1={x} x2={x} y1={b.scale.at(v - se)} y2={b.scale.at(v + se)} class="bar" />{/if}
					{/if}{/each}
			{/if}
		{/each}
		<line x1="0" x2={width} y1={height - 1} y2={height - 1} class="rule" />
	</svg>
</div>

<style>
	.next {
		fill: var(--shade);
		opacity: 0.55;
	}
	.name,
	.title,
	.value {
		font-size: 13px;
		font-weight: 600;
		fill: var(--ink);
	}
	.kind,
	.unit {
		font-size: 12px;
		fill: var(--muted);
	}
	.name,
	.kind,
	.value {
		text-anchor: middle;
	}
	.value,
	.beside,
	.figure {
		font-family: var(--font-mono);
		font-size: 12px;
	}
	.beside {
		fill: var(--ink);
	}
	.figure {
		font-size: 11.5px;
		fill: var(--muted);
		text-anchor: end;
	}
	.rule {
		stroke: var(--strong-line);
	}
	.guide {
		stroke: var(--chart-line);
		shape-rendering: crispEdges;
	}
	.stair {
		fill: none;
		stroke: var(--ink);
		stroke-width: 2;
	}
	.dashed {
		stroke-dasharray: 5 3;
	}
	.aim {
		stroke: var(--ink);
		stroke-dasharray: 4 3;
	}
	.aim-name {
		font-size: 12px;
		fill: var(--ink);
	}
	.limit {
		fill: var(--stop);
		opacity: 0.12;
	}
	.limit-name {
		font-size: 12px;
		fill: var(--stop);
	}
	.bar {
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.dot {
		fill: var(--ink);
	}
	.gain {
		fill: var(--strong-line);
	}
	.over {
		fill: var(--stop);
	}
</style>
