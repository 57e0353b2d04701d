/**
 * The columns of a file vouch for each other: readings of pressures, air flows and road speed are chosen together, so that physical
 * relations hold: with the engine standing the manifold is at the barometer, at idle it is under a vacuum, a set point lies where the
 * pressure gets to, an air meter moves what the engine can swallow, road speed goes with engine speed in a gear. Relations choose only
 * among the units and the gauge or absolute readings that a name allows, never a scale of their own: they must not explain a fault away.
 *
 * Weights are logarithms of likelihoods; their spreads are our own choice.
 */
import { type ColumnFacts, type RecogniseContext, type Recognised, forced } from './reading.ts';
import { middle, Scene, type Moments } from './scene.ts';
import { parseUnit, UNITS, type Unit } from '../units/units.ts';

/** A single relation says no more than this against a reading: one broken sensor must not outvote all the others. */
const MOST_AGAINST = 12;
/** A unit other than the written one is nearly impossible, and so is what a name or unit says the opposite of. */
const OTHER_UNIT = Math.log(0.002);
const AGAINST_THE_WORD = Math.log(0.02);
/** Best and runner-up this close: a person has to say (a factor of 3). */
const ASK_WITHIN = Math.log(3);

const against = (distance: number, spread: number) =>
	Number.isFinite(distance) ? -Math.min(MOST_AGAINST, 0.5 * (distance / spread) ** 2) : 0;

/** Settles in place what the columns of the file decide together; decisions by hand stay. */
export function settleTogether(
	columns: readonly ColumnFacts[],
	found: (Recognised | null)[],
	moments: Moments,
	context: RecogniseContext
): void {
	const scene = new Scene(found, moments);
	settlePressures(columns, found, scene, context);
	settleAirFlow(columns, found, scene, context);
	settleSpeed(found, scene, context);
}

interface Option {
	unit: Unit;
	/** Logarithm of how well name and written unit allow it. */
	prior: number;
	/** Another unit than the written one, or the opposite of what is written. */
	contradicts: boolean;
}

const ABSOLUTE_UNITS = ['kPa', 'bar', 'psi', 'mbar', 'inHg'];
const gaugeOf = (absolute: string): Unit => UNITS.find((u) => u.id === `${absolute} gauge`)!;
const absoluteOf = (id: string): Unit => UNITS.find((u) => u.id === id)!;

/** What name and unit say of gauge or absolute; `null` where neither has a word on it. */
function saysGauge(facts: ColumnFacts, written: Unit | null): boolean | null {
	if (written?.gauge || /\b(gauge|relative)\b/i.test(facts.name)) return true;
	if (/abs(olute)?\b|\(a\)|(kpa|psi|bar)a$/i.test(facts.unit.trim()) || /\babs(olute)?\b/i.test(facts.name))
		return false;
	return null;
}

/** How likely a gauge reading is by convention, where nothing says: "boost" is gauge, "MAP" absolute. */
function gaugeByConvention(name: string): number {
	if (/boost/i.test(name)) return 0.85;
	return /\bmap\b/i.test(name) ? 0.05 : 0.25;
}

function pressureOptions(facts: ColumnFacts, channel: string): Option[] {
	const parsed = parseUnit(facts.unit);
	const written = parsed?.quantity === 'pressure' ? parsed : null;
	const said = saysGauge(facts, written);
	const gauge = channel === 'baro' ? 0 : said === null ? gaugeByConvention(facts.name) : Number(said);
	const base = written?.id.replace(/ gauge$/, '');
	const bases = base && !ABSOLUTE_UNITS.includes(base) ? [...ABSOLUTE_UNITS, base] : ABSOLUTE_UNITS;
	return bases.flatMap((id): Option[] => {
		const other = base !== undefined && id !== base;
		// Without a unit mbar and inHg are rare.
		const rare = base === undefined && (id === 'mbar' || id === 'inHg') ? Math.log(0.05) : 0;
		const prior = (other ? OTHER_UNIT : 0) + rare;
		const share = (p: number) => (p > 0 ? Math.log(p) : AGAINST_THE_WORD);
		return [
			{ unit: absoluteOf(id), prior: prior + share(1 - gauge), contradicts: other || said === true },
			...(channel === 'baro' || !gaugeOf(id)
				? []
				: [{ unit: gaugeOf(id), prior: prior + share(gauge), contradicts: other || said === false }])
		];
	});
}

const PRESSURES = ['map', 'boostTarget', 'baro', 'exhaustPressure'] as const;
type Pressure = (typeof PRESSURES)[number];
type Choice = Partial<Record<Pressure, Option>>;

/** Medians of one pressure column at the moments that tell, as written. */
interface Levels {
	all: number;
	standing: number;
	idling: number;
	full: number;
	low: number;
	high: number;
}

function settlePressures(
	columns: readonly ColumnFacts[],
	found: (Recognised | null)[],
	scene: Scene,
	context: RecogniseContext
): void {
	const at = new Map<Pressure, number>();
	for (const id of PRESSURES) {
		const column = scene.column(id);
		if (column >= 0 && found[column]!.source === 'recognised') at.set(id, column);
	}
	if (!at.has('map') && !at.has('boostTarget')) return;
	const levels = new Map([...at].map(([id, column]) => [id, levelsOf(scene, column)]));
	const options = [...at].map(([id, column]) => ({ id, list: pressureOptions(columns[column]!, id) }));
	let choices: { choice: Choice; weight: number }[] = [{ choice: {}, weight: 0 }];
	for (const { id, list } of options)
		choices = choices.flatMap(({ choice, weight }) =>
			list.map((o) => ({ choice: { ...choice, [id]: o }, weight: weight + o.prior }))
		);
	const byHand = scene.values('baro');
	const stated = byHand && !at.has('baro') ? middle(byHand, null) : Number.NaN;
	for (const c of choices) c.weight += relations(c.choice, levels, stated, context);
	choices.sort((a, b) => b.weight - a.weight);
	const best = choices[0]!;
	const baroKpa = barometer(best.choice, levels, stated, context);
	for (const { id } of options) {
		const column = at.get(id)!;
		const facts = columns[column]!;
		const { unit, contradicts } = best.choice[id]!;
		const rivals = choices
			.filter((c) => best.weight - c.weight < ASK_WITHIN && c.choice[id]!.unit !== unit)
			.map((c) => c.choice[id]!.unit);
		const reading = forced(id, { ...context, baroKpa }, unit);
		const asWritten = parseUnit(facts.unit) === unit;
		const said = contradicts
			? `${facts.unit} contradicts the other columns: read as ${unit.id}`
			: asWritten
				? ''
				: facts.unit
					? `${facts.unit} says neither gauge nor absolute: read as ${unit.id}, as it fits the other columns`
					: `no unit given: read as ${unit.id}, as it fits the other columns`;
		const units = [...new Set([unit, ...rivals])];
		found[column] = {
			...found[column]!,
			...reading,
			note: [reading.note, said].filter(Boolean).join('; '),
			contradiction: contradicts ? { written: facts.unit, read: unit.id } : null,
			undecided:
				units.length > 1 ? { readings: units.map((u) => range(id, facts, context, baroKpa, u)) } : null
		};
	}
}

function range(id: string, facts: ColumnFacts, context: RecogniseContext, baroKpa: number, unit: Unit) {
	const { scale, offset } = forced(id, { ...context, baroKpa }, unit).conversion;
	const to = (v: number) => scale * v + offset;
	return { unit: unit.id, low: to(facts.min), median: to(facts.median), high: to(facts.max) };
}

function levelsOf(scene: Scene, column: number): Levels {
	const raw = scene.raw(column);
	const sorted = raw.filter((v) => v === v).sort();
	const part = (q: number) => sorted[Math.floor((sorted.length - 1) * q)] ?? Number.NaN;
	return {
		all: part(0.5),
		standing: middle(raw, scene.standing),
		idling: middle(raw, scene.idling),
		full: middle(raw, scene.full),
		low: part(0.02),
		high: part(0.98)
	};
}

/** kPa of a level as a choice reads it. */
const kpa = (option: Option, baroKpa: number, level: number) =>
	option.unit.scale * level + option.unit.offset + (option.unit.gauge ? baroKpa : 0);

function barometer(
	choice: Choice,
	levels: ReadonlyMap<Pressure, Levels>,
	stated: number,
	context: RecogniseContext
): number {
	const { baro } = choice;
	const logged = baro ? kpa(baro, 0, levels.get('baro')!.all) : stated;
	return logged > 50 && logged < 110 ? logged : context.baroKpa;
}

/** How well the relations hold under a choice of readings. */
function relations(
	choice: Choice,
	levels: ReadonlyMap<Pressure, Levels>,
	stated: number,
	context: RecogniseContext
): number {
	const baroKpa = barometer(choice, levels, stated, context);
	const own = choice.baro !== undefined || stated === stated;
	let sum = 0;
	const within = (v: number, low: number, high: number, spread: number) =>
		against(v < low ? low - v : v > high ? v - high : 0, spread);
	if (choice.baro) sum += within(kpa(choice.baro, 0, levels.get('baro')!.all), 60, 108, 4);
	const m = choice.map && levels.get('map');
	if (choice.map && m) {
		const at = (level: number) => kpa(choice.map!, baroKpa, level);
		sum += within(at(m.low), 8, baroKpa + 12, 8) + within(at(m.high), baroKpa * 0.3, 550, 20);
		sum += against(at(m.standing) - baroKpa, own ? 4 : 8);
		if (m.idling === m.idling) sum += within(at(m.idling), 18, 80, 6);
		if (m.full === m.full) sum += within(at(m.full), baroKpa * 0.72, 550, 6);
	}
	const t = choice.boostTarget && levels.get('boostTarget');
	if (choice.boostTarget && t) {
		const at = (level: number) => kpa(choice.boostTarget!, baroKpa, level);
		sum += within(at(t.high), baroKpa * 0.9, 550, 10);
		// Off boost a set point is at the barometer or below; some controllers hold it up all the time, so this only leans.
		const off = Number.isFinite(t.idling) ? t.idling : t.standing;
		if (Number.isFinite(off)) sum += within(at(off), 0, baroKpa + 15, 25);
		if (choice.map && m && m.full === m.full && t.full === t.full)
			sum += against(Math.log(Math.max(at(t.full), 1) / Math.max(kpa(choice.map, baroKpa, m.full), 1)), 0.12);
	}
	const e = choice.exhaustPressure && levels.get('exhaustPressure');
	if (choice.exhaustPressure && e)
		sum += against(kpa(choice.exhaustPressure, baroKpa, e.standing) - baroKpa, 8);
	return sum;
}

const FLOWS = ['g/s', 'kg/h', 'lb/min', 'lb/h'];
/** Air moves at this share of what the engine would swallow at 20 °C, within this spread (of the logarithm). */
const FILLING = 0.8;
const FILLING_SPREAD = 0.3;
/** Where the engine's size isn't known: engines are about this large, within this spread. */
const USUAL_L = 2.6;
const USUAL_SPREAD = 0.5;
const GAS_CONSTANT = 0.28705;
const WARM_K = 300;

/** An air flow without a unit: the one in which the engine swallows it. */
function settleAirFlow(
	columns: readonly ColumnFacts[],
	found: (Recognised | null)[],
	scene: Scene,
	context: RecogniseContext
): void {
	const rpm = scene.values('rpm');
	const map = scene.values('map');
	if (!rpm || !map) return;
	for (const id of ['maf', 'airflowModel']) {
		const column = scene.column(id);
		if (column < 0 || found[column]!.source !== 'recognised') continue;
		const facts = columns[column]!;
		if (parseUnit(facts.unit)?.quantity === 'massFlow') continue;
		const raw = scene.raw(column);
		// Litres that the engine would have, were the column in g/s.
		const litres = middle(
			raw.map((v, i) =>
				rpm[i]! > 1200 && map[i]! > 25 && v > 0
					? (v * 120 * GAS_CONSTANT * WARM_K) / (FILLING * map[i]! * rpm[i]!)
					: Number.NaN
			),
			null
		);
		if (!(litres > 0)) continue;
		const weights = FLOWS.map((unitId) => {
			const unit = absoluteOf(unitId);
			const off = Math.log((litres * unit.scale) / (context.displacementL ?? USUAL_L));
			return { unit, weight: against(off, context.displacementL ? FILLING_SPREAD : USUAL_SPREAD) };
		}).sort((a, b) => b.weight - a.weight);
		const [best] = weights;
		const rivals = weights.filter((w) => best!.weight - w.weight < ASK_WITHIN).map((w) => w.unit);
		const reading = forced(id, context, best!.unit);
		found[column] = {
			...found[column]!,
			...reading,
			note: [reading.note, `no unit given: read as ${best!.unit.id}, which is what this engine can swallow`]
				.filter(Boolean)
				.join('; '),
			undecided:
				rivals.length > 1
					? { readings: rivals.map((u) => range(id, facts, context, context.baroKpa, u)) }
					: null
		};
	}
}

const IN_GEAR = 0.03;
const CLEARER = 2;

/** Road speed without a unit: the one in which it goes with engine speed in the vehicle's gears. */
function settleSpeed(found: (Recognised | null)[], scene: Scene, context: RecogniseContext): void {
	const column = scene.column('speed');
	const rpm = scene.values('rpm');
	const ratios = context.rpmPerKmh;
	if (column < 0 || !rpm || !ratios?.length || !found[column]!.undecided) return;
	if (found[column]!.source !== 'recognised') return;
	const raw = scene.raw(column);
	const hits = ['km/h', 'mph'].map((id) => {
		const unit = absoluteOf(id);
		let n = 0;
		for (let i = 0; i < raw.length; i++) {
			const ratio = rpm[i]! / (raw[i]! * unit.scale);
			if (raw[i]! * unit.scale > 15 && ratios.some((r) => Math.abs(ratio / r - 1) < IN_GEAR)) n++;
		}
		return { unit, n };
	});
	hits.sort((a, b) => b.n - a.n);
	const [best, other] = hits;
	if (best!.n < 20 || best!.n < CLEARER * other!.n) return;
	const reading = forced('speed', context, best!.unit);
	found[column] = {
		...found[column]!,
		...reading,
		note: [reading.note, `no unit given: read as ${best!.unit.id}, which fits the gears`]
			.filter(Boolean)
			.join('; '),
		undecided: null
	};
}
