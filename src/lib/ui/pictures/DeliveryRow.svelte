<script lang="ts">
	/** One quantity from the table to the engine: a chain of its links, and a picture for each pair of them. */
	import { pairsOf, type Pair } from '$core/delivered/pair';
	import type { Line, LinkName } from '$core/delivered/line';
	import { fixed, signed } from '$core/format';
	import Mark from '../findings/Mark.svelte';
	import { usePreferences } from '../preferences.svelte';
	import Plot from './Plot.svelte';
	import type { PlotLine } from './plot';

	interface Props {
		line: Line;
		stoich: number;
		domain: readonly [number, number];
		/** The drive plan, where a channel that is missing is asked for. */
		plan: string;
	}
	let { line, stoich, domain, plan }: Props = $props();
	const preferences = usePreferences();
	/** Least span of a picture, in the unit of the quantity: what is less than this is no difference to look at. */
	const LEAST: Record<string, number> = { λ: 0.06, '°': 4, 'kPa abs': 20, rpm: 400, '%': 10, '': 1 };
	const CHAIN: readonly LinkName[] = ['written', 'commanded', 'delivered', 'measured'];
	const STEP = 48;
	const pairs = $derived(pairsOf(line));
	const known = $derived(line.links.filter((l) => l.missing === null).length);
	/** Of the edges of the chain, the broken one. */
	const broken = $derived(line.broken ? Math.max(0, CHAIN.indexOf(line.broken.at) - 1) : -1);
	const unit = $derived(preferences.shown(1, line.links[0]!.unit || line.links.at(-1)!.unit, stoich).unit);

	const span = (p: Pair) => {
		const least = LEAST[p.unit] ?? 1;
		return Math.abs(
			preferences.shown(least + 1, p.unit, stoich).value - preferences.shown(1, p.unit, stoich).value
		);
	};
	function lines(p: Pair): PlotLine[] {
		const of = (label: string, values: readonly (number | null)[], dashed: boolean): PlotLine => ({
			label,
			x: line.axis.points,
			y: values.map((v) => (v === null ? null : preferences.shown(v, p.unit, stoich).value)),
			dashed
		});
		return [
			...(p.expected ? [of(p.expected.title, p.expected.values, true)] : []),
			of(p.got.title, p.got.values, false)
		];
	}
	/** The difference in figures: a mixture in percent of what it should be, all else in its own unit. */
	function difference(p: Pair): string {
		if (!p.worst) return 'doesn’t follow';
		const at = `at ${p.worst.at}${line.axis.unit ? ` ${line.axis.unit}` : ''}`;
		if (p.unit === 'λ' && p.expected) {
			const wanted = p.expected.values[line.axis.points.indexOf(p.worst.at)]!;
			return `${signed((100 * p.worst.difference) / wanted, 1)} % ${at}`;
		}
		const s = preferences.shown(p.worst.difference, p.unit, stoich);
		const by = s.value - preferences.shown(0, p.unit, stoich).value;
		return `${signed(by, s.decimals)}${s.unit === '°' ? '' : ' '}${s.unit} ${at}`;
	}
	/** Of the figures at a scale: a mixture in hundredths, degrees and percent whole. */
	const decimals = (p: Pair) =>
		p.unit === 'λ'
			? Math.min(2, preferences.shown(1, p.unit, stoich).decimals)
			: p.unit === 'kPa abs'
				? preferences.shown(1, p.unit).decimals
				: 0;
	const heading = (p: Pair) =>
		p.state === 'broken'
			? difference(p)
			: p.state === 'follows'
				? 'follows'
				: p.state === 'missing'
					? 'not known'
					: 'as logged';
	const label = (p: Pair) =>
		`${line.title}: ${p.got.title}${p.expected ? ` against ${p.expected.title}` : ''}, ${heading(p)}; ${
			p.got.values.filter((v) => v !== null).length
		} places from ${fixed(domain[0], 0)} to ${fixed(domain[1], 0)} ${line.axis.unit}`;
</script>

<section id={line.quantity} aria-label={line.title} class="row">
	<div class="what">
		<h2 class="name">{line.title} <span class="text-muted font-normal">{unit}</span></h2>
		<svg
			width={3 * STEP + 16}
			height="18"
			viewBox="-8 -9 {3 * STEP + 16} 18"
			role="img"
			aria-label="{known} of {line.links.length} links are known{line.broken
				? `, broken at ${line.broken.at}`
				: ''}"
		>
			{#each pairs as p, n (p.to)}
				<line
					x1={n * STEP}
					x2={(n + 1) * STEP}
					y1="0"
					y2="0"
					class="edge"
					class:snapped={n === broken}
					stroke-dasharray={p.state === 'missing' || line.links[n]!.missing !== null ? '2 3' : ''}
				/>
				{#if n === broken}
					<path d="M{(n + 0.5) * STEP - 5} -6l4 12M{(n + 0.5) * STEP + 1} -6l4 12" class="edge snapped" />
				{/if}
			{/each}
			{#each line.links as l, n (l.name)}
				<circle cx={n * STEP} cy="0" r="5" class={l.missing === null ? 'known' : 'unknown'} />
			{/each}
		</svg>
		<p class="text-muted text-small">
			{#if line.broken}{preferences.say(line.broken.why, stoich)}
			{:else if known < 2}Can’t be followed: too little is logged.
			{:else}Follows{known < line.links.length ? ', as far as it is logged' : ''}.{/if}
		</p>
	</div>
	{#each pairs as p (p.to)}
		<div class="cell" class:cell-broken={p.state === 'broken'}>
			<p class="head">
				<Mark
					state={p.state === 'broken'
						? 'fix'
						: p.state === 'follows'
							? 'pass'
							: p.state === 'missing'
								? 'not-checked'
								: 'note'}
					bare
					size={12}
				/>
				<span class={p.state === 'broken' ? 'text-fix font-semibold' : ''}>{heading(p)}</span>
				{#if p.state !== 'missing'}<span class="key" title={p.expected ? `dashed: ${p.expected.title}` : ''}
						>{p.got.title}</span
					>{/if}
			</p>
			{#if p.state === 'missing'}
				<p class="none">
					<span
						>{p.missing}
						{#if p.asks.length}<a class="underline" href="{plan}?add={p.asks.join(',')}">Ask for it</a
							>{/if}</span
					>
				</p>
			{:else}
				<Plot
					lines={lines(p)}
					{domain}
					leastSpan={span(p)}
					decimals={decimals(p)}
					label={label(p)}
					apart={p.state === 'broken'
						? {
								from: line.broken?.from ?? domain[0],
								to: line.broken?.to ?? domain[1],
								tone: 'fix'
							}
						: null}
				/>
			{/if}
		</div>
	{/each}
</section>

<style>
	.row {
		display: grid;
		grid-template-columns: 184px repeat(3, minmax(0, 1fr));
		gap: 0 20px;
		border-bottom: 1px solid var(--line);
		scroll-margin-top: 170px;
	}
	.what {
		padding: 10px 0 8px;
	}
	.name {
		font-size: 15px;
		font-variant-caps: normal;
		letter-spacing: 0;
		color: var(--ink);
	}
	.cell {
		min-width: 0;
		padding: 7px 8px 4px;
		border: 1px solid transparent;
	}
	.cell-broken {
		border-color: var(--fix);
		background: var(--sheet);
	}
	.head {
		display: flex;
		align-items: center;
		gap: 6px;
		margin-bottom: 2px;
		overflow: hidden;
		font-size: 13px;
		white-space: nowrap;
	}
	.key {
		min-width: 0;
		margin-left: auto;
		overflow: hidden;
		font-size: 12px;
		color: var(--muted);
		text-overflow: ellipsis;
	}
	.none {
		display: grid;
		place-items: center;
		height: 104px;
		padding: 0 16px;
		border: 1px dashed var(--line);
		font-size: 13px;
		text-align: center;
		color: var(--muted);
	}
	.edge {
		stroke: var(--strong-line);
		stroke-width: 1.75;
		fill: none;
	}
	.snapped {
		stroke: var(--fix);
	}
	.known {
		fill: var(--ink);
	}
	.unknown {
		fill: var(--paper);
		stroke: var(--strong-line);
		stroke-width: 1.5;
		stroke-dasharray: 2 2;
	}
</style>
