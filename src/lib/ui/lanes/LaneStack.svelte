<script lang="ts">
	/**
	 * Lanes stacked over one axis, one chart each, with a cursor that reads all of them at once. The owner decides what the axis
	 * is and what a gesture does; this only draws and tells where the pointer is.
	 */
	import { tokenColour } from '../token-colour';
	import { fixed, fixedOrDash } from '$core/format';
	import { onMount } from 'svelte';
	import type { Chart, ChartConfiguration, Plugin } from 'chart.js';
	import { axisFigures, figures, overScale, points, valueAt, valueRange, type Axis } from './scale';
	import { SWATCH, TONES } from './tones';
	import type { Band, Lane, SpanStatistics } from './types';

	let {
		lanes,
		min,
		max,
		axis,
		bands = [],
		onwheel,
		ondrag,
		onselect,
		selecting = false,
		statistics = {},
		statisticsScale = (_, v) => v,
		label
	}: {
		lanes: Lane[];
		min: number;
		max: number;
		axis: Axis;
		/** Stretches of the axis that stand out in every lane. */
		bands?: Band[];
		onwheel?: (at: number, factor: number) => void;
		/** Shares of the visible span that the pointer was dragged by. */
		ondrag?: (share: number) => void;
		/** A span that was drawn with shift held, or while `selecting`. */
		onselect?: (from: number, to: number) => void;
		selecting?: boolean;
		/** By channel, over the selected span, in canonical units. */
		statistics?: Record<string, SpanStatistics>;
		statisticsScale?: (id: string, v: number) => number;
		label: string;
	} = $props();

	/** The drawing library comes after the page: nobody waits for it to read a verdict. */
	let library = $state.raw<typeof import('./chart-library') | null>(null);
	onMount(() => void import('./chart-library').then((l) => (library = l)));

	/** Room at the left for the title of a lane and its figures, at the right for the names of its lines. */
	const LEFT = 96;
	const RIGHT = 88;
	const EDGE_SHARE = 0.035;
	const LOW_PX = 50;
	/** Height of the mark at the top edge where a value goes over the scale. */
	const OVER_PX = 3;
	let cursor = $state<number | null>(null);
	/** Somebody clicked into the lanes and is still in them. */
	let holding = $state(false);
	let box: HTMLElement;
	const canvases = $state<Record<string, HTMLCanvasElement>>({});
	const charts: Record<string, Chart<'line'>> = {};

	/** Colours of the theme, read once per theme: asking the page for each line of each redraw would cost more than drawing. */
	const palette: Record<string, string> = {};
	function colour(name: string): string {
		return (palette[name] ??= tokenColour(name));
	}

	const background = (lane: () => Lane): Plugin<'line'> => ({
		id: 'tanto-background',
		beforeDatasetsDraw(chart) {
			const { ctx, chartArea: a, scales } = chart;
			const x = scales['x']!;
			const y = scales['y']!;
			ctx.save();
			ctx.beginPath();
			ctx.rect(a.left, a.top, a.width, a.height);
			ctx.clip();
			for (const b of bands) {
				ctx.globalAlpha = 0.16;
				ctx.fillStyle = colour(`--${b.tone === 'note' ? 'muted' : b.tone === 'selected' ? 'focus' : b.tone}`);
				const from = x.getPixelForValue(b.from);
				ctx.fillRect(from, a.top, Math.max(2, x.getPixelForValue(b.to) - from), a.height);
			}
			const limit = lane().limit;
			if (limit) {
				const at = y.getPixelForValue(limit.from);
				ctx.globalAlpha = 0.13;
				ctx.fillStyle = colour('--stop');
				if (limit.side === 'above') ctx.fillRect(a.left, a.top, a.width, at - a.top);
				else ctx.fillRect(a.left, at, a.width, a.bottom - at);
				ctx.globalAlpha = 1;
				ctx.strokeStyle = colour('--stop');
				ctx.lineWidth = 1;
				ctx.beginPath();
				ctx.moveTo(a.left, at);
				ctx.lineTo(a.right, at);
				ctx.stroke();
			}
			ctx.restore();
		},
		afterDatasetsDraw(chart) {
			const { ctx, chartArea: a, scales } = chart;
			const shown = lane();
			if (shown.ceiling !== undefined)
				for (const s of shown.series) {
					if (s.dashed || s.tone === 'old') continue;
					ctx.save();
					ctx.fillStyle = colour(TONES[s.tone]);
					for (const { from, to } of overScale(s, scales['y']!.max)) {
						const left = Math.max(a.left, scales['x']!.getPixelForValue(from));
						const right = Math.min(a.right, Math.max(left + 2, scales['x']!.getPixelForValue(to)));
						if (right > a.left && left < a.right) ctx.fillRect(left, a.top, right - left, OVER_PX);
					}
					ctx.restore();
				}
			if (cursor === null) return;
			const px = scales['x']!.getPixelForValue(cursor);
			if (px < a.left || px > a.right) return;
			ctx.save();
			ctx.strokeStyle = colour('--ink');
			ctx.lineWidth = 1;
			ctx.beginPath();
			ctx.moveTo(px, a.top);
			ctx.lineTo(px, a.bottom);
			ctx.stroke();
			ctx.restore();
		}
	});

	function config(lane: Lane, last: boolean): ChartConfiguration<'line', { x: number; y: number }[]> {
		const ink = colour('--muted');
		const line = colour('--line');
		const y = valueRange(lane, min, max);
		const font = { family: "'JetBrains Mono Variable', ui-monospace, monospace", size: 10.5 };
		return {
			type: 'line',
			data: {
				datasets: lane.series.map((s) => ({
					label: s.label,
					data: points(s),
					borderColor: colour(TONES[s.tone]),
					borderWidth: s.tone === 'old' ? 1 : 1.5,
					borderDash: s.dashed ? [5, 4] : [],
					pointRadius: 0,
					spanGaps: false
				}))
			},
			options: {
				animation: false,
				responsive: true,
				maintainAspectRatio: false,
				parsing: false,
				normalized: true,
				events: [],
				layout: { padding: { right: RIGHT, top: 4, bottom: 2 } },
				scales: {
					x: {
						type: 'linear',
						min,
						max,
						grid: { color: line, drawTicks: false },
						border: { color: line },
						ticks: {
							display: last,
							color: ink,
							font,
							maxRotation: 0,
							autoSkip: false,
							// At the right edge half of a figure would be cut off, or the lane made narrower than the others.
							callback: (v) =>
								max - Number(v) < (max - min) * EDGE_SHARE ? '' : axis.text(Number(v), max - min)
						},
						afterBuildTicks: (scale) => {
							scale.ticks = axisFigures(axis, scale.min, scale.max).map((value) => ({ value }));
						},
						title: {
							display: last,
							text: axis.title,
							color: ink,
							font: { size: 12, family: "'Source Sans 3 Variable', system-ui, sans-serif" }
						}
					},
					y: {
						...y,
						afterBuildTicks: (scale) => {
							const all = figures(scale.min, scale.max);
							// A low lane has room for its ends only.
							const shown = (lane.height ?? LOW_PX) < LOW_PX ? [all[0]!, all.at(-1)!] : all;
							scale.ticks = (all.length ? shown : []).map((value) => ({ value }));
						},
						afterFit: (scale) => {
							scale.width = LEFT;
						},
						grid: { color: line, drawTicks: false },
						border: { display: false },
						ticks: {
							color: ink,
							font,
							autoSkip: false,
							callback: (v) => fixed(Number(v), lane.decimals)
						}
					}
				}
			},
			plugins: [background(() => lanes.find((l) => l.id === lane.id) ?? lane)]
		};
	}

	/** Bumped when the theme changes: charts take their colours anew. */
	let theme = $state(0);
	$effect(() => {
		const bump = () => {
			for (const name of Object.keys(palette)) delete palette[name];
			theme++;
		};
		const watcher = new MutationObserver(bump);
		watcher.observe(document.documentElement, { attributes: true, attributeFilter: ['class'] });
		const media = matchMedia('(prefers-color-scheme: dark)');
		media.addEventListener('change', bump);
		// Letters on a canvas don't change by themselves when their font arrives.
		void document.fonts.ready.then(bump);
		return () => {
			watcher.disconnect();
			media.removeEventListener('change', bump);
		};
	});

	/** What a chart was last made from: when only the window moved, only its scales do. */
	const shownLane: Record<string, { lane: Lane; theme: number; last: boolean }> = {};
	$effect(() => {
		void bands;
		if (!library) return;
		const { Chart } = library;
		lanes.forEach((lane, i) => {
			const canvas = canvases[lane.id];
			if (!canvas) return;
			const last = i === lanes.length - 1;
			const before = shownLane[lane.id];
			let chart = charts[lane.id];
			if (!chart || chart.canvas !== canvas) {
				chart?.destroy();
				charts[lane.id] = new Chart(canvas, config(lane, last)) as Chart<'line'>;
			} else if (before?.lane === lane && before.theme === theme && before.last === last) {
				const { x, y } = chart.options.scales!;
				Object.assign(x!, { min, max });
				Object.assign(y!, valueRange(lane, min, max));
				chart.update('none');
			} else {
				const next = config(lane, last);
				chart.data = next.data;
				chart.options = next.options!;
				chart.update('none');
			}
			shownLane[lane.id] = { lane, theme, last };
		});
		for (const id of Object.keys(charts))
			if (!lanes.some((l) => l.id === id)) {
				charts[id]!.destroy();
				delete charts[id];
			}
	});
	$effect(() => () => {
		for (const c of Object.values(charts)) c.destroy();
	});
	$effect(() => {
		void cursor;
		for (const c of Object.values(charts)) c.draw();
	});

	function axisAt(clientX: number): number {
		const r = box.getBoundingClientRect();
		return min + ((clientX - r.left - LEFT) / (r.width - LEFT - RIGHT)) * (max - min);
	}
	let dragFrom: number | null = null;
	/** Where a span began, on the axis. */
	let spanFrom: number | null = null;
</script>

<div
	bind:this={box}
	role="img"
	aria-label={label}
	data-drawn={library ? '' : undefined}
	class="select-none {selecting ? 'cursor-crosshair touch-none' : ondrag ? 'cursor-grab touch-none' : ''}"
	onpointermove={(e) => {
		if (spanFrom !== null && onselect) {
			const at = Math.min(max, Math.max(min, axisAt(e.clientX)));
			if (at !== spanFrom) onselect(Math.min(spanFrom, at), Math.max(spanFrom, at));
			return;
		}
		if (dragFrom !== null && ondrag) {
			const r = box.getBoundingClientRect();
			ondrag((dragFrom - e.clientX) / (r.width - LEFT - RIGHT));
			dragFrom = e.clientX;
			return;
		}
		const at = axisAt(e.clientX);
		cursor = at >= min && at <= max ? at : null;
	}}
	onpointerleave={() => {
		cursor = null;
		holding = false;
	}}
	onpointerdown={(e) => {
		holding = true;
		if (!ondrag) return;
		if (onselect && (selecting || e.shiftKey)) spanFrom = Math.min(max, Math.max(min, axisAt(e.clientX)));
		else dragFrom = e.clientX;
		box.setPointerCapture(e.pointerId);
	}}
	onpointerup={() => (dragFrom = spanFrom = null)}
	onpointercancel={() => (dragFrom = spanFrom = null)}
	onwheel={(e) => {
		// The wheel belongs to the page until somebody works in here: with Ctrl, or after a click into the lanes.
		if (!onwheel || !(e.ctrlKey || e.metaKey || holding)) return;
		e.preventDefault();
		onwheel(axisAt(e.clientX), e.deltaY > 0 ? 1.25 : 0.8);
	}}
>
	{#each lanes as lane, i (lane.id)}
		{@const shown = lane.series.some((s) => s.id !== undefined && s.tone !== 'old' && statistics[s.id])}
		<div class="lane" style:min-height="{(lane.height ?? 74) + (i === lanes.length - 1 ? 34 : 0)}px">
			<p class="title">
				<span class="font-semibold">{lane.title}</span>{#if lane.unit}<span class="text-muted"
						>{lane.unit}</span
					>{/if}
			</p>
			<div style:height="{(lane.height ?? 74) + (i === lanes.length - 1 ? 34 : 0)}px">
				<canvas bind:this={canvases[lane.id]}></canvas>
			</div>
			<ul class="names">
				{#if i === 0 && cursor !== null}<li class="numbers justify-end">
						{axis.text(cursor, max - min)}
					</li>{/if}
				{#each lane.series as s, k (k)}
					<li>
						<span class="swatch {SWATCH[s.tone]} {s.dashed ? 'border-dashed' : ''}" aria-hidden="true"></span>
						<span class="name" title={s.label}>{s.label}</span>
						{#if cursor !== null}<span class="numbers">{fixedOrDash(valueAt(s, cursor), lane.decimals)}</span
							>{/if}
					</li>
				{/each}
			</ul>
			{#if lane.limit}<p class="limit">{lane.limit.label}</p>{/if}
			{#if shown}
				<p class="figures">
					{#each lane.series as s, k (k)}
						{@const held = s.id !== undefined && s.tone !== 'old' ? statistics[s.id] : undefined}
						{#if held}<span
								>{s.label}
								<span class="numbers bg-shade px-1" title="lowest, mean, highest in the span"
									>{[held.min, held.mean, held.max]
										.map((v) => fixed(statisticsScale(s.id!, v), lane.decimals))
										.join(' / ')}</span
								></span
							>{/if}
					{/each}
				</p>
			{/if}
		</div>
	{/each}
</div>

<style>
	.lane {
		position: relative;
	}
	.title {
		position: absolute;
		top: 2px;
		left: 0;
		display: grid;
		width: 56px;
		font-size: 12px;
		line-height: 14px;
	}
	.names {
		position: absolute;
		top: 2px;
		right: 0;
		width: 84px;
		font-size: 12px;
		line-height: 15px;
	}
	.names li {
		display: flex;
		gap: 4px;
		align-items: center;
	}
	.names .numbers {
		font-size: 11px;
	}
	.swatch {
		flex: none;
		width: 10px;
		border-top-width: 2px;
	}
	.name {
		flex: 1;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.limit {
		position: absolute;
		top: 4px;
		right: 92px;
		padding: 0 3px;
		font-size: 11px;
		line-height: 14px;
		color: var(--stop);
		background: color-mix(in oklab, var(--paper) 80%, transparent);
		pointer-events: none;
	}
	.figures {
		display: flex;
		gap: 12px;
		padding-left: 96px;
		font-size: 12px;
		line-height: 18px;
	}
</style>
