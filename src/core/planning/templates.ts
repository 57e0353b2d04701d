/**
 * Drive plans by purpose, filled from the vehicle. The order of a drive, how many gears and what to watch are common practice;
 * the words are for somebody who likes cars and doesn't calibrate them.
 */
import type { Vehicle } from '../vehicle/document.ts';
import { wantedChannels } from './channels.ts';
import { adviseGears, type GearAdvice } from './gears.ts';
import type { LogRequest, Manoeuvre } from '../request.ts';
import type { NextDrive } from '../revising/proposal.ts';

export const TEMPLATES = [
	{ id: 'first-start', title: 'First start', when: 'new injectors, a new engine or a new base calibration' },
	{
		id: 'street-baseline',
		title: 'Street baseline',
		when: 'how the car drives today, before anything is changed'
	},
	{
		id: 'full-throttle',
		title: 'Full-throttle pull',
		when: 'part load is in order; the top of the map is wanted'
	},
	{ id: 'next-revision', title: 'Check of the new revision', when: 'a revision went into the car' },
	{
		id: 'ethanol-blend',
		title: 'Ethanol blend',
		when: 'the ordinary fuel is finished, the blend comes next'
	},
	{ id: 'bank-swap', title: 'Bank swap', when: 'the banks disagree, or one bank was never seen' },
	{
		id: 'knock-proof',
		title: 'Knock proof step',
		when: 'knock that may be false: the same test again, one thing changed'
	},
	{ id: 'problem', title: 'Problem capture', when: 'make it do it again, even if only at start-up' },
	{ id: 'before-event', title: 'Before an event', when: 'readiness in the days before' },
	{ id: 'nitrous', title: 'Nitrous pass', when: 'dry nitrous fuel is to be set' }
] as const;

export type TemplateId = (typeof TEMPLATES)[number]['id'];

export interface PlanOptions {
	/** Highest road speed that may be driven, km/h; `null` without a cap. */
	speedCapKmh: number | null;
	/** Gears for full throttle instead of the advised ones. */
	gears?: number[];
}

const CAUTIONS = {
	place: 'Full throttle only on a closed course, or where it stays within the law: straight, dry and empty.',
	eyes: 'Nobody looks at the screen while driving. A passenger reads it, or you park first. Strap the laptop down.',
	misfire: 'An engine that misfired is not driven hard again until the cause is found.',
	knock: 'Knock sensors stay connected and switched on.',
	fuel: 'Work on the fuel system with a cold engine, the pressure let off, fresh air and a fire extinguisher at hand. After priming look at every joint, and wait before you start the engine.',
	law: 'Emissions, noise and road registration are matters of your local rules.'
};

const ABORTS = [
	'Lift at once if it pings, misfires, stutters, smokes or smells of fuel.',
	'Lift at once if the mixture shows leaner than usual or a warning lamp comes on.',
	'Lift if coolant, oil or intake air go higher than you know them. Let it rest, and send what you have.'
];

const WARM = 'Drive until the engine has been warm for ten minutes.';
const MODES = 'Traction control off. An automatic or a twin-clutch box in sport or manual mode.';

const idle = (minDurationS: number): Manoeuvre => ({
	kind: 'idle',
	minDurationS,
	how: 'Stand still, everything electric off, foot off the pedal, and let it idle.',
	doneWhen: `${minDurationS} seconds without touching anything`
});
/** Traffic breaks a cruise up: several short stretches say as much as a long one. */
const cruise = (count = 3): Manoeuvre => ({
	kind: 'cruise',
	minDurationS: 8,
	count,
	how: 'Drive at a steady, gentle speed on level road, then at another speed.',
	doneWhen: `${count} times ten seconds or longer with a still foot, at different speeds`
});
const START: Manoeuvre = {
	kind: 'start',
	how: 'Begin to record with the ignition on and the engine still, then start it.',
	doneWhen: 'the start itself and the first minute are in the recording'
};
const SYMPTOM: Manoeuvre = {
	kind: 'symptom',
	how: 'Begin to record before it happens, do what makes it happen, and stop half a minute after.',
	doneWhen: 'it happened while the recording ran; mark the moment when you send it'
};
const light: Manoeuvre = {
	kind: 'light',
	count: 2,
	how: 'Accelerate gently, with about a quarter of the pedal.',
	doneWhen: 'twice, each for a few seconds'
};
const medium: Manoeuvre = {
	kind: 'medium',
	count: 2,
	how: 'Accelerate with about half of the pedal.',
	doneWhen: 'twice, through the middle of the revs'
};

function pull(vehicle: Vehicle, advice: GearAdvice, options: PlanOptions, most: number): Manoeuvre {
	const gears = (options.gears?.length ? options.gears : advice.pulls).slice(0, most);
	const limit = vehicle.engine.revLimitRpm;
	const capped = advice.lines.filter((l) => gears.includes(l.gear) && l.cappedRpm !== null);
	const top = Math.floor(Math.min(limit * 0.95, ...capped.map((l) => l.cappedRpm!)) / 100) * 100;
	const from = Math.round((limit * 0.4) / 100) * 100;
	const where = gears.length
		? gears.length === 1
			? `in gear ${gears[0]}`
			: `in gears ${gears.slice(0, -1).join(', ')} and ${gears.at(-1)}, one pull each`
		: 'in a gear that takes the engine several seconds through the revs, third or so';
	const cap = options.speedCapKmh === null ? '' : ` Never faster than ${options.speedCapKmh} km/h.`;
	return {
		kind: 'pull',
		...(gears.length ? { gears } : { count: 1 }),
		rpm: [from, top],
		how: `Full throttle ${where}: from about ${from} rpm press the pedal smoothly to the floor and hold it to about ${top} rpm, then lift.${cap} Let it cool for a minute or two between pulls.`,
		doneWhen: `${gears.length > 1 ? 'one clean pull in each gear' : 'one clean pull'}, without wheelspin or a lift`
	};
}

/** The step of a kind as it is usually asked for; of full throttle in all advised gears, or in `most` of them. */
export function usualStep(
	kind: Manoeuvre['kind'],
	vehicle: Vehicle,
	options: PlanOptions,
	most = Number.POSITIVE_INFINITY
): Manoeuvre {
	switch (kind) {
		case 'start':
			return START;
		case 'idle':
			return idle(60);
		case 'cruise':
			return cruise();
		case 'light':
			return light;
		case 'medium':
			return medium;
		case 'pull':
			return pull(vehicle, adviseGears(vehicle, options.speedCapKmh), options, most);
		case 'symptom':
			return SYMPTOM;
	}
}

export interface Parts {
	purpose: string;
	manoeuvres: Manoeuvre[];
	preparations?: string[];
	conditions?: LogRequest['conditions'];
	cautions?: string[];
	/** Nothing is driven hard: no rules for the place. */
	standing?: boolean;
	nitrous?: boolean;
}

function partsOf(id: TemplateId, vehicle: Vehicle, options: PlanOptions): Parts {
	const advice = adviseGears(vehicle, options.speedCapKmh);
	const all = Number.POSITIVE_INFINITY;
	const full = (most = all) => pull(vehicle, advice, options, most);
	switch (id) {
		case 'first-start':
			return {
				purpose: 'Does it start, idle and hold its pressures. Nothing is driven yet.',
				standing: true,
				preparations: [
					'Ignition on, engine still: look for fuel at every joint, then wait a few minutes.',
					'Have the base timing checked with a timing light, and send a photo of it.'
				],
				manoeuvres: [START, idle(120)],
				cautions: [CAUTIONS.fuel]
			};
		case 'street-baseline':
			return {
				purpose:
					'How the car drives as it is now. Half an hour of ordinary driving is welcome; a log cannot be too long.',
				manoeuvres: [START, idle(60), cruise(5), light, medium]
			};
		case 'full-throttle':
			return {
				purpose: 'The top of the map, after a warm drive.',
				preparations: [WARM, MODES],
				manoeuvres: [idle(20), cruise(), light, medium, full()]
			};
		case 'next-revision':
			return {
				purpose:
					'Did the change do what it was meant to. No repeated pulls: one each is enough on a new file.',
				preparations: ['Put the new file into the car first, and confirm it on your page.', WARM, MODES],
				manoeuvres: [idle(20), cruise(), light, medium, full()]
			};
		case 'ethanol-blend':
			return {
				purpose: 'The car on the blend: first gently, then the top of the map.',
				preparations: [
					'Run the tank down to the warning light, then fill it to the brim with the blend.',
					'Drive a quarter of an hour gently before you record: the lines still hold the old fuel.',
					MODES
				],
				conditions: vehicle.fuel?.ethanolPct === undefined ? {} : { ethanolPct: vehicle.fuel.ethanolPct },
				manoeuvres: [START, idle(60), cruise(5), light, medium, full(2)]
			};
		case 'bank-swap':
			return {
				purpose:
					'Which part does the difference move with? Only what your tuner names is swapped, and only that.',
				preparations: [
					'Swap what your tuner named from side to side (sensor or injectors), and write down what you did.',
					WARM
				],
				manoeuvres: [idle(60), cruise(5), light, medium],
				cautions: [CAUTIONS.fuel]
			};
		case 'knock-proof':
			return {
				purpose:
					'The same test as before with one thing changed. It only proves something if the rest stays the same.',
				preparations: [
					'Same road, same gear, same time of day if you can. Change only what your tuner named.',
					WARM,
					MODES
				],
				conditions: { fuelLevelMaxPct: 33 },
				manoeuvres: [
					{
						...full(1),
						count: 2,
						doneWhen: 'two clean pulls in the same gear, with several minutes of gentle driving between them'
					}
				],
				cautions: [CAUTIONS.knock]
			};
		case 'problem':
			return {
				purpose:
					'The problem itself, while it happens. If it does it at start-up, record the start-up; a minute is enough.',
				standing: true,
				manoeuvres: [SYMPTOM]
			};
		case 'before-event':
			return {
				purpose: 'Is the car ready. Everything is compared with how it is when it is healthy.',
				preparations: [WARM, MODES],
				manoeuvres: [START, idle(60), cruise(), light, medium, full(1)]
			};
		case 'nitrous':
			return {
				purpose:
					'The fuel that goes with the nitrous. First a pull without it: the mixture has to meet its target.',
				preparations: [
					WARM,
					MODES,
					'Bottle at its usual pressure; write the pressure down before and after.'
				],
				nitrous: true,
				manoeuvres: [
					idle(20),
					{ ...full(1), doneWhen: 'one clean pull without nitrous' },
					{
						...full(1),
						how: `Then the same pull with nitrous. ${full(1).how}`,
						doneWhen: 'one clean pull with nitrous; plugs out and photographed afterwards'
					}
				],
				cautions: [CAUTIONS.fuel]
			};
	}
}

/** The drive plan of a template for this vehicle. */
export function planFrom(id: TemplateId, vehicle: Vehicle, options: PlanOptions): LogRequest {
	return planOf(TEMPLATES.find((t) => t.id === id)!.title, partsOf(id, vehicle, options), vehicle, options);
}

/** A drive that was designed: what is still open decides what is asked for. */
export type AskedDrive = Pick<NextDrive, 'kind' | 'gear' | 'rpm' | 'seconds' | 'count' | 'load'>;

const GENTLY = {
	cruise: 'gently, with a still foot',
	light: 'with about a quarter of the pedal',
	medium: 'with about half of the pedal'
};

function asked(d: AskedDrive, vehicle: Vehicle, options: PlanOptions): Manoeuvre {
	const [from, to] = d.rpm.map((r) => Math.round(r / 50) * 50) as [number, number];
	if (d.kind === 'pull') {
		const gears = options.gears?.length ? options.gears : d.gear ? [d.gear] : [];
		const full = pull(vehicle, adviseGears(vehicle, options.speedCapKmh), { ...options, gears }, 1);
		const { gears: _, ...rest } = full;
		return {
			...rest,
			...(gears[0] ? { gear: gears[0] } : {}),
			count: d.count,
			doneWhen: `${d.count} clean ${d.count === 1 ? 'pull' : 'pulls'}, without wheelspin or a lift`
		};
	}
	return {
		kind: d.kind,
		count: d.count,
		rpm: [from, to],
		minDurationS: d.seconds,
		how: `Hold the engine between ${from} and ${to} rpm ${GENTLY[d.kind]}, in whatever gear does that; a hill or a higher gear gives the load.`,
		doneWhen: `${d.seconds} seconds in all; short stretches count as well`
	};
}

/** A drive plan that asks for exactly what would settle most. */
export function planForDrives(
	drives: readonly AskedDrive[],
	vehicle: Vehicle,
	options: PlanOptions
): LogRequest {
	const hard = drives.some((d) => d.kind === 'pull');
	return planOf(
		'What is still open',
		{
			purpose: 'The places that nobody has measured well enough yet, and nothing else.',
			preparations: hard ? [WARM, MODES] : [WARM],
			manoeuvres: [idle(20), ...drives.map((d) => asked(d, vehicle, options))]
		},
		vehicle,
		options
	);
}

/** Cautions that go with every plan. */
export const ALWAYS: readonly string[] = [CAUTIONS.place, CAUTIONS.eyes, CAUTIONS.misfire, CAUTIONS.law];

export function planOf(title: string, parts: Parts, vehicle: Vehicle, options: PlanOptions): LogRequest {
	const hard = parts.manoeuvres.some((m) => m.kind === 'pull');
	return {
		schema: 'tanto.request/1',
		title,
		purpose: parts.purpose,
		channels: wantedChannels(vehicle, parts.nitrous ? { nitrous: true } : {}),
		manoeuvres: parts.manoeuvres,
		conditions: {
			...(hard ? { coolantMinC: 70, intakeOverAmbientMaxC: 20 } : {}),
			...(options.speedCapKmh === null ? {} : { speedCapKmh: options.speedCapKmh }),
			...parts.conditions
		},
		...(parts.preparations ? { preparations: parts.preparations } : {}),
		aborts: ABORTS,
		cautions: [
			...(parts.standing ? [] : [CAUTIONS.place]),
			CAUTIONS.eyes,
			CAUTIONS.misfire,
			...(parts.cautions ?? []),
			CAUTIONS.law
		]
	};
}
