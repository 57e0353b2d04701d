<script lang="ts">
	/**
	 * The table as a surface seen from above at an angle: lumps and cliffs stand out. Dragged or turned by the arrow keys; what differs
	 * from before is drawn in the colour of a change.
	 */
	import { tokenColour } from '../token-colour';
	import { onMount } from 'svelte';

	let {
		values,
		before,
		xs,
		ys,
		label
	}: {
		/** One row per y point. */
		values: readonly (readonly number[])[];
		before: readonly (readonly number[])[];
		xs: readonly number[];
		ys: readonly number[];
		label: string;
	} = $props();
	const WIDTH = 760;
	const HEIGHT = 320;
	let canvas = $state<HTMLCanvasElement>();
	let turn = $state(-0.7);
	let tilt = $state(0.6);
	let dragging = $state(false);
	let theme = $state(0);
	onMount(() => {
		const media = matchMedia('(prefers-color-scheme: dark)');
		const bump = () => theme++;
		media.addEventListener('change', bump);
		const watcher = new MutationObserver(bump);
		watcher.observe(document.documentElement, { attributes: true, attributeFilter: ['class'] });
		return () => {
			media.removeEventListener('change', bump);
			watcher.disconnect();
		};
	});
	/** Places along an axis from −1 to 1, by value, so that an uneven axis looks uneven. */
	const along = (points: readonly number[]) => {
		const [low, high] = [points[0]!, points.at(-1)!];
		return points.map((p) => (high > low ? (2 * (p - low)) / (high - low) - 1 : 0));
	};
	$effect(() => {
		void theme;
		const ctx = canvas?.getContext('2d');
		if (!canvas || !ctx) return;
		const ratio = devicePixelRatio || 1;
		canvas.width = WIDTH * ratio;
		canvas.height = HEIGHT * ratio;
		ctx.scale(ratio, ratio);
		const [ink, sheet, line, changed] = ['--ink', '--sheet', '--strong-line', '--trace-2'].map(tokenColour);
		const all = values.flat();
		const low = Math.min(...all);
		const high = Math.max(...all);
		const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
		const [sinTilt, cosTilt] = [Math.sin(tilt), Math.cos(tilt)];
		const px = along(xs);
		const py = along(ys);
		const flat = (x: number, y: number, z: number) => {
			const u = x * cos - y * sin;
			const v = x * sin + y * cos;
			return {
				sx: WIDTH / 2 + u * WIDTH * 0.26,
				sy: HEIGHT * 0.52 + v * sinTilt * HEIGHT * 0.3 - z * cosTilt * HEIGHT * 0.26,
				depth: v
			};
		};
		const height = (v: number) => (high > low ? (2 * (v - low)) / (high - low) - 1 : 0);
		const at = values.map((row, r) => row.map((v, c) => flat(px[c]!, -py[r]!, height(v))));
		const faces: { r: number; c: number; depth: number }[] = [];
		for (let r = 0; r + 1 < at.length; r++)
			for (let c = 0; c + 1 < at[r]!.length; c++)
				faces.push({ r, c, depth: at[r]![c]!.depth + at[r + 1]![c + 1]!.depth });
		faces.sort((a, b) => a.depth - b.depth);
		ctx.clearRect(0, 0, WIDTH, HEIGHT);
		// Before the faces: what stands in front of a label covers it.
		ctx.fillStyle = ink!;
		ctx.font = "11px 'JetBrains Mono Variable', monospace";
		ctx.textAlign = 'center';
		const corner = (c: number, r: number, x: number, y: number, text: string) => {
			const p = flat(px[c]! * x, -py[r]! * y, -1.2);
			ctx.fillText(text, Math.max(32, Math.min(WIDTH - 32, p.sx)), Math.min(HEIGHT - 4, p.sy + 8));
		};
		const [lastX, lastY] = [xs.length - 1, ys.length - 1];
		corner(0, 0, 1.1, 1.1, `${xs[0]} / ${ys[0]}`);
		corner(lastX, 0, 1.1, 1.1, `${xs[lastX]} / ${ys[0]}`);
		corner(0, lastY, 1.1, 1.1, `${xs[0]} / ${ys[lastY]}`);
		corner(lastX, lastY, 1.1, 1.1, `${xs[lastX]} / ${ys[lastY]}`);
		ctx.lineWidth = 0.8;
		for (const { r, c } of faces) {
			const corners = [at[r]![c]!, at[r]![c + 1]!, at[r + 1]![c + 1]!, at[r + 1]![c]!];
			const four = [
				[r, c],
				[r, c + 1],
				[r + 1, c + 1],
				[r + 1, c]
			] as const;
			const differs = four.some(([i, k]) => values[i]![k] !== before[i]?.[k]);
			const share = four.reduce((s, [i, k]) => s + (height(values[i]![k]!) + 1) / 2, 0) / 4;
			ctx.beginPath();
			corners.forEach((p, i) => (i ? ctx.lineTo(p.sx, p.sy) : ctx.moveTo(p.sx, p.sy)));
			ctx.closePath();
			ctx.fillStyle = `color-mix(in oklab, ${differs ? changed! : ink!} ${Math.round(6 + (differs ? 40 : 26) * share)}%, ${sheet!})`;
			ctx.fill();
			ctx.strokeStyle = line!;
			ctx.stroke();
		}
	});
	const clamp = (v: number) => Math.max(0.15, Math.min(1.3, v));
	function key(e: KeyboardEvent) {
		const by: Record<string, [number, number]> = {
			ArrowLeft: [-0.15, 0],
			ArrowRight: [0.15, 0],
			ArrowUp: [0, 0.1],
			ArrowDown: [0, -0.1]
		};
		const step = by[e.key];
		if (!step) return;
		turn += step[0];
		tilt = clamp(tilt + step[1]);
		e.preventDefault();
		e.stopPropagation();
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
	class="mt-1 max-w-[760px] touch-none {dragging ? 'cursor-grabbing' : 'cursor-grab'}"
	tabindex="0"
	role="img"
	aria-label="{label} as a surface; arrow keys turn it"
	onkeydown={key}
	onpointerdown={(e) => {
		dragging = true;
		e.currentTarget.setPointerCapture(e.pointerId);
	}}
	onpointermove={(e) => {
		if (!dragging) return;
		turn += e.movementX / 160;
		tilt = clamp(tilt + e.movementY / 200);
	}}
	onpointerup={() => (dragging = false)}
>
	<canvas bind:this={canvas} class="w-full" style:aspect-ratio="{WIDTH} / {HEIGHT}"></canvas>
</div>
