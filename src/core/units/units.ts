/**
 * Units that logs and tables are written in, and their conversion into the one canonical unit of each quantity.
 *
 * Sources: the factors for psi, lb and mile are exact by definition (international pound and yard agreement,
 * standard gravity); inHg is the conventional value at 0 °C; lb/h follows from the pound.
 */

export type Quantity =
	| 'time'
	| 'engineSpeed'
	| 'pressure'
	| 'temperature'
	| 'percent'
	| 'lambda'
	| 'speed'
	| 'voltage'
	| 'massFlow'
	| 'airmass'
	| 'angle'
	| 'pulseWidth'
	| 'frequency'
	| 'torque'
	| 'power'
	| 'volumeFlow'
	| 'count'
	| 'level'
	| 'text';

/** Name of the canonical unit of each quantity; every stored value is in it. */
export const CANONICAL_UNIT: Readonly<Record<Quantity, string>> = {
	time: 's',
	engineSpeed: 'rpm',
	pressure: 'kPa',
	temperature: '°C',
	percent: '%',
	lambda: 'λ',
	speed: 'km/h',
	voltage: 'V',
	massFlow: 'g/s',
	airmass: 'g',
	angle: '°',
	pulseWidth: 'ms',
	frequency: 'Hz',
	torque: 'Nm',
	power: 'kW',
	volumeFlow: 'cc/min',
	count: '',
	level: '',
	text: ''
};

export interface Unit {
	/** How the unit is written to a reader. */
	readonly id: string;
	readonly quantity: Quantity;
	/** canonical = scale × value + offset. For AFR the scale is 1 / stoich and is filled in by the caller. */
	readonly scale: number;
	readonly offset: number;
	/** Relative to the atmosphere: the barometer has to be added. */
	readonly gauge?: true;
	/** An air-fuel ratio: has to be divided by the stoichiometric ratio the gauge was built for. */
	readonly afr?: true;
	/** Other spellings, lower case, without blanks. */
	readonly spellings: readonly string[];
}

export const KPA_PER_PSI = 6.894757;
export const KPA_PER_INHG = 3.386389;
export const KM_PER_MILE = 1.609344;
export const GS_PER_LBH = 0.1259979;

function unit(
	id: string,
	quantity: Quantity,
	scale: number,
	spellings: string,
	more: { offset?: number; gauge?: true; afr?: true } = {}
): Unit {
	const { offset = 0, ...flags } = more;
	return { id, quantity, scale, offset, spellings: spellings.split(' ').filter(Boolean), ...flags };
}

export const UNITS: readonly Unit[] = [
	unit('s', 'time', 1, 's sec secs second seconds'),
	unit('min', 'time', 60, 'min minutes'),
	unit('rpm', 'engineSpeed', 1, 'rpm 1/min min-1 r/min u/min rev/min'),
	unit('kPa', 'pressure', 1, 'kpa kpaa kpa(a) kpaabs'),
	unit('kPa gauge', 'pressure', 1, 'kpag kpa(g) kpagauge', { gauge: true }),
	unit('Pa', 'pressure', 0.001, 'pa'),
	unit('MPa', 'pressure', 1000, 'mpa'),
	unit('bar', 'pressure', 100, 'bar bara bar(a) barabs'),
	unit('bar gauge', 'pressure', 100, 'barg bar(g) bargauge', { gauge: true }),
	unit('mbar', 'pressure', 0.1, 'mbar hpa mbara mbar(a)'),
	unit('mbar gauge', 'pressure', 0.1, 'mbarg mbar(g) hpag hpa(g)', { gauge: true }),
	unit('psi', 'pressure', KPA_PER_PSI, 'psi psia psi(a) psiabs'),
	unit('psi gauge', 'pressure', KPA_PER_PSI, 'psig psi(g) psigauge', { gauge: true }),
	unit('inHg', 'pressure', KPA_PER_INHG, 'inhg "hg in-hg'),
	unit('inHg gauge', 'pressure', KPA_PER_INHG, 'inhgg inhg(g)', { gauge: true }),
	unit('°C', 'temperature', 1, '°c c degc deg.c celsius deg_c'),
	unit('°F', 'temperature', 1 / 1.8, '°f f degf deg.f fahrenheit deg_f', { offset: -32 / 1.8 }),
	unit('K', 'temperature', 1, 'k kelvin', { offset: -273.15 }),
	unit('%', 'percent', 1, '% pct percent'),
	unit('λ', 'lambda', 1, 'λ lambda la lam lambda(λ)'),
	unit('AFR', 'lambda', Number.NaN, 'afr a/f :1 afr:1', { afr: true }),
	unit('km/h', 'speed', 1, 'km/h kmh kph km/hr'),
	unit('mph', 'speed', KM_PER_MILE, 'mph mi/h miles/h'),
	unit('m/s', 'speed', 3.6, 'm/s mps'),
	unit('V', 'voltage', 1, 'v volt volts'),
	unit('mV', 'voltage', 0.001, 'mv'),
	unit('g/s', 'massFlow', 1, 'g/s gps g/sec grams/s'),
	unit('kg/h', 'massFlow', 1 / 3.6, 'kg/h kg/hr kgh'),
	unit('lb/h', 'massFlow', GS_PER_LBH, 'lb/h lb/hr lbh lbs/hr pph'),
	unit('lb/min', 'massFlow', GS_PER_LBH * 60, 'lb/min lbs/min'),
	unit('g', 'airmass', 1, 'g g/cyl gram grams g/cyl/cycle g/stroke'),
	unit('mg', 'airmass', 0.001, 'mg mg/cyl mg/stk mg/str mg/stroke'),
	unit('°', 'angle', 1, '° deg degrees °btdc degbtdc °ca degca °crank'),
	// What a person says of a knock channel that base and final timing leave open; no file writes them.
	unit('° pulled where negative', 'angle', -1, ''),
	unit('° pulled where positive', 'angle', 1, ''),
	unit('ms', 'pulseWidth', 1, 'ms msec milliseconds'),
	unit('µs', 'pulseWidth', 0.001, 'µs μs us usec'),
	unit('Hz', 'frequency', 1, 'hz'),
	unit('kHz', 'frequency', 1000, 'khz'),
	unit('Nm', 'torque', 1, 'nm n·m n.m'),
	unit('lb-ft', 'torque', 1.3558179, 'lb-ft lbft ft-lb ftlb'),
	unit('kW', 'power', 1, 'kw'),
	unit('hp', 'power', 0.74569987, 'hp bhp whp'),
	unit('cc/min', 'volumeFlow', 1, 'cc/min ccm ccmin ml/min cc/minute'),
	unit('count', 'count', 1, 'count counts # n'),
	unit('level', 'level', 1, 'level')
];

const BY_SPELLING = new Map<string, Unit>();
for (const u of UNITS) {
	BY_SPELLING.set(u.id.toLowerCase().replace(/\s+/g, ''), u);
	for (const s of u.spellings) BY_SPELLING.set(s, u);
}

/** The unit behind a spelling such as `deg C`, `(kPa)` or `PSIg`; `null` when it isn't one we know. */
export function parseUnit(text: string): Unit | null {
	const plain = text.trim().toLowerCase().replace(/\s+/g, '').replace(/º/g, '°');
	if (!plain) return null;
	return BY_SPELLING.get(plain) ?? null;
}

/** The unit named `id`; throws on an id that isn't in the table, because only our own code names units by id. */
export function unitById(id: string): Unit {
	const found = UNITS.find((u) => u.id === id);
	if (!found) throw new RangeError(`no unit is called "${id}"`);
	return found;
}

/** A linear conversion into the canonical unit: canonical = scale × raw + offset. */
export interface Conversion {
	readonly scale: number;
	readonly offset: number;
}

/**
 * Conversion of values written in `unit` into the canonical unit.
 * @param gaugeStoich stoichiometric ratio that the AFR gauge was built for (14.7 unless the vehicle says otherwise)
 * @param baroKpa barometer that is added to gauge pressures
 */
export function conversionOf(unit: Unit, gaugeStoich: number, baroKpa: number): Conversion {
	if (unit.afr) return { scale: 1 / gaugeStoich, offset: 0 };
	return { scale: unit.scale, offset: unit.offset + (unit.gauge ? baroKpa : 0) };
}

export function convert(value: number, from: string, to: string): number {
	const a = unitById(from);
	const b = unitById(to);
	if (a.quantity !== b.quantity) throw new RangeError(`${from} and ${to} measure different things`);
	return (value * a.scale + a.offset - b.offset) / b.scale;
}
