<script lang="ts">
	/** The strip below the traces: the whole log with its pulls and findings; it moves the window. */
	import type { Report } from '$core/screening/report';
	import { clock } from '../time';

	let {
		report,
		total,
		view,
		marks = [],
		onmove,
		onpan
	}: {
		report: Report;
		total: number;
		view: { min: number; max: number };
		/** Moments that somebody marked. */
		marks?: { at: number; title: string }[];
		onmove: (middle: number) => void;
		onpan: (share: number) => void;
	} = $props();

	let strip: HTMLElement;
	const share = (s: number) => `${(100 * s) / total}%`;
	const COLOUR = { stop: 'bg-stop', fix: 'bg-fix', watch: 'bg-watch', note: 'bg-muted' } as const;
	const segments = $derived(report.segments.filter((s) => s.kind !== 'cruise'));
	function move(e: PointerEvent) {
		const r = strip.getBoundingClientRect();
		onmove(((e.clientX - r.left) / r.width) * total);
	}
</script>

<div
	bind:this={strip}
	class="bg-shade relative mt-1 mr-[88px] ml-[96px] h-6 touch-none"
	role="slider"
	tabindex="0"
	aria-label="Window of the traces"
	aria-valuemin={0}
	aria-valuemax={Math.round(total)}
	aria-valuenow={Math.round((view.min + view.max) / 2)}
	aria-valuetext="{clock(view.min)} to {clock(view.max)}"
	onpointerdown={(e) => {
		strip.setPointerCapture(e.pointerId);
		move(e);
	}}
	onpointermove={(e) => {
		if (e.buttons) move(e);
	}}
	onkeydown={(e) => {
		if (e.key === 'ArrowLeft') onpan(-0.1);
		else if (e.key === 'ArrowRight') onpan(0.1);
	}}
>
	{#each segments as s, i (i)}
		<span
			class="absolute top-0 {s.kind === 'pull' ? 'bg-ink/60 h-3' : 'bg-strong-line/40 h-1.5'}"
			style:left={share(s.from)}
			style:width="max(2px, {share(s.to - s.from)})"
			title="{s.kind}{s.gear ? `, gear ${s.gear}` : ''}"
		></span>
	{/each}
	{#each report.findings as f, i (i)}
		{#each f.ranges ?? [] as r, k (k)}
			<span
				class="absolute bottom-0 h-3 {COLOUR[f.severity]}"
				style:left={share(r.from)}
				style:width="max(2px, {share(r.to - r.from)})"
				title={f.title}
			></span>
		{/each}
	{/each}
	{#each marks as m, i (i)}
		<span class="bg-ink absolute top-0 h-8 w-[3px]" style:left={share(m.at)} title={m.title}></span>
	{/each}
	<span
		class="border-ink pointer-events-none absolute top-0 h-8 border-2"
		style:left={share(view.min)}
		style:width={share(view.max - view.min)}
	></span>
</div>
