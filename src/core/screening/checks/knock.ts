/**
 * `knock.real`, `knock.blips`, `knock.unclear`: the same episodes, told apart by shape. Severity by the peak while loaded, one step
 * lower where the engine wasn't loaded, or where the same comes without load.
 */
import { finding, found, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { findMap } from '../../calibration/lookup.ts';
import { AxisFinder } from '../../calibration/grid.ts';
import { axisChannel, axisShownUnit } from '../../calibration/axes.ts';
import { PROVED } from '../../evidence/knock/proved.ts';
import type { JudgedEpisode, KnockShape } from '../../evidence/knock/shape.ts';
import type { About, Check } from '../check.ts';
import { grade, rank, SEVERITIES, type Severity } from '../types.ts';
import type { Profile } from '../../limits/profile.ts';
import { fixed, marked, plural, quantity } from '../../format.ts';

const TITLES: Record<KnockShape, string> = {
	real: 'Knock that climbs: real',
	blips: 'Scattered short knock: looks false, unproved',
	unclear: 'Knock of no clear shape: treated as real'
};

const CAUSES: Record<KnockShape, string[]> = {
	real: [
		'too much timing for this fuel, air temperature and boost',
		'hot intake air',
		'fuel of a lower octane than stated',
		'a lean or hot cylinder'
	],
	blips: [
		'noise from valve gear, blower or mounts that the sensor takes for knock',
		'a loose part of the exhaust or a heat shield',
		'light real knock that comes and goes'
	],
	unclear: ['light real knock', 'noise tied to a speed or a gear', 'fuel of a lower octane than stated']
};

const NEXT: Record<KnockShape, string[]> = {
	real: [
		'take timing out where the retard rises',
		'check fuel and intake air before anything is added',
		'never desensitise the sensor'
	],
	blips: [
		'repeat the same pull richer or with 2° less timing: if the retard falls it is real',
		'with the tank low, raise the octane and repeat',
		'leave the sensor as sensitive as it is'
	],
	unclear: ['take timing out as if it were real', 'repeat the same pull and compare']
};

export const knockReal = knockCheck('knock.real', 'real', {
	title: 'Knock',
	section: 'knock',
	told: { timing: { down: 'it knocked there' }, fuel: { up: 'it knocked there' } },
	leads: true,
	doubts: ['timing'],
	readiness: { item: 'Knock', against: (_, p) => `under ${p.knockWatchDeg}° of retard` }
});
export const knockBlips = knockCheck('knock.blips', 'blips', {
	title: 'Blips',
	section: 'knock'
});
export const knockUnclear = knockCheck('knock.unclear', 'unclear', {
	title: 'Unclear retard',
	section: 'knock',
	told: { timing: { down: 'the engine was holding timing back there' } },
	leads: true,
	doubts: ['timing']
});

function severityOf(e: JudgedEpisode, limits: Profile): Severity | null {
	const by =
		grade(
			e.peakDeg,
			{ watch: limits.knockWatchDeg, fix: limits.knockFixDeg, stop: limits.knockStopDeg },
			'from'
		)?.severity ?? null;
	if (by === null || (e.loaded && !e.control)) return by;
	return SEVERITIES[rank(by) + 1]!;
}

/** Cell of the timing table in which an episode peaked; nothing when it can't be told. */
function timingCell(
	input: Pick<Prepared, 'calibration' | 'frame' | 'segments'>,
	e: JudgedEpisode
): Pick<Facts, 'cellAt' | 'cellUnits'> {
	const table = input.calibration && findMap(input.calibration, 'spark.table');
	if (!table) return {};
	const at = [table.x, table.y].map((axis) => {
		const v = axisChannel(input.frame, axis, input.segments.baroKpa)?.[e.peakAt];
		return v === undefined || !Number.isFinite(v)
			? null
			: axis.points[new AxisFinder(axis.points).nearest(v)]!;
	});
	const [x, y] = at;
	if (x === null || y === null) return {};
	return { cellAt: [x!, y!], cellUnits: [axisShownUnit(table.x), axisShownUnit(table.y)] };
}

/** The worst of the episodes of a shape. */
type Facts = {
	retardDeg: number;
	episodes: number;
	loaded: boolean;
	/** What its shape was told by, or the proof that it is noise. */
	because: string;
	proved?: boolean;
	/** It comes back in one cell, without climbing. */
	repeats?: boolean;
	rpm?: number;
	mapKpa?: number;
	airmassG?: number;
	sparkDeg?: number;
	/** Cell of the timing table, along and up, and the units of both. */
	cellAt?: number[];
	cellUnits?: string[];
};

function where({ rpm, mapKpa, airmassG, sparkDeg, cellAt, cellUnits }: Facts): string {
	const parts = [
		...(rpm === undefined ? [] : [`${Math.round(rpm)} rpm`]),
		...(mapKpa === undefined ? [] : [marked(mapKpa, 'kPa abs')]),
		...(airmassG === undefined ? [] : [`${fixed(airmassG, 2)} g per cylinder`]),
		...(sparkDeg === undefined ? [] : [`${fixed(sparkDeg, 1)}° timing`]),
		...(cellAt ? [`timing cell ${cellAt.map((v, i) => quantity(v, cellUnits?.[i] ?? '')).join(' / ')}`] : [])
	];
	return parts.length ? ` at ${parts.join(', ')}` : '';
}

function knockCheck<const C extends string>(code: C, shape: KnockShape, about: About): Check<C, Facts> {
	return {
		code,
		...about,
		units: {
			retardDeg: '°',
			episodes: 'times',
			rpm: 'rpm',
			mapKpa: 'kPa',
			airmassG: 'g',
			sparkDeg: '°',
			cellAt: ''
		},
		run(input) {
			const { knock, profile, segments } = input;
			if (knock === null) return notChecked('no knock channel is logged', 'knockRetard');
			if (segments.loaded.length === 0 && knock.length === 0) return NEVER_LOADED;
			const graded = knock
				.filter((e) => e.shape === shape)
				.flatMap((e): { e: JudgedEpisode; severity: Severity }[] => {
					const severity = severityOf(e, profile);
					return severity ? [{ e, severity: e.proved ? 'note' : severity }] : [];
				});
			if (graded.length === 0) {
				const most = knock.reduce((m, e) => Math.max(m, e.peakDeg), 0);
				return pass(
					knock.length === 0
						? 'Retard stayed below half a degree all through the log.'
						: `No episode of this shape from ${profile.knockWatchDeg}° on (highest of any shape ${fixed(most, 1)}°).`
				);
			}
			// What is proved speaks only where nothing else of this shape is there.
			const open = graded.filter((g) => !g.e.proved);
			const counted = open.length ? open : graded;
			const top = counted.reduce((a, b) =>
				rank(b.severity) < rank(a.severity) || (b.severity === a.severity && b.e.peakDeg > a.e.peakDeg)
					? b
					: a
			);
			const { e, severity } = top;
			const limit =
				severity === 'stop'
					? profile.knockStopDeg
					: severity === 'fix'
						? profile.knockFixDeg
						: profile.knockWatchDeg;
			return found(
				finding(input, {
					severity,
					facts: {
						retardDeg: e.peakDeg,
						episodes: counted.length,
						loaded: e.loaded,
						because: e.proved ?? (e.control ? `${e.because}; ${e.control}` : e.because),
						...(e.proved ? { proved: true } : {}),
						...(e.repeats ? { repeats: true } : {}),
						rpm: e.rpm,
						mapKpa: e.mapKpa,
						airmassG: e.airmassG,
						sparkDeg: e.sparkDeg,
						...timingCell(input, e)
					},
					value: e.peakDeg,
					limit,
					unit: '°',
					...(e.cylinder > 0 ? { cylinder: e.cylinder } : {}),
					...(e.proved ? { kind: PROVED } : {}),
					runs: counted.map((g) => ({ from: g.e.from, to: g.e.to })),
					channels: [
						'knockRetard',
						...(e.cylinder ? [`knockRetard.cyl${e.cylinder}`] : []),
						'spark',
						'rpm',
						'map',
						'airmass'
					]
				})
			);
		},
		words: ({ facts, cylinder }) => ({
			title: facts.proved
				? 'Knock proved false here: noise'
				: facts.repeats
					? 'Knock that repeats: real'
					: TITLES[shape],
			summary: `${fixed(facts.retardDeg, 1)}° pulled${where(facts)}${cylinder ? `, cylinder ${cylinder}` : ''}; ${plural(facts.episodes, 'episode')}${facts.loaded ? '' : ', not loaded'}: ${facts.because}.`,
			causes: facts.proved ? [] : CAUSES[shape],
			next: facts.proved ? ['nothing: the proof holds while shape and size stay as they were'] : NEXT[shape]
		})
	};
}
