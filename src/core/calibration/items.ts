/**
 * What Tanto knows of each item of a calibration, in one place: what it is and what moves with it, which way is riskier and from how much
 * on, what a difference makes incomparable, how steep it may be, how its outcome is measured, and the words for all that. Comparison,
 * holds, cliffs, outcome, notes and the interface read from here. Members of a blend (`fuel.table@105`) follow their item.
 */

/** What an item acts on. */
export type Acts =
	| 'fuel'
	| 'target'
	| 'timing'
	| 'boost'
	| 'protection'
	| 'knock'
	| 'injector'
	| 'sensor'
	| 'trigger'
	| 'throttle'
	| 'shift'
	| 'record';

/** How it is seen afterwards whether a change did what it was meant to: in the changed cells, over the whole log, by knock, by boost. */
export type Measured = 'cells' | 'overall' | 'knock' | 'boost';

/** A size of difference: absolute in the unit of the item, or in percent of the value (`relative`). */
export interface Size {
	by: number;
	relative: boolean;
	unit: string;
	digits: number;
}

export interface ItemKind {
	id: string;
	title: string;
	group: 'Fuel' | 'Timing' | 'Boost' | 'Limits' | 'Knock' | 'Injectors' | 'Sensors' | 'Driveline';
	unit: string;
	/** Decimals that values are rounded to where the document doesn't say. */
	decimals: number;
	acts: Acts;
	/** One or two sentences: what it is, and what moves with it. */
	about: string;
	/** Which way is riskier for the engine, with words for both; absent where no direction is. */
	direction?: {
		riskier: 'up' | 'down';
		up: string;
		down: string;
		/** A difference up to this is rounding, not a riskier engine. Own choice. */
		tolerance: Size;
	};
	/** Why a change of it is neither safer nor riskier. */
	neutral?: string;
	/** A switch whose off is riskier, with words for both. */
	onOff?: { on: string; off: string; stillOff: string };
	/** What another value makes of the numbers beside it. */
	guard?: { why: string; affects: (id: string) => boolean };
	/** Largest step between neighbouring cells that an engine can want. Own choice. */
	cliff?: Size;
	measured?: Measured;
	/** A curve that is read along the log and added there: percent of the fuel, degrees of the timing. */
	adjusts?: 'fuel' | 'timing';
	/** What the customer is told when it changed; `risky`: only when it became riskier. */
	caution?: { text: string; risky?: boolean };
}

const acting =
	(...acts: readonly Acts[]) =>
	(id: string): boolean =>
		actsOn(id, ...acts);
const of =
	(...ids: readonly string[]) =>
	(id: string): boolean =>
		ids.includes(baseOf(id));

const FUEL_PCT: Size = { by: 0.2, relative: true, unit: '%', digits: 1 };
const TRIM_PCT: Size = { by: 0.2, relative: false, unit: '%', digits: 1 };
const DEGREES: Size = { by: 0.05, relative: false, unit: '°', digits: 1 };
const fuelling = (tolerance: Size) => ({
	riskier: 'down' as const,
	up: 'more fuel',
	down: 'fuel taken out',
	tolerance
});
const advancing = {
	riskier: 'up' as const,
	up: 'timing added',
	down: 'timing taken out',
	tolerance: DEGREES
};
const exactly = (unit: string): Size => ({ by: 0, relative: false, unit, digits: 1 });

const INJECTOR_CAUTION = {
	text: 'The injector data changed. Before anything else: reset the learned trims, look over every joint for fuel leaks with the system under pressure (cold engine, ventilation, fire extinguisher at hand), and log on the ordinary fuel first.'
};
const SENSOR_CAUTION = {
	text: 'A sensor or trigger setting changed. Let it idle first and check that the readings make sense before you drive.'
};
const TIMING_CAUTION = {
	risky: true,
	text: 'Timing was added. Listen, and lift at once if it pings; send the log even if nothing was heard.'
};

export const ITEMS = [
	{
		id: 'fuel.table',
		title: 'Fuel table',
		group: 'Fuel',
		unit: '%',
		decimals: 2,
		acts: 'fuel',
		about:
			'How much of the cylinder fills at each engine speed and load (speed-density), or the share of the reference pulse (pulse-width). Fuel goes in proportion to it; the target, the trims and the injector data multiply what it says.',
		direction: fuelling(FUEL_PCT),
		cliff: { by: 20, relative: true, unit: '%', digits: 1 },
		measured: 'cells'
	},
	{
		id: 'fuel.referencePulse',
		title: 'Reference pulse',
		group: 'Fuel',
		unit: 'ms',
		decimals: 3,
		acts: 'fuel',
		about:
			'The pulse that the table’s 100 % stands for; halve it and double the table, and nearly the same fuel comes out. Without a change of the table it moves all fuel at once.',
		direction: fuelling(FUEL_PCT),
		measured: 'overall'
	},
	{
		id: 'fuel.trim',
		title: 'Global trim',
		group: 'Fuel',
		unit: '%',
		decimals: 1,
		acts: 'fuel',
		about: 'A share added to all fuel everywhere, idle and full throttle alike. The table keeps its shape.',
		direction: fuelling(TRIM_PCT),
		measured: 'overall'
	},
	{
		id: 'fuel.mapScaling',
		title: 'Pressure scaling of the pulse',
		group: 'Fuel',
		unit: 'kPa',
		decimals: 1,
		acts: 'fuel',
		about:
			'The manifold pressure at which the reference pulse holds; the pulse then follows pressure. “none” leaves all of the load to the table. Switching it over changes what every cell of the table means.',
		measured: 'overall'
	},
	{
		id: 'fuel.cylTrim',
		title: 'Fuel trim by cylinder',
		group: 'Fuel',
		unit: '%',
		decimals: 1,
		acts: 'fuel',
		about:
			'A share added to one cylinder’s fuel. The mean of all of them moves the whole engine: a trim up on one is a richer bank.',
		direction: fuelling(TRIM_PCT),
		measured: 'overall'
	},
	{
		id: 'fuel.iatTrim',
		title: 'Fuel trim by intake air',
		group: 'Fuel',
		unit: '%',
		decimals: 1,
		acts: 'fuel',
		about:
			'A share added to all fuel by the temperature of the intake air. It is read at the sensor: heat soak after a stop reads hot air that the engine no longer breathes, and leans it out.',
		direction: fuelling(TRIM_PCT),
		adjusts: 'fuel',
		measured: 'overall'
	},
	{
		id: 'fuel.nitrous',
		title: 'Fuel with nitrous',
		group: 'Fuel',
		unit: 'g/s',
		decimals: 2,
		acts: 'fuel',
		about: 'Fuel added for the nitrous at each duty of its solenoid. The base fuel runs on beside it.',
		direction: fuelling(FUEL_PCT)
	},
	{
		id: 'maf.curve',
		title: 'Air meter curve',
		group: 'Fuel',
		unit: 'g/s',
		decimals: 2,
		acts: 'fuel',
		about:
			'Air mass at each signal of the air meter. Fuel and calculated load follow it, and with the load the row of every other table: more air here also reads the timing table farther up.',
		direction: fuelling(FUEL_PCT),
		measured: 'overall'
	},
	{
		id: 'lambda.target',
		title: 'Lambda target',
		group: 'Fuel',
		unit: 'λ',
		decimals: 3,
		acts: 'target',
		about:
			'The mixture that is asked for. In a model that computes fuel from air the fuel follows it; in a pulse-width model it only tells closed loop where to go.',
		direction: {
			riskier: 'up',
			up: 'leaner target',
			down: 'richer target',
			tolerance: { by: 0.002, relative: false, unit: 'λ', digits: 3 }
		},
		cliff: { by: 0.08, relative: false, unit: 'λ', digits: 3 }
	},
	{
		id: 'spark.table',
		title: 'Timing',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		acts: 'timing',
		about:
			'Ignition in degrees before top dead centre. Trims by cylinder add to it; the trigger offset decides which crank angle a number is.',
		direction: advancing,
		cliff: { by: 6, relative: false, unit: '°', digits: 1 },
		measured: 'knock',
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.cylTrim',
		title: 'Timing trim by cylinder',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		acts: 'timing',
		about: 'Degrees added to the table for one cylinder.',
		direction: advancing,
		measured: 'knock',
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.iatTrim',
		title: 'Timing trim by intake air',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		acts: 'timing',
		about: 'Degrees added to the table by the temperature of the intake air; negative where the air is hot.',
		direction: advancing,
		adjusts: 'timing',
		measured: 'knock',
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.nitrous',
		title: 'Timing with nitrous',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		acts: 'timing',
		about: 'Degrees added to the table while nitrous flows; negative takes timing out.',
		direction: advancing,
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.baseVerified',
		title: 'Base timing verified',
		group: 'Timing',
		unit: '',
		decimals: 0,
		acts: 'record',
		about:
			'When, and by whom, base timing was checked with a timing light. Empty: nobody knows which crank angle a number of the timing table is.',
		neutral: 'a record, not a calibration value'
	},
	{
		id: 'boost.target',
		title: 'Boost target',
		group: 'Boost',
		unit: 'kPa',
		decimals: 1,
		acts: 'boost',
		about:
			'Manifold pressure that boost control works towards. More of it reads higher rows of fuel and timing, and takes more of injectors and pump.',
		direction: {
			riskier: 'up',
			up: 'more boost',
			down: 'less boost',
			tolerance: { by: 0.5, relative: false, unit: 'kPa', digits: 1 }
		},
		cliff: { by: 30, relative: false, unit: 'kPa', digits: 1 },
		measured: 'boost',
		caution: {
			risky: true,
			text: 'There is more boost. One pull first, then look at the plugs, and only then the rest of the plan.'
		}
	},
	{
		id: 'limit.rpm',
		title: 'Rev limit',
		group: 'Limits',
		unit: 'rpm',
		decimals: 0,
		acts: 'protection',
		about: 'Engine speed at which fuel or spark is cut.',
		direction: {
			riskier: 'up',
			up: 'rev limit raised',
			down: 'rev limit lowered',
			tolerance: exactly('rpm')
		},
		caution: { risky: true, text: 'The rev limit is higher. Go there once, briefly, and send the log.' }
	},
	{
		id: 'limit.boost',
		title: 'Boost cut',
		group: 'Limits',
		unit: 'kPa',
		decimals: 1,
		acts: 'protection',
		about:
			'Manifold pressure at which the engine is cut. It should stand a little over the highest boost target, not far over.',
		direction: {
			riskier: 'up',
			up: 'boost protection loosened',
			down: 'boost protection tightened',
			tolerance: exactly('kPa')
		}
	},
	{
		id: 'limit.lean',
		title: 'Lean protection',
		group: 'Limits',
		unit: 'λ',
		decimals: 3,
		acts: 'protection',
		about: 'Lambda under load at which the engine is cut or derated.',
		direction: {
			riskier: 'up',
			up: 'lean protection loosened',
			down: 'lean protection tightened',
			tolerance: exactly('λ')
		}
	},
	{
		id: 'knock.enabled',
		title: 'Knock control',
		group: 'Knock',
		unit: '',
		decimals: 0,
		acts: 'knock',
		about: 'Whether the controller listens and takes timing out. It is never switched off.',
		onOff: {
			on: 'knock control switched on',
			off: 'knock control switched off',
			stillOff: 'knock control off'
		}
	},
	{
		id: 'knock.sensitivity',
		title: 'Knock sensitivity',
		group: 'Knock',
		unit: '%',
		decimals: 0,
		acts: 'knock',
		about:
			'How readily knock control hears knock; 100 % is as built. It comes down only against knock that is proved false, five points at a time.',
		direction: {
			riskier: 'down',
			up: 'knock control more sensitive',
			down: 'knock sensitivity down',
			tolerance: exactly('%')
		}
	},
	{
		id: 'injector.flow',
		title: 'Injector flow',
		group: 'Injectors',
		unit: 'cc/min',
		decimals: 1,
		acts: 'injector',
		about:
			'What an injector flows, as the controller believes. Fuel computed from air is divided by it: a higher number is a shorter pulse, and less fuel from the same injector.',
		guard: {
			why: 'the injector data differ: the same pulse is another amount of fuel',
			affects: acting('fuel')
		},
		measured: 'overall',
		caution: INJECTOR_CAUTION
	},
	{
		id: 'injector.deadTime',
		title: 'Injector dead time',
		group: 'Injectors',
		unit: 'ms',
		decimals: 3,
		acts: 'injector',
		about:
			'Time that an injector takes to open, by supply voltage; added to every pulse. It matters most where pulses are short: at idle and light load.',
		guard: {
			why: 'the injector data differ: the same pulse is another amount of fuel',
			affects: acting('fuel')
		},
		measured: 'overall',
		caution: INJECTOR_CAUTION
	},
	{
		id: 'sensor.map',
		title: 'Pressure sensor',
		group: 'Sensors',
		unit: '',
		decimals: 2,
		acts: 'sensor',
		about:
			'How the voltage of the manifold pressure sensor becomes kPa. Another scaling moves every cell that is read by pressure.',
		guard: {
			why: 'the pressure sensor is scaled differently: the same cell is another pressure',
			affects: of('fuel.table', 'spark.table', 'lambda.target', 'boost.target', 'limit.boost')
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'sensor.maf',
		title: 'Air meter',
		group: 'Sensors',
		unit: '',
		decimals: 2,
		acts: 'sensor',
		about: 'Which air meter, in which pipe. Another one makes the same signal another air mass.',
		guard: {
			why: 'the air meter is scaled differently: the same frequency is another flow',
			affects: of('maf.curve', 'fuel.table', 'spark.table')
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'sensor.lambda',
		title: 'Lambda sensor',
		group: 'Sensors',
		unit: '',
		decimals: 2,
		acts: 'sensor',
		about:
			'How the lambda sensor’s signal becomes lambda. Closed loop and every correction from a log hang on it.',
		guard: {
			why: 'the lambda input is scaled differently: trims and targets mean another mixture',
			affects: of('lambda.target', 'fuel.table', 'fuel.trim', 'limit.lean')
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'trigger.mode',
		title: 'Trigger',
		group: 'Sensors',
		unit: '',
		decimals: 0,
		acts: 'trigger',
		about:
			'How the controller reads the crank and cam wheels. Another mode turns all timing against the crank.',
		guard: {
			why: 'the trigger set-up differs: the same table value is another crank angle',
			affects: acting('timing', 'record')
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'trigger.offset',
		title: 'Trigger offset',
		group: 'Sensors',
		unit: '°',
		decimals: 1,
		acts: 'trigger',
		about:
			'Degrees between the trigger mark and top dead centre. A degree here is a degree of timing in every cell; check it with a timing light.',
		guard: {
			why: 'the trigger set-up differs: the same table value is another crank angle',
			affects: acting('timing', 'record')
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'throttle.demand',
		title: 'Throttle demand',
		group: 'Driveline',
		unit: '%',
		decimals: 1,
		acts: 'throttle',
		about: 'How far the throttle opens for the pedal.',
		direction: {
			riskier: 'up',
			up: 'more throttle',
			down: 'less throttle',
			tolerance: { by: 0.05, relative: false, unit: '%', digits: 1 }
		}
	},
	{
		id: 'shift.rpm',
		title: 'Shift speeds',
		group: 'Driveline',
		unit: 'rpm',
		decimals: 0,
		acts: 'shift',
		about: 'Engine speed at which the gearbox shifts up, by gear. Over the rev limit it never comes.',
		neutral: 'shift speeds'
	}
] as const satisfies readonly ItemKind[];

export type ItemId = (typeof ITEMS)[number]['id'];

const BY_ID = new Map<string, ItemKind>(ITEMS.map((i) => [i.id, i]));

/** The item that a member of a blend stands for: `fuel.table` of `fuel.table@105`. */
export const baseOf = (id: string): string => id.split('@', 1)[0]!;

/** What is known of an item, or of the item that it blends into; `null` for one that nobody knows. */
export const itemKind = (id: string): ItemKind | null => BY_ID.get(baseOf(id)) ?? null;

/** Items that nobody knows, by how they are called: what they act on, what another value makes incomparable, what is said to it. */
interface Family {
	match: RegExp;
	acts: Acts;
	guard?: NonNullable<ItemKind['guard']>;
	caution?: ItemKind['caution'];
}
const FAMILIES: readonly Family[] = [
	{ match: /^fuel\./, acts: 'fuel' },
	{ match: /^spark\./, acts: 'timing' },
	{ match: /^boost\./, acts: 'boost' },
	{ match: /^limit\./, acts: 'protection' },
	{ match: /^knock\./, acts: 'knock' },
	{ match: /^injector\./, acts: 'injector', caution: INJECTOR_CAUTION },
	{ match: /^trigger\./, acts: 'trigger', caution: SENSOR_CAUTION },
	{
		match: /^sensor\./,
		acts: 'sensor',
		guard: { why: 'a sensor is scaled differently', affects: of('fuel.table', 'spark.table') },
		caution: SENSOR_CAUTION
	},
	{
		match: /displacement/i,
		acts: 'sensor',
		guard: {
			why: 'the displacement differs: the same share of filling is another amount of air',
			affects: of('fuel.table', 'spark.table', 'lambda.target')
		}
	}
];

const familyOf = (id: string): Family | undefined => FAMILIES.find((f) => f.match.test(id));

/** Whether an item acts on one of these; one that nobody knows goes by how it is called. */
export function actsOn(id: string, ...acts: readonly Acts[]): boolean {
	const own = itemKind(id)?.acts ?? familyOf(id)?.acts;
	return own !== undefined && acts.includes(own);
}

/** What another value of an item makes incomparable; `null` where nothing. */
export const guardOf = (id: string): ItemKind['guard'] | null =>
	(itemKind(id) ?? familyOf(id))?.guard ?? null;

/** What the customer is told when an item changed; `null` where nothing. */
export const cautionOf = (id: string): ItemKind['caution'] | null =>
	(itemKind(id) ?? familyOf(id))?.caution ?? null;

/** What an item is called: its own title, else the known one, with the member of a blend behind it. */
export function titleOf(item: { id: string; title?: string | undefined }): string {
	if (item.title) return item.title;
	const known = itemKind(item.id)?.title;
	if (!known) return item.id;
	const member = item.id.slice(baseOf(item.id).length + 1);
	return member ? `${known} (${member})` : known;
}

/** Ids of the curves that are read along a log and added there. */
export const adjusting = (what: 'fuel' | 'timing'): ItemId[] =>
	ITEMS.filter((i: ItemKind) => i.adjusts === what).map((i) => i.id);
