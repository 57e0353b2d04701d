<script lang="ts">
	/** Knock episodes on engine speed × pressure: where it was driven under load, where the retard rose, how far. Drawn as vectors. */
	import { range } from 'd3-array';
	import { fixed } from '$core/format';
	import type { KnockEntry, KnockView } from '$core/evidence/knock/knock-view';
	import { usePreferences } from '../preferences.svelte';

	let {
		view,
		picked,
		onpick
	}: { view: KnockView; picked: KnockEntry | null; onpick: (e: KnockEntry) => void } = $props();
	const preferences = usePreferences();

	const WIDTH = 560;
	const HEIGHT = 260;
	const PAD = { left: 46, right: 12, top: 10, bottom: 34 };
	const placed = $derived(view.episodes.filter((e) => e.rpm !== null && e.mapKpa !== null));
	const span = (values: number[], step: number): [number, number] =>
		values.length
			? [Math.floor(Math.min(...values) / step) * step, Math.ceil(Math.max(...values) / step) * step]
			: [0, step];
	const xs = $derived(span([...placed.map((e) => e.rpm!), ...(view.loadedRpm ?? [])], 500));
	const ys = $derived(span([...placed.map((e) => e.mapKpa!), ...(view.loadedKpa ?? [])], 20));
	const px = (rpm: number) =>
		PAD.left + ((rpm - xs[0]) / Math.max(1, xs[1] - xs[0])) * (WIDTH - PAD.left - PAD.right);
	const py = (kpa: number) =>
		HEIGHT - PAD.bottom - ((kpa - ys[0]) / Math.max(1, ys[1] - ys[0])) * (HEIGHT - PAD.top - PAD.bottom);
	const ticks = ([a, b]: [number, number], step: number) => range(a, b + step / 2, step);
	const xStep = $derived(xs[1] - xs[0] > 4000 ? 1000 : 500);
	const yStep = $derived(ys[1] - ys[0] > 120 ? 40 : 20);
	/** Area goes with the retard. */
	const radius = (deg: number) => 3.5 + 3 * Math.sqrt(Math.max(0, deg));
	const TONE = { real: 'var(--stop)', unclear: 'var(--fix)', blips: 'var(--watch)' } as const;
</script>

<svg
	viewBox="0 0 {WIDTH} {HEIGHT}"
	class="w-full"
	role="group"
	aria-label="Knock episodes over engine speed and pressure"
>
	{#each ticks(xs, xStep) as v (v)}
		<line x1={px(v)} x2={px(v)} y1={PAD.top} y2={HEIGHT - PAD.bottom} stroke="var(--line)" />
		<text x={px(v)} y={HEIGHT - PAD.bottom + 15} class="axis" text-anchor="middle">{v}</text>
	{/each}
	{#each ticks(ys, yStep) as v (v)}
		<line x1={PAD.left} x2={WIDTH - PAD.right} y1={py(v)} y2={py(v)} stroke="var(--line)" />
		<text x={PAD.left - 6} y={py(v) + 4} class="axis" text-anchor="end"
			>{fixed(preferences.shown(v, 'kPa abs').value, preferences.shown(1, 'kPa abs').decimals)}</text
		>
	{/each}
	<text x={WIDTH - PAD.right} y={HEIGHT - 4} class="axis" text-anchor="end">Engine speed, rpm</text>
	<text x={4} y={HEIGHT - 4} class="axis">Pressure, {preferences.shown(1, 'kPa abs').unit}</text>
	{#if view.loadedRpm && view.loadedKpa}
		<rect
			x={px(view.loadedRpm[0])}
			y={py(view.loadedKpa[1])}
			width={px(view.loadedRpm[1]) - px(view.loadedRpm[0])}
			height={Math.max(2, py(view.loadedKpa[0]) - py(view.loadedKpa[1]))}
			fill="none"
			stroke="var(--strong-line)"
			stroke-dasharray="3 3"><title>driven under load</title></rect
		>
	{/if}
	{#each placed as e, i (i)}
		{@const chosen = picked === e}
		<!-- Real: filled; unclear: half tone; blips: ring. Shape says it without colour. -->
		<circle
			cx={px(e.rpm!)}
			cy={py(e.mapKpa!)}
			r={radius(e.peakDeg)}
			fill={e.shape === 'blips' ? 'none' : TONE[e.shape]}
			fill-opacity={e.shape === 'real' ? 0.85 : 0.4}
			stroke={chosen ? 'var(--ink)' : TONE[e.shape]}
			stroke-width={chosen ? 3 : 1.5}
			stroke-dasharray={e.loaded ? undefined : '2 2'}
			role="button"
			tabindex="0"
			aria-label="{fixed(e.peakDeg, 1)} degrees at {Math.round(e.rpm!)} rpm, {e.shape}"
			aria-pressed={chosen}
			class="cursor-pointer"
			onclick={() => onpick(e)}
			onkeydown={(k) => {
				if (k.key === 'Enter' || k.key === ' ') {
					k.preventDefault();
					onpick(e);
				}
			}}><title>{fixed(e.peakDeg, 1)}° at {Math.round(e.rpm!)} rpm: {e.because}</title></circle
		>
	{/each}
</svg>

<style>
	.axis {
		font-family: var(--font-mono);
		font-size: 11px;
		fill: var(--muted);
	}
</style>
