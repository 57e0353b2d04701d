/**
 * `log.vehicle`: is this a log of this car? What the log shows of engine and gearbox against the vehicle's sheet. One contradiction may
 * be a wrong entry or a broken sensor; two don't happen by chance.
 */
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { derived } from '../../logfile/columns.ts';
import { deadTimeMs } from '../../evidence/dead-time.ts';
import { median } from '../../stats/stats.ts';
import { bankCount, fuelStoich, gearRatios } from '../../vehicle/facts.ts';
import { finding, found, heldHigh, medianWhere, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { list, marked } from '../../format.ts';

const HOLD_S = 0.3;
/** An engine overshoots its limiter by less than this. */
const OVER_LIMIT_RPM = 400;
const IDLE_S = 5;
/** An idle this far from the stated one (share) is another engine's. */
const IDLE_OFF = 0.2;
/** In a gear engine speed goes with road speed this well (share); a converter slips by more. */
const GEAR_OFF = 0.025;
const CONVERTER_OFF = 0.06;
/** Tyres and speedometers are off by at most this share, the same in all gears. */
const TYRE_OFF = 0.06;
/** Below this share of the driving inside the stated gears the gearbox is another one. */
const IN_GEARS = 0.75;
const GEAR_SAMPLES = 200;
const COUNTED_S = 3;
const BIN = 0.01;
const MOVING_KMH = 20;
/** Air that moves over what the displacement swallows: no engine fills itself less or more. */
const FILLING = [0.5, 1.4] as const;
const GAS_CONSTANT = 0.28705;

/** What contradicts the sheet: what the log shows, and what is stated. Each is there only where it does. */
type Facts = {
	boostedKpa?: number;
	neverAboveKpa?: number;
	stated?: 'turbo' | 'supercharged';
	manifoldKpa?: number;
	sensorEndKpa?: number;
	topRpm?: number;
	limitRpm?: number;
	idlesRpm?: number;
	idleRpm?: number;
	inGearsPct?: number;
	topCylinder?: number;
	cylinders?: number;
	secondBank?: boolean;
	filledPct?: number;
	filledBy?: Air;
	litres?: number;
};

/** What the air of a cylinder was told by. */
type Air = 'airmass' | 'maf' | 'pulse';
const AIR_WORDS: Record<Air, string> = {
	airmass: 'the logged air mass is',
	maf: 'the air meter shows',
	pulse: 'by pulse width, injectors and mixture the engine gets'
};

function contradictions(f: Facts): string[] {
	return [
		...(f.boostedKpa === undefined
			? []
			: [
					`the manifold reaches ${marked(f.boostedKpa, 'kPa abs', 0)}, and the engine is stated as aspirated`
				]),
		...(f.neverAboveKpa === undefined
			? []
			: [
					`the manifold never gets above ${marked(f.neverAboveKpa, 'kPa abs', 0)} in a pull, and the engine is stated as ${f.stated === 'turbo' ? 'turbocharged' : 'supercharged'}`
				]),
		...(f.manifoldKpa === undefined
			? []
			: [
					`the manifold reaches ${marked(f.manifoldKpa, 'kPa abs', 0)}, and its sensor is stated to end at ${marked(f.sensorEndKpa!, 'kPa abs')}`
				]),
		...(f.topRpm === undefined
			? []
			: [`the engine turns ${Math.round(f.topRpm)} rpm, and its limit is stated as ${f.limitRpm}`]),
		...(f.idlesRpm === undefined
			? []
			: [`it idles at ${Math.round(f.idlesRpm)} rpm, and ${Math.round(f.idleRpm!)} rpm are stated`]),
		...(f.inGearsPct === undefined
			? []
			: [
					`engine speed against road speed fits the stated gears in only ${Math.round(f.inGearsPct)} % of the driving`
				]),
		...(f.topCylinder === undefined
			? []
			: [`cylinder ${f.topCylinder} is logged, and ${f.cylinders} are stated`]),
		...(f.secondBank ? ['a second bank of injectors is logged, and one bank is stated'] : []),
		...(f.filledPct === undefined
			? []
			: [`${AIR_WORDS[f.filledBy!]} ${Math.round(f.filledPct)} % of the air that ${f.litres} l take in`])
	];
}

export const logVehicle = check({
	code: 'log.vehicle',
	title: 'Vehicle',
	section: 'fit',
	advice: 'log',
	doubts: ['everything'],
	units: {
		boostedKpa: 'kPa',
		neverAboveKpa: 'kPa',
		manifoldKpa: 'kPa',
		sensorEndKpa: 'kPa',
		topRpm: 'rpm',
		limitRpm: 'rpm',
		idlesRpm: 'rpm',
		idleRpm: 'rpm',
		inGearsPct: '%',
		topCylinder: 'cylinder',
		cylinders: 'cylinders',
		filledPct: '%',
		litres: 'l'
	},
	run(input) {
		const { frame } = input;
		if (!frame.has('rpm')) return notChecked('engine speed is not logged', 'rpm');
		const judged = [aspiration, pressures, revLimit, idle, gears, cylinders, banks, filling].map((test) =>
			test(input)
		);
		const known = judged.filter((j) => j !== null);
		const against = known.filter((j) => j !== 'fits');
		if (known.length === 0)
			return notChecked(
				'nothing in the log can be held against the vehicle',
				'full throttle, idle and road speed'
			);
		if (against.length === 0) return pass(`${known.length} facts of the vehicle's sheet fit the log.`);
		const other = against.length > 1;
		return found(
			finding(input, {
				severity: other ? 'stop' : 'watch',
				facts: Object.assign({}, ...against) as Facts,
				value: against.length,
				limit: other ? 1 : 0,
				unit: 'contradictions',
				channels: ['rpm', 'map', 'speed', 'maf']
			})
		);
	},
	words: ({ facts }: Told<Facts>) => {
		const against = contradictions(facts);
		const other = against.length > 1;
		return {
			title: other ? 'This is not this car' : 'One fact of the vehicle does not fit the log',
			summary: `Against the vehicle's sheet: ${list(against)}.`,
			causes: other
				? ['a log of another car', 'the log was sent to the wrong job', 'parts that the sheet does not know']
				: [
						'an entry of the vehicle that is wrong or old',
						'a sensor that reads wrong',
						'a log of another car'
					],
			next: other
				? ['ask which car this log is of; nothing is judged or proposed from it until then']
				: ["check this entry of the vehicle's sheet"]
		};
	}
});

/** What contradicts the vehicle; `null` where nothing tells. */
type Test = (input: Prepared) => Facts | 'fits' | null;

/** Pressure above the atmosphere, by the manifold's own reading with the engine standing where there is one. */
const aspiration: Test = ({ frame, segments, vehicle, profile }) => {
	const map = frame.get('map');
	if (!map || segments.loaded.length === 0) return null;
	const still = medianWhere(map, (i) => (segments.flags[i]! & FLAG.standing) !== 0, 5);
	const air = Math.max(segments.baroKpa, Number.isFinite(still) ? still : 0);
	if (vehicle.engine.aspiration === 'na') {
		const { level, at } = heldHigh(frame, map, HOLD_S, segments.loaded);
		if (at < 0) return null;
		return level > air + profile.boostedAboveBaroKpa ? { boostedKpa: level } : 'fits';
	}
	if (segments.pulls.length === 0 || frame.has('boostTarget')) return null;
	const { level, at } = heldHigh(frame, map, HOLD_S, segments.pulls);
	if (at < 0) return null;
	const stated = vehicle.engine.aspiration === 'turbo' ? 'turbo' : 'supercharged';
	return level < air + NO_BOOST_KPA ? { neverAboveKpa: level, stated } : 'fits';
};
const NO_BOOST_KPA = 5;

const pressures: Test = ({ frame, segments, vehicle }) => {
	const map = frame.get('map');
	const end = vehicle.sensors?.mapFullScaleKpa;
	if (!map || end === undefined) return null;
	const { level, at } = heldHigh(frame, map, HOLD_S, segments.running);
	if (at < 0) return null;
	return level > end * 1.03 ? { manifoldKpa: level, sensorEndKpa: end } : 'fits';
};

const revLimit: Test = ({ frame, segments, vehicle }) => {
	const { level, at } = heldHigh(frame, frame.get('rpm')!, HOLD_S, segments.running);
	const limit = vehicle.engine.revLimitRpm;
	if (at < 0) return null;
	return level > limit + OVER_LIMIT_RPM ? { topRpm: level, limitRpm: limit } : 'fits';
};

const idle: Test = ({ frame, segments, vehicle }) => {
	const stated = vehicle.engine.idleRpm;
	const throttle = frame.first('pedal', 'tps');
	const speed = frame.get('speed');
	if (stated === undefined || !throttle || !speed) return null;
	const rpm = frame.get('rpm')!;
	const closed = Math.min(12, frame.bounds(frame.has('pedal') ? 'pedal' : 'tps')!.min) + 3;
	const barred = FLAG.warmup | FLAG.start | FLAG.standing;
	const level = medianWhere(
		rpm,
		(i) =>
			throttle[i]! <= closed &&
			speed[i]! < 3 &&
			rpm[i]! > 350 &&
			rpm[i]! < 2500 &&
			!(segments.flags[i]! & barred),
		Math.ceil(IDLE_S / frame.stepS)
	);
	if (!Number.isFinite(level)) return null;
	return Math.abs(level / stated - 1) > IDLE_OFF ? { idlesRpm: level, idleRpm: stated } : 'fits';
};

const gears: Test = ({ frame, segments, vehicle, log }) => {
	const ratios = gearRatios(vehicle);
	const speed = frame.get('speed');
	const channel = log.channels.find((c) => c.id === 'speed');
	// A speed whose unit nobody knows proves nothing.
	if (!ratios || !speed || channel?.undecided) return null;
	const rpm = frame.get('rpm')!;
	// Told without the gear of a sample: that is found by the very ratios that are in question.
	const barred =
		FLAG.standing | FLAG.shift | FLAG.spin | FLAG.launch | FLAG.overrun | FLAG.limiter | FLAG.transient;
	// By bins of the ratio, none of them with more than a few seconds: an hour in one gear tells no more of the gearbox than a minute.
	const most = Math.ceil(COUNTED_S / frame.stepS);
	const bins = new Map<number, number>();
	let n = 0;
	for (let i = 0; i < frame.length; i++) {
		const f = segments.flags[i]!;
		if (f & barred || !(rpm[i]! > segments.idleRpm + 300) || !(speed[i]! > MOVING_KMH)) continue;
		n++;
		const bin = Math.round(Math.log(rpm[i]! / speed[i]!) / BIN);
		bins.set(bin, Math.min(most, (bins.get(bin) ?? 0) + 1));
	}
	if (n < GEAR_SAMPLES) return null;
	const seen = [...bins].map(([bin, count]) => ({ ratio: Math.exp(bin * BIN), count }));
	const total = seen.reduce((s, b) => s + b.count, 0);
	const within = vehicle.transmission?.type === 'automatic' ? CONVERTER_OFF : GEAR_OFF;
	let best = 0;
	for (let tyre = 1 - TYRE_OFF; tyre <= 1 + TYRE_OFF + 1e-9; tyre += 0.01) {
		let fits = 0;
		for (const { ratio, count } of seen)
			if (ratios.some((r) => Math.abs((ratio * tyre) / r - 1) <= within)) fits += count;
		if (fits > best) best = fits;
	}
	const share = best / total;
	return share < IN_GEARS ? { inGearsPct: 100 * share } : 'fits';
};

/** Channels by cylinder that move. */
const cylinders: Test = ({ frame, vehicle }) => {
	const numbers = frame.ids.flatMap((id) => {
		const n = Number(/\.cyl(\d+)$/.exec(id)?.[1]);
		const { min, max } = n ? frame.bounds(id)! : { min: 0, max: 0 };
		return n && max > min ? [n] : [];
	});
	if (numbers.length === 0) return null;
	const top = Math.max(...numbers);
	const stated = vehicle.engine.cylinders;
	return top > stated ? { topCylinder: top, cylinders: stated } : 'fits';
};

const banks: Test = ({ frame, vehicle }) => {
	const second = ['stft.b2', 'pw.b2'].filter((id) => {
		const { min, max } = frame.bounds(id) ?? { min: 0, max: 0 };
		return max > min;
	});
	if (second.length === 0) return null;
	return bankCount(vehicle) === 1 ? { secondBank: true } : 'fits';
};

/** Air of a cylinder, by whatever tells of it, over what its displacement takes in at this pressure and temperature. */
const filling: Test = (input) => {
	const { frame, segments, vehicle } = input;
	const litres = vehicle.engine.displacementL;
	const [map, iat] = [frame.get('map'), frame.get('iat')];
	const air = cylinderAir(input);
	if (!litres || !air || !map) return null;
	const rpm = frame.get('rpm')!;
	const share = derived(air.grams, (g, i) => {
		const kelvin = 273.15 + (iat && iat[i] === iat[i] ? iat[i]! : 25);
		return (g * GAS_CONSTANT * kelvin * vehicle.engine.cylinders) / (map[i]! * litres);
	});
	const steady = FLAG.loaded | FLAG.cruise;
	const values: number[] = [];
	for (let i = 0; i < frame.length; i++)
		if (segments.flags[i]! & steady && rpm[i]! > 1200 && share[i]! > 0) values.push(share[i]!);
	if (values.length < GEAR_SAMPLES) return null;
	const level = median(values);
	return level < FILLING[0] || level > FILLING[1]
		? { filledPct: 100 * level, filledBy: air.by, litres }
		: 'fits';
};

/**
 * Air per cylinder and cycle, g: as logged, by the air meter, or by the fuel that the stated injectors gave and the mixture that came
 * of it (pulse-width times flow times lambda; the injector's pressure taken as rated).
 */
function cylinderAir(input: Prepared): { grams: Float32Array; by: Air } | null {
	const { frame, vehicle, believed, segments } = input;
	const rpm = frame.get('rpm')!;
	const moves = (id: string) => {
		const { min, max } = frame.bounds(id) ?? { min: 0, max: 0 };
		return max > min;
	};
	const airmass = frame.get('airmass');
	if (airmass && moves('airmass')) return { grams: airmass, by: 'airmass' };
	const maf = frame.get('maf');
	if (maf && moves('maf'))
		return {
			grams: derived(maf, (v, i) => (v * 120) / (rpm[i]! * vehicle.engine.cylinders)),
			by: 'maf'
		};
	const pulse = frame.first('pw.b1', 'pw.b2');
	const lambda = believed.banks.find((b) => b !== null);
	const { flowCcMin, injectionsPerCycle = 1 } = vehicle.injectors ?? {};
	if (!pulse || !lambda || !flowCcMin || vehicle.engine.injection === 'direct') return null;
	const dead = deadTimeMs(vehicle);
	const gramsPerMs = (flowCcMin * PETROL_G_CC) / 60_000;
	const stoich = fuelStoich(vehicle);
	return {
		grams: derived(
			pulse,
			(pw, i) => Math.max(0, pw - dead) * injectionsPerCycle * gramsPerMs * lambda[i]! * stoich,
			segments.loaded
		),
		by: 'pulse'
	};
}
const PETROL_G_CC = 0.745;
