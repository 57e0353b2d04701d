/**
 * `supply.pressure`: pressure over the injector while loaded against what it should be: the base pressure where the regulator follows
 * the manifold, base less boost where it follows the atmosphere, the target of a controlled rail. Flow goes with its square root.
 */
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { spearman } from '../../stats/stats.ts';
import { derived } from '../../logfile/columns.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, medianWhere, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { grade } from '../types.ts';
import { fixed, signed } from '../../format.ts';

const HOLD_S = 0.3;
const PUMP_END_PCT = 95;
const FOLLOWS_FLOW = 0.7;
const FLOW_SAMPLES = 20_000;

/** Shortfall in percent per sample (positive = missing), or why it can't be told. */
export function pressureShortfall(
	input: Prepared
): { values: Float32Array; channels: string[] } | { reason: string; missing: string } {
	const { frame, vehicle, segments } = input;
	const { pressureReference, basePressureKpa } = vehicle.injectors ?? {};
	if (!pressureReference)
		return {
			reason: 'it is not stated what the fuel pressure follows',
			missing: 'vehicle: injectors.pressureReference'
		};
	if (pressureReference === 'controlled') {
		const rail = frame.get('railPressure');
		const target = frame.get('railTarget');
		if (!rail) return { reason: 'rail pressure is not logged', missing: 'railPressure' };
		if (!target) return { reason: 'the target of the rail pressure is not logged', missing: 'railTarget' };
		return {
			values: derived(rail, (v, i) => 100 * (1 - v / target[i]!)),
			channels: ['railPressure', 'railTarget']
		};
	}
	const fuel = frame.first('fuelPressure', 'railPressure');
	const map = frame.get('map');
	if (!fuel) return { reason: 'fuel pressure is not logged', missing: 'fuelPressure' };
	if (!map) return { reason: 'manifold pressure is not logged', missing: 'map' };
	if (!basePressureKpa)
		return { reason: 'the base pressure is not stated', missing: 'vehicle: injectors.basePressureKpa' };
	const baro = segments.baroKpa;
	const expected = (i: number) =>
		pressureReference === 'manifold' ? basePressureKpa : basePressureKpa - (map[i]! - baro);
	return {
		values: derived(fuel, (v, i) => 100 * (1 - (v + baro - map[i]!) / expected(i))),
		channels: [frame.has('fuelPressure') ? 'fuelPressure' : 'railPressure', 'map']
	};
}

/** Rank correlation of the shortfall with the air that goes through, while loaded: near 1 where the pressure sinks with flow. */
function withFlow({ frame }: Prepared, values: Float32Array, loaded: (i: number) => boolean): number {
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	if (!rpm) return Number.NaN;
	const air: number[] = [];
	const short: number[] = [];
	for (let i = 0; i < frame.length && air.length < FLOW_SAMPLES; i++)
		if (loaded(i)) {
			air.push(rpm[i]! * (map ? map[i]! : 1));
			short.push(values[i]!);
		}
	return spearman(air, short);
}

type Facts = {
	shortPct: number;
	rpm?: number;
	/** Short at low flow, where it is known. */
	idlePct?: number;
	/** It sinks with flow; else it is low everywhere. */
	sinks: boolean;
	pumpAtEnd: boolean;
};

export const supplyPressure = check({
	code: 'supply.pressure',
	title: 'Fuel pressure',
	section: 'supply',
	leads: true,
	advice: 'repair',
	doubts: ['injectors'],
	needs: ['pressure'],
	readiness: {
		item: 'Fuel pressure',
		against: (_, p) => `at most ${p.pressureWatchPct} % short under load`
	},
	units: { shortPct: '%', rpm: 'rpm', idlePct: '%' },
	run(input) {
		const { frame, segments, profile } = input;
		const short = pressureShortfall(input);
		if ('reason' in short) return notChecked(short.reason, short.missing);
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const { values, channels } = short;
		const loaded = (i: number) => (segments.flags[i]! & FLAG.loaded) !== 0;
		const top = heldHigh(frame, values, HOLD_S, segments.loaded);
		if (top.at < 0) return notChecked('the pressure channels hold no values under load', channels[0]!);
		const graded = grade(top.level, {
			watch: profile.pressureWatchPct,
			fix: profile.pressureFixPct,
			stop: profile.pressureStopPct
		});
		if (!graded)
			return pass(
				`Pressure over the injector within ${signed(-top.level)} % of what it should be under load.`
			);
		const idle = medianWhere(
			values,
			(i) => !loaded(i) && !(segments.flags[i]! & (FLAG.start | FLAG.overrun)),
			20
		);
		const sinks =
			top.level - idle > profile.pressureWatchPct / 2 || withFlow(input, values, loaded) > FOLLOWS_FLOW;
		const pump = frame.get('fuelPumpDuty');
		const pumpAtEnd = pump !== null && pump[top.at]! >= PUMP_END_PCT;
		const rpm = frame.get('rpm');
		return found(
			finding(input, {
				severity: graded.severity,
				facts: {
					shortPct: top.level,
					...(rpm ? { rpm: rpm[top.at]! } : {}),
					idlePct: idle,
					sinks,
					pumpAtEnd
				},
				value: -top.level,
				limit: -graded.limit,
				unit: '%',
				runs: stretches(frame, HOLD_S, (i) => loaded(i) && values[i]! > profile.pressureWatchPct, 0.2),
				channels: [...channels, 'fuelPumpDuty', 'rpm']
			})
		);
	},
	words: ({ facts: { shortPct, rpm, idlePct, sinks, pumpAtEnd } }: Told<Facts>) => {
		const flow = 100 * (1 - Math.sqrt(Math.max(0, 1 - shortPct / 100)));
		return {
			title: `Fuel pressure ${fixed(shortPct, 0)} % short under load`,
			summary: [
				`The pressure over the injector is ${fixed(shortPct, 0)} % below what it should be${rpm === undefined ? '' : ` at ${Math.round(rpm)} rpm`}, which takes ${fixed(flow, 0)} % of its flow.`,
				...(idlePct === undefined
					? []
					: [sinks ? 'It sinks with flow.' : `It is low at low flow too (${signed(-idlePct)} %).`]),
				...(pumpAtEnd ? ['The pump is at its end.'] : [])
			].join(' '),
			causes: sinks
				? ['filter', 'a pump at its end, or its wiring', 'lines too thin for this flow']
				: ['the regulator, or what is set as its base pressure', 'the sensor or its scaling'],
			next: [
				'no more load until the pressure holds',
				'measure with a gauge; pump, filter, voltage at the pump'
			]
		};
	}
});
