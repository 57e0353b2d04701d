/** The gates of a rung, all of them at every answer: each open or closed, with its reason and what opens it, and whether it was looked at. */
import { findItem, findMap, numberOf } from '../calibration/lookup.ts';
import { fixed, hasQuantities, list, marked, markedBy, plain } from '../format.ts';
import { madeWith } from '../correction/evidence.ts';
import { fuelFactor, reserveOf } from '../screening/reserve.ts';
import { ambientOf } from '../evidence/ambient.ts';
import { boostControlOf, worstDayAir } from '../screening/checks/worst-day.ts';
import { withWorstDay } from '../fuelling/goal.ts';
import { dutyMaxOf } from '../fuelling/duty-limit.ts';
import { unreadable } from '../plugs/judge.ts';
import { rank, type Finding, type Severity } from '../screening/types.ts';
import { bankCount } from '../vehicle/facts.ts';
import { GATE_IDS, type Gate, type GateId, type LadderCase, type ScreenedLog } from './case.ts';
import { timingLine } from '../delivered/timing.ts';

/** Axes and sensor have to reach this far beyond the next set point, kPa. Own choice. */
const BEYOND_KPA = 25;
/** The boost cut stands this far over the next set point, kPa. Own choice. */
const CUT_OVER_KPA: [number, number] = [5, 20];
/** Duty on the worst day that a rung may ask for. Own choice. */
const WORST_DUTY_PCT = 90;
/** Plugs count for this rung when they saw its boost. Own choice. */
const PLUGS_WITHIN_KPA = 10;

const TITLES: Record<GateId, string> = {
	revision: 'the last log was made with this revision',
	verdict: 'nothing is at stop or to fix',
	banks: 'the banks agree',
	sensors: 'the readings can be believed',
	fuel: 'the mixture is within 3 % of its target',
	knock: 'no knock',
	delivered: 'the timing of the table reaches the engine',
	duty: 'the injectors have room for it',
	axes: 'tables and sensor reach far enough',
	limitBoost: 'the boost cut stands right over it',
	overshoot: 'boost doesn’t overshoot',
	intake: 'intake air has room',
	exhaust: 'exhaust temperature has room',
	supply: 'fuel pressure and voltage hold',
	baseTiming: 'base timing is verified',
	plugs: 'the plugs were read at this step',
	misfire: 'nothing misfires'
};

/** Findings of the newest log that close a gate, from a severity on; and checks that have to have been made. */
const BY_FINDINGS: Partial<Record<GateId, { codes: string[]; from: Severity; made?: string[] }>> = {
	sensors: {
		codes: ['sensor.lambda', 'sensor.map', 'log.sensor', 'log.units', 'sensor.ethanol', 'log.timebase'],
		from: 'fix'
	},
	fuel: {
		codes: ['fuel.lean', 'fuel.rich', 'trim.limit', 'fuel.target', 'trim.reset'],
		from: 'watch',
		made: ['fuel.lean']
	},
	knock: {
		codes: ['knock.real', 'knock.blips', 'knock.unclear', 'knock.missed', 'knock.disabled', 'cyl.knock'],
		from: 'watch',
		made: ['knock.real']
	},
	overshoot: { codes: ['boost.over'], from: 'watch' },
	intake: { codes: ['temp.intake'], from: 'watch', made: ['temp.intake'] },
	exhaust: { codes: ['temp.exhaust', 'cyl.egt'], from: 'watch' },
	supply: {
		codes: ['supply.pressure', 'volt.supply', 'inj.duty', 'oil.pressure', 'temp.coolant'],
		from: 'fix'
	},
	misfire: { codes: ['misfire', 'misfire.suspected'], from: 'note' }
};

const titled = (findings: readonly Finding[]) => list(findings.map((f) => f.said?.title ?? f.title));

/**
 * @param nextKpa highest set point of the next rung, kPa absolute; `null` where it isn't one of boost
 */
export function gatesOf(c: LadderCase, nextKpa: number | null): Gate[] {
	const newest = c.logs.at(-1) ?? null;
	const gate = (id: GateId, closed: string | null, seen = '', checked = true): Gate => {
		const said = closed ?? (seen || `${TITLES[id].charAt(0).toUpperCase()}${TITLES[id].slice(1)}.`);
		return { id, open: closed === null, checked, why: plain(said), ...(hasQuantities(said) ? { said } : {}) };
	};
	/** Not looked at, and nothing that this job could or need look at. */
	const beside = (id: GateId, why: string): Gate => gate(id, null, why, false);
	if (!newest)
		return GATE_IDS.map((id) =>
			id === 'revision'
				? gate(id, 'No log was made with this revision: log first.')
				: gate(id, 'Not looked at: there is no log of this revision.', '', false)
		);
	const { findings, checks } = newest.report;
	const at = (codes: readonly string[], from: Severity) =>
		findings.filter((f) => codes.includes(f.code) && rank(f.severity) <= rank(from));
	const byFindings = (id: GateId): Gate => {
		const { codes, from, made = [] } = BY_FINDINGS[id]!;
		const found = at(codes, from);
		if (found.length) return gate(id, `${titled(found)}: settle it first.`);
		const unmade = checks.filter((k) => codes.includes(k.code) && k.outcome === 'not-checked');
		const missing = unmade.find((k) => made.includes(k.code));
		if (missing) return gate(id, `Not checked: ${missing.reason}. Log it.`, '', false);
		const looked = checks.some((k) => codes.includes(k.code) && k.outcome !== 'not-checked');
		return looked
			? gate(id, null)
			: beside(id, `Not looked at: ${unmade[0]?.said ?? unmade[0]?.reason ?? 'not in this log'}.`);
	};
	const boosted = c.vehicle.engine.aspiration !== 'na';
	return [
		gate(
			'revision',
			!madeWith({ input: newest.input, findings }, c.inCar ?? c.calibration) ||
				at(['log.revision'], 'fix').length
				? 'The last log was made with another revision: log with this one.'
				: null
		),
		verdict(newest, gate),
		banks(c, newest, gate),
		byFindings('sensors'),
		byFindings('fuel'),
		byFindings('knock'),
		gate('delivered', undelivered(newest.input)),
		duty(c, newest, nextKpa, gate),
		...(boosted && nextKpa !== null
			? [axes(c, nextKpa, gate), limitBoost(c, nextKpa, gate)]
			: [
					beside('axes', 'Not looked at: the next step is none of boost.'),
					beside('limitBoost', 'Not looked at: the next step is none of boost.')
				]),
		boosted ? byFindings('overshoot') : beside('overshoot', 'The engine has no boost.'),
		byFindings('intake'),
		byFindings('exhaust'),
		byFindings('supply'),
		gate('baseTiming', baseTiming(c)),
		plugs(c, newest, gate),
		byFindings('misfire')
	];
}

type Make = (id: GateId, closed: string | null, seen?: string, checked?: boolean) => Gate;

function verdict({ report }: ScreenedLog, gate: Make): Gate {
	const bad = report.findings.filter((f) => f.severity === 'stop' || f.severity === 'fix');
	return gate('verdict', bad.length ? `${titled(bad)}: settle it first.` : null);
}

function banks(c: LadderCase, { report }: ScreenedLog, gate: Make): Gate {
	if (bankCount(c.vehicle) === 1) return gate('banks', null, 'The engine has one bank.', false);
	// A bank without a sensor of its own is seen by one that was moved there.
	const seen = c.banksSeen ?? null;
	const found = report.findings.filter(
		(f) => (f.code === 'bank.mismatch' || (f.code === 'bank.unseen' && !seen)) && f.severity !== 'note'
	);
	if (found.length) return gate('banks', `${titled(found)}: find the cause first.`);
	const unmade = report.checks.find((k) => k.code === 'bank.mismatch' && k.outcome === 'not-checked');
	return gate(
		'banks',
		unmade && !seen ? `Not checked: ${unmade.reason}. Log each bank.` : null,
		seen ?? '',
		!unmade || seen !== null
	);
}

function baseTiming(c: LadderCase): string | null {
	const item = findItem(c.calibration, 'spark.baseVerified');
	return item?.kind === 'setting' && String(item.value).trim() !== ''
		? null
		: 'Nobody has checked with a timing light that the controller knows where the crank is: verify it and write it down.';
}

function duty(c: LadderCase, { input }: ScreenedLog, nextKpa: number | null, gate: Make): Gate {
	const { frame, segments, vehicle } = input;
	const profile = withWorstDay(input.profile, c.goal);
	const map = frame.get('map');
	const iat = frame.get('iat');
	const limitRpm = c.goal.revLimitRpm ?? vehicle.engine.revLimitRpm;
	const nowPct = vehicle.fuel?.ethanolPct ?? 0;
	const factor =
		vehicle.fuel?.stoich === undefined ? fuelFactor(nowPct, Math.max(nowPct, c.goal.ethanolPct ?? 0)) : 1;
	const topKpa = frame.bounds('map')?.max ?? Number.NaN;
	const more = nextKpa !== null && topKpa > 0 ? Math.max(1, nextKpa / topKpa) : 1;
	const ambientC = ambientOf(input);
	const control = boostControlOf(vehicle);
	const now = reserveOf(input, { air: () => more, factor, limitRpm });
	const worst = reserveOf(input, {
		air: (i) =>
			more *
			worstDayAir(
				control,
				{
					mapKpa: map?.[i] ?? segments.baroKpa,
					iatC: iat?.[i] ?? ambientC,
					ambientC,
					baroKpa: segments.baroKpa
				},
				profile
			),
		factor,
		limitRpm
	});
	if ('why' in now || 'why' in worst)
		return gate(
			'duty',
			`Not checked: ${'why' in now ? now.why : 'why' in worst ? worst.why : ''}. Log it.`,
			'',
			false
		);
	const most = dutyMaxOf(c.goal);
	const seen = `${fixed(now.level, 0)} % now and ${fixed(worst.level, 0)} % on the worst day`;
	return gate(
		'duty',
		now.level > most || worst.level >= WORST_DUTY_PCT
			? `The next step takes the injectors to ${seen}; at most ${fixed(most, 0)} % and ${WORST_DUTY_PCT} %: larger injectors, or less ethanol.`
			: null,
		`Duty ${seen}.`
	);
}

function axes(c: LadderCase, nextKpa: number, gate: Make): Gate {
	const need = nextKpa + BEYOND_KPA;
	const short = ['fuel.table', 'spark.table', 'lambda.target'].flatMap((id) => {
		const table = findMap(c.calibration, id);
		if (!table || table.y.channel !== 'map') return [];
		const top = table.y.points.at(-1)!;
		return top < need
			? [
					`${id === 'fuel.table' ? 'fuel' : id === 'spark.table' ? 'timing' : 'target'} to ${marked(top, 'kPa abs')}`
				]
			: [];
	});
	const scale = c.vehicle.sensors?.mapFullScaleKpa;
	if (scale !== undefined && scale < need) short.push(`the pressure sensor to ${marked(scale, 'kPa abs')}`);
	return gate(
		'axes',
		short.length
			? `${list(short)}; ${marked(need, 'kPa abs')} are needed: extend the axis or the sensor.`
			: null
	);
}

function limitBoost(c: LadderCase, nextKpa: number, gate: Make): Gate {
	const cut = numberOf(c.calibration, 'limit.boost');
	const [least, most] = CUT_OVER_KPA;
	if (cut === null)
		return gate('limitBoost', 'The calibration has no boost cut: what ends it when it overshoots?');
	const over = cut - nextKpa;
	return gate(
		'limitBoost',
		over < least || over > most
			? `The boost cut stands ${markedBy(over, 'kPa', 0, true)} over the next set point; ${markedBy(least, 'kPa')} to ${markedBy(most, 'kPa')} is right.`
			: null
	);
}

function plugs(c: LadderCase, { input }: ScreenedLog, gate: Make): Gate {
	if (!c.goal.plugsEachRung && !c.plugs) return gate('plugs', null, 'This job doesn’t ask for plugs.', false);
	if (!c.plugs) return gate('plugs', 'The job asks for plugs at every step: pull and read them.');
	const { document, answer } = c.plugs;
	const top = input.frame.bounds('map')?.max ?? Number.NaN;
	const bad = answer.findings.filter((f) => f.code === 'cyl.plug');
	if (bad.length) return gate('plugs', `${list(bad.map((f) => f.title))}: settle it first.`);
	const why = unreadable(document);
	if (why) return gate('plugs', `Not readable: ${why}.`);
	if (document.boostKpa !== undefined && Math.abs(document.boostKpa - top) > PLUGS_WITHIN_KPA)
		return gate(
			'plugs',
			`The plugs saw ${marked(document.boostKpa, 'kPa abs')} and the log ${marked(top, 'kPa abs')}: read them at this step.`
		);
	return gate('plugs', null);
}

/** Why nobody can say that the timing of the table reaches the engine; null where it does. */
function undelivered(input: ScreenedLog['input']): string | null {
	const { links, broken } = timingLine(input);
	const missing = (name: string) => links.find((l) => l.name === name)?.missing ?? null;
	return broken?.why ?? missing('delivered') ?? missing('written');
}
