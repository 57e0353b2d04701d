/** What a healthy vehicle shows in a log: measured once, kept with the vehicle, held against every later log. */
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { median } from '../stats/stats.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { heldHigh, medianWhere } from './measure.ts';

export type Baselines = NonNullable<Vehicle['baselines']>;

/** Half of the band round the coolant at warm idle, °C: a thermostat and its fan move about this much. */
const COOLANT_BAND_C = 8;
const IDLE_S = 5;
const BOOST_BIN_RPM = 500;
const THROTTLE_HOLD_S = 0.3;

/** The baselines that this log can tell of; what it can't tell is missing. */
export function measuredBaselines(input: Prepared): Baselines {
	const { frame, segments, vehicle } = input;
	const out: Baselines = {};
	const least = Math.ceil(IDLE_S / frame.stepS);
	const idle = (i: number) => (segments.flags[i]! & (FLAG.idle | FLAG.warmup | FLAG.start)) === FLAG.idle;
	const map = frame.get('map');
	const ect = frame.get('ect');
	const idleMap = map ? medianWhere(map, idle, least) : Number.NaN;
	if (Number.isFinite(idleMap)) out.idleMapKpa = Math.round(idleMap * 10) / 10;
	const coolant = ect ? medianWhere(ect, idle, least) : Number.NaN;
	if (Number.isFinite(coolant))
		out.coolantIdleC = [Math.round(coolant - COOLANT_BAND_C), Math.round(coolant + COOLANT_BAND_C)];
	if (segments.baroFrom === 'barometer channel' || segments.baroFrom === 'manifold with the engine standing')
		out.ambientPressureKpa = Math.round(segments.baroKpa * 10) / 10;
	const tps = frame.get('tps');
	if (tps && segments.loaded.length) {
		const open = heldHigh(frame, tps, THROTTLE_HOLD_S, segments.loaded);
		if (open.level >= 50) out.fullThrottlePct = Math.round(open.level * 10) / 10;
	}
	if (vehicle.engine.aspiration !== 'na' && map) {
		const boost = boostByRpm(input, map);
		if (boost.length > 1) out.boostKpa = boost;
	}
	return out;
}

/** Of all pulls the highest mean pressure per 500 rpm, from where a pull has come within 10 kPa of its own top. */
function boostByRpm({ frame, segments }: Prepared, map: Float32Array): [number, number][] {
	const rpm = frame.get('rpm');
	if (!rpm) return [];
	const best = new Map<number, number>();
	for (const pull of segments.pulls) {
		let top = 0;
		for (let i = pull.from; i <= pull.to; i++) if (map[i]! > top) top = map[i]!;
		let from = pull.from;
		while (from < pull.to && map[from]! < top - 10) from++;
		const bins = new Map<number, number[]>();
		for (let i = from; i <= pull.to; i++) {
			const at = Math.round(rpm[i]! / BOOST_BIN_RPM) * BOOST_BIN_RPM;
			const list = bins.get(at);
			if (list) list.push(map[i]!);
			else bins.set(at, [map[i]!]);
		}
		for (const [at, values] of bins) {
			if (values.length < 3) continue;
			const middle = median(values);
			if (!(middle <= (best.get(at) ?? 0))) best.set(at, middle);
		}
	}
	return [...best].sort((a, b) => a[0] - b[0]).map(([at, kpa]) => [at, Math.round(kpa)]);
}

export const BASELINE_TITLES: Record<keyof Baselines, string> = {
	coolantIdleC: 'Coolant at warm idle, °C',
	idleMapKpa: 'Manifold pressure at idle, kPa',
	ambientPressureKpa: 'Air pressure at home, kPa',
	fullThrottlePct: 'Throttle, fully open, %',
	boostKpa: 'Boost by engine speed, kPa absolute'
};

/** A baseline as a reader sees it. */
export function baselineText(value: Baselines[keyof Baselines] | undefined): string {
	if (value === undefined) return 'none';
	if (typeof value === 'number') return String(value);
	if (!Array.isArray(value)) return '';
	const list = value as (number | [number, number])[];
	return list.every((v): v is number => typeof v === 'number')
		? list.join(' to ')
		: (list as [number, number][]).map(([rpm, kpa]) => `${kpa} at ${rpm}`).join(', ');
}
