/**
 * The level of each item of the readiness sheet in one log, and the band that an item keeps over the logs in which the car was well. A limit says
 * what no engine stands; the band says what this one does when nothing is wrong with it.
 */
import { dutyFromPulse } from '../evidence/duty.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { derived } from '../logfile/columns.ts';
import { median } from '../stats/stats.ts';
import type { CheckCode } from './codes.ts';
import { heldHigh, heldLow, medianWhere } from './measure.ts';

export const LEVEL_IDS = [
	'coolant',
	'oilTemp',
	'transTemp',
	'intakeOver',
	'oilPressure',
	'fuelPressure',
	'volts',
	'idleMap',
	'trims',
	'duty',
	'mixture'
] as const;
export type LevelId = (typeof LEVEL_IDS)[number];
export type Levels = Partial<Record<LevelId, number>>;

interface LevelKind {
	title: string;
	/** Canonical unit; `by` marks a difference, which has no offset in other units. */
	unit: string;
	by?: true;
	decimals: number;
	/** Line of the readiness sheet that it belongs to. */
	check: CheckCode;
	/** No band is narrower than this to either side: weather, fuel and a driver move it so far. Own choice. */
	least: number;
	/** NaN where the log doesn't say. */
	of: (input: Prepared) => number;
}

const HOLD_S = 2;
const PULL_HOLD_S = 0.5;
const ENOUGH = 20;

const held =
	(id: string): LevelKind['of'] =>
	({ frame, segments }) => {
		const v = frame.get(id);
		return v ? heldHigh(frame, v, HOLD_S, segments.running).level : Number.NaN;
	};
const loaded = ({ segments }: Prepared) => segments.loaded;

export const LEVEL_KINDS: Record<LevelId, LevelKind> = {
	coolant: {
		title: 'Highest coolant',
		unit: '°C',
		decimals: 0,
		check: 'temp.coolant',
		least: 4,
		of: held('ect')
	},
	oilTemp: {
		title: 'Highest oil temperature',
		unit: '°C',
		decimals: 0,
		check: 'temp.oil',
		least: 5,
		of: held('oilTemp')
	},
	transTemp: {
		title: 'Highest gearbox temperature',
		unit: '°C',
		decimals: 0,
		check: 'temp.trans',
		least: 6,
		of: held('transTemp')
	},
	intakeOver: {
		title: 'Intake air over the coldest of the log, under load',
		unit: '°C',
		by: true,
		decimals: 0,
		check: 'temp.intake',
		least: 6,
		of: (input) => {
			const iat = input.frame.get('iat');
			const low = input.frame.bounds('iat')?.min;
			return iat && low !== undefined
				? heldHigh(input.frame, iat, PULL_HOLD_S, loaded(input)).level - low
				: Number.NaN;
		}
	},
	oilPressure: {
		title: 'Least oil pressure per 1000 rpm under load',
		unit: 'kPa',
		decimals: 0,
		check: 'oil.pressure',
		least: 10,
		of: (input) => {
			const { frame } = input;
			const [oil, rpm] = [frame.get('oilPressure'), frame.get('rpm')];
			if (!oil || !rpm) return Number.NaN;
			const per = derived(oil, (v, i) => (rpm[i]! > 0 ? (1000 * v) / rpm[i]! : Number.NaN));
			return heldLow(frame, per, PULL_HOLD_S, loaded(input)).level;
		}
	},
	fuelPressure: {
		title: 'Least fuel pressure under load',
		unit: 'kPa',
		decimals: 0,
		check: 'supply.pressure',
		least: 10,
		of: (input) => {
			const v = input.frame.get('fuelPressure');
			return v ? heldLow(input.frame, v, PULL_HOLD_S, loaded(input)).level : Number.NaN;
		}
	},
	volts: {
		title: 'Supply while running',
		unit: 'V',
		decimals: 2,
		check: 'volt.supply',
		least: 0.2,
		of: ({ frame, segments }) => {
			const v = frame.get('vbat');
			return v
				? medianWhere(v, (i) => !(segments.flags[i]! & (FLAG.standing | FLAG.start)), ENOUGH)
				: Number.NaN;
		}
	},
	idleMap: {
		title: 'Manifold pressure at warm idle',
		unit: 'kPa abs',
		decimals: 1,
		check: 'idle.vacuum',
		least: 2,
		of: ({ frame, segments }) => {
			const v = frame.get('map');
			return v
				? medianWhere(v, (i) => (segments.flags[i]! & (FLAG.idle | FLAG.warmup)) === FLAG.idle, ENOUGH)
				: Number.NaN;
		}
	},
	trims: {
		title: 'Trims together, mean of the banks, cruising',
		unit: '%',
		by: true,
		decimals: 1,
		check: 'trim.level',
		least: 2,
		of: ({ frame, segments }) => {
			const banks = [1, 2].flatMap((b) => {
				const [s, l] = [frame.get(`stft.b${b}`), frame.get(`ltft.b${b}`)];
				const any = s ?? l;
				if (!any) return [];
				const sum = derived(any, (_, i) => (s?.[i] ?? 0) + (l?.[i] ?? 0));
				return [medianWhere(sum, (i) => (segments.flags[i]! & FLAG.cruise) !== 0, ENOUGH)];
			});
			const there = banks.filter((v) => v === v);
			return there.length ? there.reduce((a, b) => a + b, 0) / there.length : Number.NaN;
		}
	},
	duty: {
		title: 'Highest injector duty',
		unit: '%',
		decimals: 0,
		check: 'inj.duty',
		least: 4,
		of: (input) => {
			const v = dutyFromPulse(input) ?? input.frame.get('injDuty');
			return v ? heldHigh(input.frame, v, PULL_HOLD_S, loaded(input)).level : Number.NaN;
		}
	},
	mixture: {
		title: 'Mixture against its target in the pulls, leanest bank',
		unit: '%',
		by: true,
		decimals: 1,
		check: 'fuel.lean',
		least: 1.5,
		of: ({ believed, target, segments }) => {
			const banks = believed.banks.flatMap((lambda) => {
				if (!lambda || !target.values) return [];
				const off = derived(lambda, (v, i) => 100 * (v / target.values![i]! - 1));
				const m = medianWhere(off, (i) => (segments.flags[i]! & FLAG.pull) !== 0, ENOUGH);
				return m === m ? [m] : [];
			});
			return banks.length ? Math.max(...banks) : Number.NaN;
		}
	}
};

/** Levels of a log; those that it doesn't tell are missing. */
export function levelsOf(input: Prepared): Levels {
	const out: Levels = {};
	for (const id of LEVEL_IDS) {
		const v = LEVEL_KINDS[id].of(input);
		if (Number.isFinite(v)) out[id] = Number(v.toPrecision(6));
	}
	return out;
}

export interface Band {
	low: number;
	high: number;
	/** Logs that it stands on. */
	logs: number;
}

/** From so many logs on the spread of all of them is taken, before that the last three. */
const MANY = 10;
const LAST = 3;
/** Median absolute deviation to standard deviation of a normal spread; three of them are the band. */
const MAD_TO_SD = 1.4826;
const BAND_SD = 3;

/**
 * The band that an item keeps by itself: median ± spread of ten or more logs; else of the last three their middle ± their range.
 * @param history levels of logs in which the car was well, the newest last
 * @returns null with fewer than three
 */
export function bandOf(id: LevelId, history: readonly number[]): Band | null {
	const { least } = LEVEL_KINDS[id];
	if (history.length < LAST) return null;
	const used = history.length >= MANY ? history : history.slice(-LAST);
	const middle = median([...used]);
	const spread =
		history.length >= MANY
			? BAND_SD * MAD_TO_SD * median(used.map((v) => Math.abs(v - middle)))
			: Math.max(...used) - Math.min(...used);
	const half = Math.max(least, spread);
	return { low: middle - half, high: middle + half, logs: used.length };
}

/** From so many vehicles of its kind on they tell what is normal for it. */
export const LEAST_VEHICLES = 5;

/**
 * What vehicles of its kind keep, each by the median of its own healthy logs: the middle of the vehicles ± three of their spread.
 * @param vehicles levels of the healthy logs of each vehicle
 * @returns null with fewer than five vehicles
 */
export function kindBandOf(id: LevelId, vehicles: readonly (readonly number[])[]): Band | null {
	const own = vehicles.filter((v) => v.length > 0).map((v) => median([...v]));
	if (own.length < LEAST_VEHICLES) return null;
	const middle = median([...own]);
	const spread = BAND_SD * MAD_TO_SD * median(own.map((v) => Math.abs(v - middle)));
	const half = Math.max(LEVEL_KINDS[id].least, spread);
	return { low: middle - half, high: middle + half, logs: own.length };
}

export interface OwnLevel {
	id: LevelId;
	title: string;
	unit: string;
	by: boolean;
	decimals: number;
	check: CheckCode;
	value: number;
	band: Band | null;
	/** Of vehicles of its kind (`logs` counts vehicles), where it has no band of its own. */
	kind: Band | null;
	/** Outside of its own band. */
	out: boolean;
}

/**
 * Each level of a log against its own band, else beside that of its kind, which decides nothing.
 * @param history levels of earlier logs in which the car was well, the newest last
 * @param kin the same of other vehicles of its kind, one list a vehicle
 */
export function againstOwn(
	levels: Levels,
	history: readonly Levels[],
	kin: readonly (readonly Levels[])[] = []
): OwnLevel[] {
	return LEVEL_IDS.flatMap((id): OwnLevel[] => {
		const value = levels[id];
		if (value === undefined) return [];
		const { title, unit, by = false, decimals, check } = LEVEL_KINDS[id];
		const band = bandOf(
			id,
			history.flatMap((h) => h[id] ?? [])
		);
		const out = band !== null && (value < band.low || value > band.high);
		const kind = band
			? null
			: kindBandOf(
					id,
					kin.map((v) => v.flatMap((h) => h[id] ?? []))
				);
		return [{ id, title, unit, by, decimals, check, value, band, kind, out }];
	});
}
