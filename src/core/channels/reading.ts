/**
 * A column read as a channel: in which unit, judged by what is written and by the range of its values. A range that no unit explains
 * contradicts the channel.
 */
import { fixed } from '../format.ts';
import { channelKind, CHANNELS, type ChannelKind } from './canonical.ts';
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

/** A unit that the values contradict, and the one they fit. */
export interface Contradiction {
	written: string;
	read: string;
}

/** A reading that only a person can decide: the units that fit, the one that was taken first. */
export interface Undecided {
	readings: { unit: string; low: number; median: number; high: number }[];
}

/** A column as a channel. */
export interface Reading {
	contradiction: Contradiction | null;
	undecided: Undecided | null;
	channel: string;
	unit: Unit;
	conversion: Conversion;
	note: string;
}

export interface RecogniseContext {
	gaugeStoich: number;
	/** Barometer that gauge pressures stand on where the log has none, kPa. */
	baroKpa: number;
	/** The engine's displacement and the engine speed per road speed of each gear, as far as the vehicle states them. */
	displacementL?: number | undefined;
	rpmPerKmh?: readonly number[] | undefined;
}

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

export function fits(
	kind: ChannelKind,
	facts: ColumnFacts,
	c: Conversion,
	range?: [number, number]
): boolean {
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
	if (unit.gauge && ABSOLUTE.has(kind.id)) notes.push(`gauge pressure + ${fixed(context.baroKpa, 1)} kPa`);
	if (notes.length === 0 && (unit.scale !== 1 || unit.offset !== 0)) notes.push(`converted from ${unit.id}`);
	return notes.join('; ') || (kind.quantity === 'text' ? 'kept as text' : '');
}

/** The reading of `facts` as channel `id`, or `null` when unit or range contradict it. */
export function readAs(
	id: string,
	facts: ColumnFacts,
	context: RecogniseContext,
	forcedUnit: string | null = null
): Reading | null {
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
	if (forcedUnit !== null) return forced(id, context, unitById(forcedUnit));
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

/** The reading of a column as channel `id` in a unit that was chosen for it. */
export function forced(id: string, context: RecogniseContext, unit: Unit): Reading {
	const kind = channelKind(id);
	return {
		channel: id,
		unit,
		conversion: conversionFor(kind, unit, context),
		note: describe(unit, kind, context),
		contradiction: null,
		undecided: null
	};
}

/** The reading of a column without a unit in the canonical unit of its channel; `null` where it has one, or its values are none of that. */
export function inCanonicalUnit(id: string, facts: ColumnFacts, context: RecogniseContext): Reading | null {
	const kind = channelKind(id);
	if (facts.unit.trim() !== '' || kind.quantity === 'text') return null;
	const unit = unitById(GUESSES[kind.quantity]?.[0] ?? canonicalUnitId(kind));
	return fits(kind, facts, conversionFor(kind, unit, context)) ? forced(id, context, unit) : null;
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
export const LIKELY: Record<string, { units: [string, string]; low: number; high: number }> = {
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
): Reading | null {
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

/** `°` may be an angle or half a temperature, `g` a mass, `#`/`count` anything counted, and a level up to 100 is a percentage to many. */
function spelledAlike(unit: Unit, kind: ChannelKind): boolean {
	return (
		unit.quantity === 'count' ||
		(unit.id === '°' && kind.quantity === 'temperature') ||
		(unit.id === '%' && kind.quantity === 'level')
	);
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

/** A column with the channel that it is. */
export interface Recognised extends Reading {
	source: 'recognised' | 'assigned';
	/** How good the match is; the best column for a channel wins. */
	score: number;
}
