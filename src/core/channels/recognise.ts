/**
 * Which canonical channel a raw column is: by its name, its unit and the range of its values together.
 * A name that the range contradicts is not believed.
 */
import { CHANNELS, MAX_CYLINDERS, type ChannelKind } from './canonical.ts';
import { conversionOf, parseUnit, unitById, UNITS, type Conversion, type Unit } from '../units/units.ts';

/** What recognition needs to know of a column. */
export interface ColumnFacts {
	name: string;
	unit: string;
	min: number;
	max: number;
	median: number;
	/** Share of cells that held text, 0–1. */
	textShare: number;
}

/** A decision made by hand, remembered for the customer's later exports. */
export interface Assignment {
	/** Canonical id, or `null` to leave the column out. */
	channel: string | null;
	/** Unit id, or `null` to infer it. */
	unit: string | null;
}

/** A unit that the values contradict, and the one they fit. */
export interface Contradiction {
	written: string;
	read: string;
}

/** A reading that only a person can decide: the units that fit, the one that was taken first. */
export interface Undecided {
	readings: { unit: string; low: number; median: number; high: number }[];
}

export interface Recognised {
	contradiction: Contradiction | null;
	undecided: Undecided | null;
	channel: string;
	unit: Unit;
	conversion: Conversion;
	note: string;
	source: 'recognised' | 'assigned';
	/** How good the match is; the best column for a channel wins. */
	score: number;
}

export interface RecogniseContext {
	gaugeStoich: number;
	baroKpa: number;
}

/** Columns that identify people or places stay in the received file and nowhere else. */
export function isPrivate(name: string): boolean {
	return /\b(vin|gps|latitude|longitude|lat|lon|lng|serial|driver|owner|phone)\b/.test(plain(name));
}

/** Lower case words: camelCase and digits split off, punctuation as blanks. */
export function plain(name: string): string {
	return name
		.replace(/([a-z])([A-Z])/g, '$1 $2')
		.toLowerCase()
		.replace(/[_\-./#:,;()[\]]+/g, ' ')
		.replace(/([a-zλ])(\d)/g, '$1 $2')
		.replace(/\s+/g, ' ')
		.trim();
}

interface Rule {
	id: string;
	name: RegExp;
	not?: RegExp;
	/** Extra certainty for names that can hardly mean anything else. */
	sure?: boolean;
}

const TARGET = /\b(target|desired|commanded|command|cmd|set ?point|request(ed)?|demand|aim|goal|wanted)\b/;
const AVERAGE = /\b(average|avg|mean)\b/;
const CORRECTION =
	/\b(trim|correction|corr|error|err|diff|delta|limit|max|min|raw|volt(s|age)?|status|enable[d]?|active|flag|table|cell|index)\b/;

const RULES: Rule[] = [
	{
		id: 'time',
		name: /^(time|timestamp|t|elapsed( time)?|seconds|secs?|clock|(record|log) time)$/,
		sure: true
	},
	{
		id: 'rpm',
		name: /\b(rpm|engine speed|revs|crank(shaft)? speed|n engine)\b/,
		not: /\b(limit|launch|turbo|shaft|wheel|turbine|shift|output|input|cut|max)\b/
	},
	{
		id: 'map',
		name: /\b(map|manifold( absolute)?( air)?( press(ure)?)?|inlet press(ure)?|intake press(ure)?|boost( press(ure)?)?)\b/,
		not: /\b(temp(erature)?|index|select|number|duty|solenoid|error|fuel|spark|ignition|control)\b/
	},
	{ id: 'baro', name: /\b(baro(meter|metric)?|atmospheric|ambient press(ure)?)\b/ },
	{ id: 'tps', name: /\b(tps|throttle)\b/, not: /\b(pedal|accel(erator)?)\b/ },
	{ id: 'pedal', name: /\b(pedal|accelerator|app|pps)\b/, not: /\b(brake|clutch)\b/ },
	{
		id: 'speed',
		name: /\b((vehicle|road|ground|car|wheel) speed|vss|speed)\b/,
		not: /\b(engine|turbo|shaft|fan|crank|turbine|idle)\b/
	},
	{ id: 'gear', name: /\b(gear|current gear)\b/, not: /\b(ratio|box|temp(erature)?)\b/ },
	{
		id: 'iat',
		name: /\b(iat|intake (air )?temp(erature)?|inlet (air )?temp(erature)?|charge (air )?temp(erature)?|mat|manifold (air )?temp(erature)?|air temp(erature)?)\b/,
		not: /\b(ambient|outside)\b/
	},
	{
		id: 'ect',
		name: /\b(ect|clt|coolant( temp(erature)?)?|water temp(erature)?|engine temp(erature)?)\b/,
		not: /\b(press(ure)?|level|fan)\b/
	},
	{
		id: 'oilTemp',
		name: /\b(oil temp(erature)?|engine oil temp(erature)?)\b/,
		not: /\b(trans(mission)?|gearbox|diff)\b/
	},
	{ id: 'oilPressure', name: /\boil press(ure)?\b/, not: /\b(trans(mission)?|gearbox)\b/ },
	{ id: 'transTemp', name: /\b(trans(mission)?|gearbox)( oil| fluid)? temp(erature)?\b/ },
	{ id: 'ecuTemp', name: /\b(ecu|controller|board|pcm|ecm) temp(erature)?\b/ },
	{ id: 'ambientTemp', name: /\b(ambient|outside|weather)( air)? temp(erature)?\b/ },
	{ id: 'vbat', name: /\b(batt(ery)?( volt(s|age)?)?|vbat|supply volt(s|age)?|system volt(s|age)?)\b/ },
	{ id: 'lambda.target', name: /\b(lambda|afr|mixture|air fuel( ratio)?|eq ratio)\b/ },
	{ id: 'lambda.dyno', name: /\bdyno (lambda|afr)\b/ },
	{
		id: 'lambda.ref',
		name: /\b((ref(erence)?|external|independent|tailpipe|collector|wideband|aux(iliary)?)( \w+)? (lambda|afr)|(lambda|afr) (ref(erence)?|external|independent|tailpipe|collector|aux(iliary)?)|wideband)\b/
	},
	{ id: 'lambda.b', name: /\b(lambda|afr|air fuel( ratio)?|o 2 lambda)\b/ },
	{
		id: 'stft.b',
		name: /\b(stft|short( term)?( fuel)? (trim|correction)|closed loop( fuel)? (correction|trim)|(lambda|o 2|ego) (correction|trim)|st fuel trim)\b/
	},
	{
		id: 'ltft.b',
		name: /\b(ltft|long( term)?( fuel)? (trim|correction)|learn(ed|t)?( fuel)? trim|adaptive( fuel)? trim|lt fuel trim)\b/
	},
	{
		id: 'pw.b',
		name: /\b(pw|ipw|pulse ?width|inj(ector|ection)?( effective)? (pulse( ?width)?|time|pw|duration|open time))\b/,
		not: /\b(dead|duty)\b/
	},
	{ id: 'injDuty', name: /\b((inj(ector)?|fuel)( \w+)? duty( cycle)?|idc)\b/, not: /\b(pump)\b/ },
	{ id: 'fuelPressure', name: /\bfuel press(ure)?\b/, not: /\brail\b/ },
	{ id: 'railPressure', name: /\b(fuel )?rail press(ure)?\b/ },
	{ id: 'railTarget', name: /\b(fuel )?rail press(ure)?\b/ },
	{ id: 'boostTarget', name: /\b(boost|map|manifold)( press(ure)?)?\b/ },
	{ id: 'exhaustPressure', name: /\b(exhaust|turbine inlet|back) ?press(ure)?\b/ },
	{
		id: 'maf',
		name: /\b(maf|mass air( flow)?|air ?mass flow|air ?flow( meter)?)\b/,
		not: /\b(model|ve|speed density|freq(uency)?|per cyl|volts?|estimated)\b/
	},
	{ id: 'mafFrequency', name: /\b(maf|mass air( flow)?|air meter|air ?flow) freq(uency)?\b/ },
	{
		id: 'airflowModel',
		name: /\b((ve|model(led)?|speed density|estimated) (air ?flow|air ?mass flow)|air ?flow (ve|model(led)?))\b/
	},
	{
		id: 'airmass',
		name: /\b(cyl(inder)? (air ?mass|air ?charge|airflow)|air ?mass( per cyl(inder)?)?|air charge|charge per cyl(inder)?|load air ?mass)\b/,
		not: /\bflow\b/
	},
	{
		id: 'sparkBase',
		name: /\b(base|map|table) (spark|timing|ignition)|\b(spark|timing|ignition)( advance| angle| timing)? (base|table)\b/
	},
	{
		id: 'spark',
		name: /\b(spark|ignition|timing)( (advance|angle|timing|final|total))*\b/,
		not: /\b(retard|knock|trim|correction|base|cyl|dwell|cut|table)\b/
	},
	{
		id: 'knockRetard',
		name: /\bknock( \w+)? (retard|correction|pull|learn)|\b(kr|knock retard|knock)\b/,
		not: /\b(advance|monitor|level|volt(s|age)?|count|noise|threshold|sens(or|itivity)?|learn(ed|t)?)\b/
	},
	{ id: 'knockAdvance', name: /\bknock( \w+)? advance\b/ },
	{
		id: 'knockMonitor',
		name: /\b(knock (monitor|level)|(independent|external) knock|det(onation)? monitor)\b/
	},
	{ id: 'ethanol', name: /\b(ethanol|flex( fuel)?|alcohol)( content| percent(age)?| pct)?\b/ },
	{ id: 'fuelFlowBase', name: /\bbase fuel( mass)? flow|fuel( mass)? flow base\b/ },
	{ id: 'nitrousFuel', name: /\bnitrous( \w+)? fuel|nitrous adder\b/ },
	{ id: 'nitrousDuty', name: /\bnitrous( \w+)? duty\b/ },
	{ id: 'fuelFlow', name: /\bfuel( mass)? flow\b/, not: /\bbase\b/ },
	{ id: 'camIntakeTarget', name: /\b(intake|inlet) (cam|vvt|valve)( \w+)?\b/ },
	{ id: 'camIntake', name: /\b(intake|inlet) (cam|vvt)\b/ },
	{ id: 'camExhaust', name: /\bexhaust (cam|vvt)\b/ },
	{ id: 'wastegateDuty', name: /\b(wastegate|boost (control|solenoid))( \w+)?( duty)?\b/ },
	{ id: 'fuelPumpDuty', name: /\bfuel pump( \w+)? duty\b/ },
	{ id: 'syncErrors', name: /\b(sync|trigger)( \w+)? (error|loss)(es|s)?( count(er)?)?\b/ },
	{ id: 'torqueLimit', name: /\btorque (limit(ed|ing|er)?|intervention|reduction)\b/ },
	{ id: 'faultCodes', name: /\b(fault|trouble|error) codes?\b|\bdtcs?\b/ },
	{
		id: 'torque',
		name: /\b(engine |wheel |brake )?torque\b/,
		not: /\b(limit(ed|ing|er)?|intervention|reduction|converter)\b/
	},
	{ id: 'power', name: /\b(engine |wheel |brake )?(power|horsepower)\b/ },
	{ id: 'calibrationId', name: /\b(calibration|tune|map)( \w+)? (id|name|number|version|revision)\b/ }
];

/** Channels whose name must carry a word for "target". */
const TARGETS = new Set(['lambda.target', 'boostTarget', 'railTarget', 'camIntakeTarget']);

/** Units a column without a written unit may be in, in the order in which they are tried. */
const GUESSES: Partial<Record<string, string[]>> = {
	pressure: ['kPa', 'bar', 'psi', 'bar gauge', 'psi gauge', 'inHg'],
	temperature: ['°C', '°F'],
	lambda: ['λ', 'AFR'],
	speed: ['km/h', 'mph'],
	pulseWidth: ['ms', 'µs'],
	time: ['s'],
	airmass: ['g', 'mg']
};

/** Where the middle of a healthy log lies; narrower than what is possible, used only to choose between units. */
const TYPICAL: Record<string, [low: number, high: number]> = {
	map: [20, 400],
	boostTarget: [60, 450],
	baro: [60, 110],
	ect: [-20, 118],
	iat: [-25, 90],
	oilTemp: [-20, 150],
	oilPressure: [80, 900],
	ambientTemp: [-25, 48],
	'lambda.target': [0.6, 1.3],
	'lambda.b1': [0.6, 1.6],
	fuelPressure: [150, 800],
	railPressure: [250, 30000],
	'pw.b1': [0.3, 40],
	airmass: [0.05, 3]
};

function typical(id: string): [number, number] | undefined {
	return (
		TYPICAL[id] ??
		(id.startsWith('lambda.') ? TYPICAL['lambda.b1'] : undefined) ??
		(id.startsWith('pw.') ? TYPICAL['pw.b1'] : undefined)
	);
}

/** Canonical ids that the name could mean, best first. */
export function candidatesByName(rawName: string): { id: string; score: number }[] {
	if (CHANNELS.has(rawName)) return [{ id: rawName, score: 100 }];
	const text = plain(rawName);
	const target = TARGET.test(text);
	const cyl = /\b(?:cyl(?:inder)?|no) ?(\d{1,2})\b/.exec(text) ?? null;
	const bank =
		/\b(?:bank|b|sensor|s|lambda|afr|side) ?([12])\b/.exec(text)?.[1] ??
		/\b(?:[a-z]+) ([12])$/.exec(text)?.[1] ??
		null;
	const found: { id: string; score: number }[] = [];
	for (const rule of RULES) {
		const m = rule.name.exec(text);
		if (!m || rule.not?.test(text)) continue;
		if (TARGETS.has(rule.id) !== target && !['calibrationId', 'torqueLimit'].includes(rule.id)) continue;
		let id = rule.id;
		let score = 10 + m[0].length;
		if (rule.sure) score += 20;
		if (AVERAGE.test(text)) score -= 30;
		if (id.endsWith('.b')) {
			if (id === 'lambda.b' && cyl) id = `lambda.cyl${cyl[1]}`;
			else {
				if (id === 'lambda.b' && CORRECTION.test(text)) continue;
				id = `${id}${bank ?? '1'}`;
				if (!bank) score -= 2;
			}
		} else if (id === 'lambda.ref' && bank === '2' && !/bank/.test(text)) id = 'lambda.ref2';
		else if (id === 'knockRetard' && cyl) id = `knockRetard.cyl${cyl[1]}`;
		if (/\.cyl(\d+)$/.test(id) && Number(/\d+$/.exec(id)![0]) > MAX_CYLINDERS) continue;
		found.push({ id, score });
	}
	if (cyl && Number(cyl[1]) >= 1 && Number(cyl[1]) <= MAX_CYLINDERS) {
		if (/\bmisfires?\b/.test(text)) found.push({ id: `misfire.cyl${cyl[1]}`, score: 30 });
		if (/\b(egt|exhaust( gas)? temp(erature)?)\b/.test(text))
			found.push({ id: `egt.cyl${cyl[1]}`, score: 30 });
	}
	return found.sort((a, b) => b.score - a.score);
}

function fits(kind: ChannelKind, facts: ColumnFacts, c: Conversion, range?: [number, number]): boolean {
	if (!Number.isFinite(facts.median)) return true; // nothing to contradict
	const lowest = c.scale * facts.min + c.offset;
	const highest = c.scale * facts.max + c.offset;
	const middle = c.scale * facts.median + c.offset;
	if (range) return middle >= range[0] && middle <= range[1];
	// Single wild samples are for the sensor check, not for the unit: the middle must fit, the ends roughly.
	const slack = (kind.max - kind.min) * 0.5;
	return (
		middle >= kind.min && middle <= kind.max && lowest >= kind.min - slack && highest <= kind.max + slack
	);
}

function describe(unit: Unit, kind: ChannelKind, context: RecogniseContext): string {
	const notes: string[] = [];
	if (unit.afr) notes.push(`AFR ÷ ${context.gaugeStoich} (the gauge's stoich)`);
	if (unit.gauge && ABSOLUTE.has(kind.id)) notes.push(`gauge pressure + ${context.baroKpa.toFixed(1)} kPa`);
	if (notes.length === 0 && (unit.scale !== 1 || unit.offset !== 0)) notes.push(`converted from ${unit.id}`);
	return notes.join('; ') || (kind.quantity === 'text' ? 'kept as text' : '');
}

/** The reading of `facts` as channel `id`, or `null` when unit or range contradict it. */
export function readAs(
	id: string,
	facts: ColumnFacts,
	context: RecogniseContext,
	forcedUnit: string | null = null
): Omit<Recognised, 'score' | 'source'> | null {
	const kind = CHANNELS.get(id);
	if (!kind) return null;
	if (kind.quantity === 'text')
		return {
			channel: id,
			unit: unitById('count'),
			conversion: { scale: 1, offset: 0 },
			note: 'kept as text',
			contradiction: null,
			undecided: null
		};
	if (forcedUnit !== null) {
		const unit = unitById(forcedUnit);
		return {
			channel: id,
			unit,
			conversion: conversionFor(kind, unit, context),
			note: describe(unit, kind, context),
			contradiction: null,
			undecided: null
		};
	}
	const written = parseUnit(facts.unit);
	const related = written && (written.quantity === kind.quantity || spelledAlike(written, kind));
	if (facts.unit && written && !related) return null;
	const options: Unit[] = [];
	if (written && written.quantity === kind.quantity) options.push(...meantBy(written, facts, kind));
	const hadUnit = options.length > 0;
	if (!hadUnit) {
		const open = undecidedUnits(id, kind, facts, context);
		if (open) return open;
	}
	for (const guess of GUESSES[kind.quantity] ?? [canonicalUnitId(kind)]) {
		const u = unitById(guess);
		if (!options.includes(u)) options.push(u);
	}
	const range = typical(id);
	for (const [i, unit] of options.entries()) {
		const conversion = conversionFor(kind, unit, context);
		const asWritten = hadUnit && i === 0;
		if (!fits(kind, facts, conversion, asWritten ? undefined : range)) continue;
		if (!fits(kind, facts, conversion)) continue;
		const notes = [describe(unit, kind, context)];
		if (!asWritten && hadUnit) notes.push(`${facts.unit} contradicts the values: read as ${unit.id}`);
		else if (!hadUnit && options.length > 1) notes.push(`no unit given: read as ${unit.id} by its range`);
		return {
			channel: id,
			unit,
			conversion,
			note: notes.filter(Boolean).join('; '),
			contradiction: !asWritten && hadUnit ? { written: facts.unit, read: unit.id } : null,
			undecided: null
		};
	}
	return null;
}

/** Nothing absolute is below zero: a pressure that goes negative was written as gauge pressure, whatever its unit says. */
function meantBy(written: Unit, facts: ColumnFacts, kind: ChannelKind): Unit[] {
	const gauge = kind.quantity === 'pressure' && !written.gauge && facts.min * written.scale < -2;
	const other = gauge && ABSOLUTE.has(kind.id) ? `${written.id} gauge` : null;
	return other && UNITS.some((u) => u.id === other) ? [unitById(other)] : [written];
}

/** Pressures that are absolute in canonical units; all others are over the atmosphere, and a gauge's zero is theirs. */
const ABSOLUTE = new Set(['map', 'baro', 'boostTarget', 'exhaustPressure']);

function conversionFor(kind: ChannelKind, unit: Unit, context: RecogniseContext): Conversion {
	return conversionOf(unit, context.gaugeStoich, ABSOLUTE.has(kind.id) ? context.baroKpa : 0);
}

/**
 * Where the middle of a log of a warm engine lies, for columns without a unit that two units could fit. Narrow on purpose: what
 * is outside for both, or inside for both, is decided by the other columns of the file, or by a person.
 */
const LIKELY: Record<string, { units: [string, string]; low: number; high: number }> = {
	ect: { units: ['°C', '°F'], low: 65, high: 118 },
	oilTemp: { units: ['°C', '°F'], low: 65, high: 140 },
	transTemp: { units: ['°C', '°F'], low: 45, high: 115 },
	iat: { units: ['°C', '°F'], low: -5, high: 55 },
	ambientTemp: { units: ['°C', '°F'], low: -15, high: 42 },
	ecuTemp: { units: ['°C', '°F'], low: 15, high: 75 },
	oilPressure: { units: ['kPa', 'psi'], low: 180, high: 650 },
	speed: { units: ['km/h', 'mph'], low: 0, high: 450 }
};

/** The reading of a column without a unit that two units may fit; `null` where only one does, or the channel has no such doubt. */
function undecidedUnits(
	id: string,
	kind: ChannelKind,
	facts: ColumnFacts,
	context: RecogniseContext
): Omit<Recognised, 'score' | 'source'> | null {
	const doubt = LIKELY[id];
	if (!doubt || !Number.isFinite(facts.median)) return null;
	const readings = doubt.units.flatMap((u) => {
		const unit = unitById(u);
		const conversion = conversionFor(kind, unit, context);
		return fits(kind, facts, conversion) ? [{ unit, conversion }] : [];
	});
	if (readings.length < 2) return null;
	const at = (r: (typeof readings)[number], v: number) => r.conversion.scale * v + r.conversion.offset;
	const likely = readings.filter((r) => {
		const middle = at(r, facts.median);
		return middle >= doubt.low && middle <= doubt.high;
	});
	const first = likely[0] ?? readings[0]!;
	const decided = likely.length === 1;
	return {
		channel: id,
		unit: first.unit,
		conversion: first.conversion,
		note: [
			describe(first.unit, kind, context),
			decided
				? `no unit given: read as ${first.unit.id} by its range`
				: `no unit given: ${doubt.units.join(' or ')}, taken as ${first.unit.id}`
		]
			.filter(Boolean)
			.join('; '),
		contradiction: null,
		undecided: decided
			? null
			: {
					readings: readings.map((r) => ({
						unit: r.unit.id,
						low: at(r, facts.min),
						median: at(r, facts.median),
						high: at(r, facts.max)
					}))
				}
	};
}

/** Units that speak for a system; pressures in kPa or psi stand in files of either kind and speak for none. */
const SPEAKS = { metric: new Set(['°C', 'km/h']), imperial: new Set(['°F', 'mph']) };
const METRIC = new Set(['°C', 'km/h', 'kPa']);
const IMPERIAL = new Set(['°F', 'mph', 'psi']);

/** One program writes one system of units: what a column leaves open is read like the columns of the file that leave nothing open. */
function decideBySystem(
	columns: readonly ColumnFacts[],
	found: (Recognised | null)[],
	context: RecogniseContext
): void {
	let metric = 0;
	let imperial = 0;
	for (const r of found) {
		if (!r || r.undecided || r.unit.afr || r.channel === 'speed') continue;
		if (SPEAKS.metric.has(r.unit.id)) metric++;
		else if (SPEAKS.imperial.has(r.unit.id)) imperial++;
	}
	// One column of the other system is enough to leave it open.
	const system = imperial === 0 && metric > 0 ? METRIC : metric === 0 && imperial > 0 ? IMPERIAL : null;
	if (!system) return;
	found.forEach((r, i) => {
		const reading = r?.undecided?.readings.find((o) => system.has(o.unit));
		if (!r || !reading) return;
		const forced = readAs(r.channel, columns[i]!, context, reading.unit)!;
		found[i] = {
			...r,
			...forced,
			note: [forced.note, `no unit given: read as ${reading.unit} like the rest of the file`]
				.filter(Boolean)
				.join('; ')
		};
	});
}

/** `°` may be an angle or half a temperature, `g` a mass, `#`/`count` anything counted. */
function spelledAlike(unit: Unit, kind: ChannelKind): boolean {
	return unit.quantity === 'count' || (unit.id === '°' && kind.quantity === 'temperature');
}

function canonicalUnitId(kind: ChannelKind): string {
	switch (kind.quantity) {
		case 'engineSpeed':
			return 'rpm';
		case 'percent':
			return '%';
		case 'voltage':
			return 'V';
		case 'massFlow':
			return 'g/s';
		case 'angle':
			return '°';
		case 'frequency':
			return 'Hz';
		case 'torque':
			return 'Nm';
		case 'power':
			return 'kW';
		case 'volumeFlow':
			return 'cc/min';
		case 'level':
			return 'level';
		default:
			return 'count';
	}
}

/**
 * Recognises all columns together: every canonical channel goes to at most one column, the best match first.
 * @param remembered decisions by raw name and unit (`assignmentKey`), which win over recognition
 * @returns one entry per column, `null` where nothing fits
 */
export function recogniseColumns(
	columns: readonly ColumnFacts[],
	context: RecogniseContext,
	remembered: ReadonlyMap<string, Assignment> = new Map()
): (Recognised | null)[] {
	const result: (Recognised | null)[] = columns.map(() => null);
	const taken = new Set<string>();
	const decided = new Set<number>();
	columns.forEach((facts, i) => {
		const byHand = remembered.get(assignmentKey(facts.name, facts.unit));
		if (!byHand) return;
		decided.add(i);
		if (byHand.channel === null || taken.has(byHand.channel)) return;
		const reading =
			readAs(byHand.channel, facts, context, byHand.unit) ??
			readAs(byHand.channel, { ...facts, unit: '' }, context);
		if (!reading) return;
		taken.add(byHand.channel);
		result[i] = { ...reading, source: 'assigned', score: Infinity };
	});
	const options: { column: number; reading: Recognised }[] = [];
	columns.forEach((facts, i) => {
		if (decided.has(i) || isPrivate(facts.name)) return;
		for (const { id, score } of candidatesByName(facts.name)) {
			if (facts.textShare > 0.5 && CHANNELS.get(id)?.quantity !== 'text' && id !== 'time') continue;
			const reading = readAs(id, facts, context);
			if (reading) options.push({ column: i, reading: { ...reading, source: 'recognised', score } });
		}
	});
	options.sort((a, b) => b.reading.score - a.reading.score || a.column - b.column);
	for (const { column, reading } of options) {
		if (result[column] || taken.has(reading.channel)) continue;
		result[column] = reading;
		taken.add(reading.channel);
	}
	decideBySystem(columns, result, context);
	return result;
}

/** Under what a decision by hand is remembered: the same name with the same unit in a later export. */
export function assignmentKey(name: string, unit: string): string {
	return `${name.trim()}|${unit.trim()}`;
}
