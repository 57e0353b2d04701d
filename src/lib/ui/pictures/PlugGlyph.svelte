<script lang="ts">
	/** A spark plug as it was read: the ring is the plating that is left, the strap carries its heat mark from the tip on. */
	import type { PlugReading } from '$core/plugs/document';

	let { reading, size = 64 }: { reading: Pick<PlugReading, 'plating' | 'mark' | 'flags'>; size?: number } =
		$props();
	/** Share of the plating that is left. */
	const LEFT = { none: 1, quarter: 0.75, half: 0.5, most: 0.2, all: 0 } as const;
	/** How far along the strap the mark stands, from its tip: the bend is at 14 of 32. */
	const MARK = { short: 7, 'at-bend': 14, 'past-bend': 22, 'whole-strap': 32 } as const;
	const R = 26;
	const ROUND = 2 * Math.PI * R;
	const left = $derived(reading.plating ? LEFT[reading.plating] : null);
	const mark = $derived(reading.mark ? MARK[reading.mark] : 0);
	const words = $derived(
		[
			reading.plating ? `plating gone: ${reading.plating}` : 'plating not read',
			reading.mark ? `heat mark ${reading.mark.replace('-', ' ')}` : 'heat mark not read',
			...(reading.flags ?? []).map((f) => f.replace('-', ' '))
		].join(', ')
	);
</script>

<svg width={size} height={size} viewBox="0 0 64 64" role="img" aria-label={words}>
	<circle cx="32" cy="32" r={R} class="ring gone" class:unread={left === null} />
	{#if left}
		<circle
			cx="32"
			cy="32"
			r={R}
			class="ring"
			stroke-dasharray="{left * ROUND} {ROUND}"
			transform="rotate(-90 32 32)"
		/>
	{/if}
	<rect x="25" y="29" width="5" height="15" class="electrode" />
	<path d="M25 23H39V44" class="strap" />
	{#if mark}<path d="M25 23H39V44" class="mark" stroke-dasharray="{mark + 3} 60" />{/if}
	{#if reading.flags?.length}<path d="M46 46l10 10M56 46l-10 10" class="flag" />{/if}
</svg>

<style>
	.ring {
		fill: none;
		stroke: var(--ink);
		stroke-width: 7;
	}
	.gone {
		stroke: var(--line);
	}
	.unread {
		stroke-width: 1.5;
		stroke: var(--strong-line);
		stroke-dasharray: 3 3;
	}
	.electrode {
		fill: var(--ink);
	}
	.strap {
		fill: none;
		stroke: var(--strong-line);
		stroke-width: 5;
	}
	.mark {
		fill: none;
		stroke: var(--fix);
		stroke-width: 5;
	}
	.flag {
		stroke: var(--stop);
		stroke-width: 3.5;
	}
</style>
