<script lang="ts" module>
	export interface CellPoints {
		/** How certain it is, 0–1. */
		share: number;
		/** What the log says of this cell, in words. */
		text: string;
	}
	/** By `x|y` of the table. */
	export type Overlay = ReadonlyMap<string, CellPoints>;
</script>

<script lang="ts">
	/* eslint svelte/prefer-svelte-reactivity: off -- the map is never changed once it is shown */
	/** Where a log drove on the axes of a table, and what it says there: the error of the mixture, or the knock. */
	import { fixed } from '$core/format';
	import type { CurveItem, MapItem } from '$core/calibration/document';
	import { openFilter, type CellSpec } from '$core/evidence/cells/view';
	import { certain, signedText, trust } from '../cellmap/colour';
	import Loading from '../evidence/Loading.svelte';
	import { useEvidence } from '../evidence/worker.svelte';

	let {
		item,
		log,
		overlay = $bindable(new Map())
	}: { item: MapItem | CurveItem; log: { id: number; name: string }; overlay: Overlay } = $props();
	const evidence = useEvidence(() => log.id);
	let missing = $state('');
	/** Cells that the field knows less of than this aren't marked. */
	const SHOWN_TRUST = 0.5;
	const timing = $derived(item.id.startsWith('spark.'));
	let asField = $state(true);
	/** The error of the mixture, or that of the air model against the meter. */
	let subject = $state<'mixture' | 'air'>('mixture');
	const hasAir = $derived(!timing && (evidence.about?.quantities.some((q) => q.id === 'air') ?? false));

	$effect(() => {
		const { api, about } = evidence;
		const table = item;
		if (!api || !about) return;
		const wanted = about.quantities
			.map((q) => q.id)
			.filter((id) =>
				timing ? id === 'knock' : subject === 'air' ? id === 'air' : id.startsWith('correction.')
			);
		const spec = (quantity: string): CellSpec => ({
			quantity,
			axes: {
				xChannel: table.x.channel,
				xUnit: table.x.unit,
				x: [...table.x.points],
				// A curve is a table of one row.
				yChannel: table.kind === 'map' ? table.y.channel : 'rpm',
				yUnit: table.kind === 'map' ? table.y.unit : undefined,
				y: table.kind === 'map' ? [...table.y.points] : [0]
			},
			method: 'bilinear',
			lambda: 'believed',
			filter: openFilter(about.durationS)
		});
		const ask = wanted.length ? wanted : ['rpm'];
		const smooth = asField && !timing && subject === 'mixture' && wanted.length > 0;
		const fields = Promise.all(smooth ? wanted.map((q) => api.field(spec(q))) : []);
		void Promise.all([Promise.all(ask.map((q) => api.cells(spec(q)))), fields]).then(([views, smoothed]) => {
			if (table !== item) return;
			const next = new Map<string, CellPoints>();
			missing = views.every((v) => v === null) ? 'The log lacks a channel that this table is read by.' : '';
			const { x, y } = spec('').axes;
			y.forEach((py, r) =>
				x.forEach((px, c) => {
					const at = r * x.length + c;
					const known = smoothed.filter((f) => f !== null && f.trust[r]![c]! >= SHOWN_TRUST);
					if (known.length) {
						const share = Math.min(...known.map((f) => f!.trust[r]![c]!));
						const words = known.map(
							(f) => `${signedText(f!.percent[r]![c]!)} % ± ${fixed(f!.sd[r]![c]!, 1)}`
						);
						next.set(`${px}|${py}`, {
							share: certain(share),
							text: `required ${words.join(' and ')}, ${fixed(100 * share, 0)} % certain`
						});
					}
					if (smooth) return;
					const seen = views.filter((v) => v !== null && v.n[at]! > 0);
					if (seen.length === 0) return;
					const n = Math.min(...seen.map((v) => v!.n[at]!));
					const words = seen.map((v) => {
						const value = v!.values[at]!;
						const se = v!.se[at]!;
						return timing
							? `knock up to ${fixed(value, 1)}°`
							: `${subject === 'air' ? 'air model against the meter ' : ''}${signedText(value)} %${Number.isFinite(se) ? ` ± ${fixed(se, 2)}` : ''}`;
					});
					next.set(`${px}|${py}`, {
						share: trust(n),
						text: wanted.length
							? `${timing ? words[0]! : `required ${words.join(' and ')}`}, ${Math.round(n)} samples`
							: `${Math.round(n)} samples`
					});
				})
			);
			overlay = next;
		});
	});
</script>

<div class="text-muted mt-1 text-small">
	<Loading {evidence} />
	{#if missing}<p role="status">{missing}</p>
	{:else if overlay.size}<p role="status">
			Where {log.name} drove: the square shows {asField && !timing
				? 'how certain each cell is'
				: 'how much data stands behind a cell'}; the inspector says what is required.
		</p>{/if}
	{#if hasAir}<label class="flex items-center gap-1.5"
			>Overlay
			<select class="w-auto!" bind:value={subject}
				><option value="mixture">error of the mixture</option><option value="air"
					>error of the air model</option
				></select
			></label
		>{/if}
	{#if !timing && subject === 'mixture'}<label class="flex items-center gap-1.5"
			><input type="checkbox" bind:checked={asField} />all cells together, as one field (else the mean of each
			cell’s own samples)</label
		>{/if}
</div>
