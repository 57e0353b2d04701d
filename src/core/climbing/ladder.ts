/**
 * The ladder: the rung that comes next, its gates with what opens them, and its changes. Sensors and base timing, banks and cylinders, fuel,
 * knock, boost, timing, in that order (common practice). Climbing is a person's decision with a written reason; this only says what is ready.
 */
import { plain as plainText } from '../format.ts';
import { propose } from '../revising/revise.ts';
import { absolute, canonical, inOwnUnits } from '../calibration/canonical.ts';
import { STANDARD_KPA } from '../calibration/resample.ts';
import { actsOn } from '../calibration/items.ts';
import type { ItemProposal } from '../revising/proposal.ts';
import { GATE_IDS, type Gate, type GateId, type LadderCase } from './case.ts';
import { gainByRoad, gainWords, NOTHING_PCT, rungsOf } from './gain.ts';
import { gatesOf } from './gates.ts';
import { provenIn, type Proven } from './past.ts';
import { blownStep, boostStep } from './boost-rung.ts';
import type { Rung } from './step.ts';
import { stepsOf, type Step } from './steps.ts';
import { backTo, finalTiming, retreat, timingEnd, timingStep } from './timing-rung.ts';
import { shiftsOf, type ShiftAnswer } from './shifts.ts';
import { throttleOf, type ThrottleAnswer } from './throttle.ts';

export interface LadderAnswer {
	rung: Rung;
	gates: Gate[];
	/** As `revise` proposes; empty while a gate is closed. */
	changes: ItemProposal[];
	/** Why it doesn't go on; `null` while it does. */
	end: { reason: string } | null;
	/** How the rung is driven, where no table sets it; `null` where one does, and while a gate is closed. */
	drive: string | null;
	/** The same with its quantities marked, for a reader's units. */
	driveSaid?: string;
	/** Full-throttle shifts towards the wanted speeds, beside the rung; no changes while the verdict is closed. */
	shifts: ShiftAnswer;
	/** A throttle that stays short of open: whose limit, and the demand table where that is what closes it; the same of its changes. */
	throttle: ThrottleAnswer;
	/** What each step reached and brought, the oldest first, the one in the car last. */
	steps: Step[];
	/** In which air and on which fuel the newest log proves the rung; `null` without a log. */
	proven: Proven | null;
}

/** Gates that a rung of fuel stands behind: the others are what it is driven for. */
const FOR_FUEL: readonly GateId[] = ['revision', 'banks', 'sensors', 'misfire'];
const FOR_RETREAT: readonly GateId[] = ['revision'];

export function ladderOf(asked: LadderCase): LadderAnswer {
	// One day's air for all of it: that of the newest log. The changes go back in the units of the document.
	const baroKpa = asked.logs.at(-1)?.input.segments.baroKpa ?? STANDARD_KPA;
	const c = {
		...asked,
		calibration: absolute(asked.calibration, baroKpa),
		inCar: canonical(asked.calibration)
	};
	const own = (changes: readonly ItemProposal[]) =>
		changes.flatMap((p) => {
			const cells = inOwnUnits(asked.calibration, p.item, p.cells, baroKpa);
			return cells.length ? [{ ...p, cells }] : [];
		});
	const plain = (kind: Rung['kind']): Rung => ({ kind, from: null, to: null });
	const boost = boostStep(c) ?? blownStep(c);
	const gates = gatesOf(c, boost?.rung.to ?? null);
	const closed = (id: GateId) => gates.find((g) => g.id === id)?.open === false;
	// Neither is a rung, and both ask more of the engine: not over a stop or a fix.
	const beside = <T extends { changes: ItemProposal[] }>(a: T): T => ({
		...a,
		changes: closed('verdict') ? [] : own(a.changes)
	});
	const shifts = beside(shiftsOf(c));
	const throttle = beside(throttleOf(c));
	const answer = (
		rung: Rung,
		behind: readonly GateId[],
		changes: ItemProposal[],
		end: string | null = null
	): LadderAnswer => ({
		rung,
		gates,
		changes: gates.every((g) => g.open || !behind.includes(g.id)) ? changes : [],
		end: end === null ? null : { reason: end },
		drive: null,
		shifts,
		throttle,
		steps: stepsOf(rungsOf(c)),
		proven: provenIn(c.logs)
	});
	if (c.logs.length === 0) return answer(plain('fuel'), GATE_IDS, []);
	if (closed('banks')) return answer(plain('banks'), GATE_IDS, []);
	if (closed('fuel') && !closed('misfire')) {
		const evidence = c.logs.map(({ input, report }) => ({ input, findings: report.findings }));
		const fuel = propose(evidence, undefined, asked.calibration).changes.filter((p) =>
			actsOn(p.item, 'fuel')
		);
		if (fuel.length) return answer(plain('fuel'), FOR_FUEL, fuel);
		return answer(plain('fuel'), GATE_IDS, []);
	}
	if (closed('knock')) {
		const back = retreat(c);
		return back
			? answer(
					back.rung,
					FOR_RETREAT,
					own(back.changes),
					'It knocked: no further step on this fuel. Another fuel, or the mixture and the air, come first.'
				)
			: answer(plain('timing'), GATE_IDS, []);
	}
	if (boost)
		return {
			...answer(boost.rung, GATE_IDS, own(boost.changes)),
			...(boost.drive && gates.every((g) => g.open)
				? { drive: plainText(boost.drive), driveSaid: boost.drive }
				: {})
		};
	const gain = gainByRoad(rungsOf(c));
	if (gain && gain.upperPct < NOTHING_PCT) {
		const end = `It takes the timing, but gives nothing for it: ${gainWords(gain)}. Back to the lower.`;
		const back = backTo(c, gain.lowest);
		return back
			? answer(back.rung, FOR_RETREAT, own(back.changes), end)
			: answer(plain('done'), GATE_IDS, [], end);
	}
	const timing = timingStep(c);
	if (timing) return answer(timing.rung, GATE_IDS, own(timing.changes));
	if (c.goal.timingCeilingDeg === undefined)
		return answer(
			plain('done'),
			GATE_IDS,
			[],
			'The boost of the goal is reached, and no timing ceiling is set: no timing is added without one.'
		);
	// Behind a closed gate nothing is at its end.
	if (gates.some((g) => !g.open)) return answer(plain('timing'), GATE_IDS, []);
	const ended = `The goal is reached: boost and timing are where they were wanted, as far as the log says. ${timingEnd(c)}`;
	const final = finalTiming(c);
	return final
		? answer(final.rung, FOR_RETREAT, own(final.changes), ended)
		: answer(plain('done'), GATE_IDS, [], ended);
}
