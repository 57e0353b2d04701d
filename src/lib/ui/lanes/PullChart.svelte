<script lang="ts">
	/** One pull over engine speed: the curve that a tuner reads first. */
	import type { PullCurves } from '$core/evidence/segments/pull-curves';
	import { usePreferences } from '../preferences.svelte';
	import LaneStack from './LaneStack.svelte';
	import { ENGINE_SPEED } from './scale';
	import type { Lane, Series } from './types';

	let {
		pull,
		stoich,
		height = 58,
		against = null
	}: {
		pull: PullCurves;
		stoich: number;
		height?: number;
		/** Another pull, drawn behind in grey. */
		against?: PullCurves | null;
	} = $props();
	const preferences = usePreferences();

	function series(name: string, label: string, unit: string, tone: Series['tone'], dashed = false): Series[] {
		const of = (p: PullCurves | null, tone: Series['tone'], label: string): Series[] => {
			const values = p?.curves[name];
			if (!p || !values) return [];
			const y = values.map((v) => (v === null ? null : preferences.shown(v, unit, stoich).value));
			return [{ label, x: p.rpm, y, tone, dashed }];
		};
		return [...of(against, 'old', `${label}, the other`), ...of(pull, tone, label)];
	}
	function lane(
		id: string,
		title: string,
		unit: string,
		list: Series[],
		minSpan: number,
		floor?: number,
		tall = height
	): Lane[] {
		if (list.length === 0) return [];
		const s = preferences.shown(1, unit, stoich);
		return [
			{
				id,
				title,
				unit: s.unit,
				decimals: unit === '%' ? 0 : s.decimals,
				series: list,
				minSpan,
				height: tall,
				...(floor === undefined ? {} : { floor })
			}
		];
	}
	/** A line along zero says what it has to say in little room. */
	const QUIET_PX = 40;
	const knocks = $derived(
		[pull, against].some((p) => p?.curves['knock']?.some((v) => v !== null && Math.abs(v) >= 0.1))
	);
	const lanes = $derived<Lane[]>([
		...lane(
			'mixture',
			'Mixture',
			'λ',
			[
				...series('target', 'target', 'λ', 'first', true),
				...series('lambda1', pull.curves['lambda2'] ? 'bank 1' : 'measured', 'λ', 'second'),
				...series('lambda2', 'bank 2', 'λ', 'third')
			],
			preferences.units.mixture === 'lambda' ? 0.08 : 1
		),
		...lane(
			'knock',
			'Knock retard',
			'°',
			series('knock', 'pulled', '°', 'second'),
			4,
			0,
			knocks ? height : QUIET_PX
		),
		...lane('spark', 'Timing', '°', series('spark', 'final', '°', 'first'), 6),
		...lane(
			'map',
			'Pressure',
			'kPa abs',
			[
				...series('boostTarget', 'set point', 'kPa abs', 'first', true),
				...series('map', 'manifold', 'kPa abs', 'second')
			],
			preferences.shown(20, 'kPa').value
		),
		...lane('tps', 'Throttle', '%', series('tps', 'opening', '%', 'first'), 100, 0)
	]);
	const ends = $derived(
		[pull, ...(against ? [against] : [])].map((p) => [p.rpm[0] ?? 0, p.rpm.at(-1) ?? 1000] as const)
	);
	const min = $derived(Math.floor(Math.min(...ends.map((e) => e[0])) / 500) * 500);
	const max = $derived(Math.ceil(Math.max(...ends.map((e) => e[1])) / 500) * 500);
</script>

<LaneStack
	{lanes}
	{min}
	{max}
	axis={ENGINE_SPEED}
	label="Pull over engine speed: {lanes.map((l) => l.title).join(', ')}"
/>
