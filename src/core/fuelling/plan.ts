/** The fuel and injector planner: how far injectors and pump go, with which blend, on a warm day and on the worst. */
import { list, fixed } from '../format.ts';
import type { Demand } from './demand.ts';
import { candidatesOf, type Candidate, type Goal } from './goal.ts';
import { dutyMaxOf } from './duty-limit.ts';

export interface PlanRow {
	flowCcMin: number;
	ethanolPct: number;
	dutyWarmPct: number;
	dutyWorstPct: number;
}

export interface FuelPlan {
	basis: Demand['basis'];
	now: { dutyPct: number | null };
	table: PlanRow[];
	/** Of the injectors that are in (else of the largest to choose from); `null` where even none is too much. */
	largestEthanolPct: number | null;
	/** With the goal's blend, of those to choose from, else any; `null` where none does. */
	smallestFlowCcMin: number | null;
	/** All injectors together on the worst day with the goal's blend, litres an hour. */
	fuelLh: number;
	pump: 'enough' | 'short' | 'unknown';
	/** In sentences. */
	says: string[];
}

const SHARES = [0, 10, 30, 50, 60, 70, 85];
/** The pump has to have this much in hand. Common practice. */
const PUMP_RESERVE = 1.1;
/** From about this share on nearly all of the benefit of ethanol is there (common practice). */
const ENOUGH_ETHANOL_PCT = 60;
/** Where nothing is there to choose from, flows are looked for in steps of this. */
const STEP_CC = 10;
const MOST_CC = 20_000;

/** @param own flow of the injectors that are in, cm³/min; `null` where it isn't stated */
export function planFuel(demand: Demand, goal: Goal, own: number | null, fuelEthanolPct: number): FuelPlan {
	const most = dutyMaxOf(goal);
	const ethanol = goal.ethanolPct ?? fuelEthanolPct;
	const candidates = candidatesOf(goal);
	const injectors: Candidate[] = candidates.length
		? [...new Map(candidates.map((c) => [c.flowCcMin, c])).values()].sort((a, b) => a.flowCcMin - b.flowCcMin)
		: own
			? [{ flowCcMin: own }]
			: [];
	const shares = [...new Set([...SHARES, ethanol])].sort((a, b) => a - b);
	const table = injectors.flatMap((injector) =>
		shares.map((ethanolPct) => ({
			flowCcMin: injector.flowCcMin,
			ethanolPct,
			dutyWarmPct: demand.dutyPct(injector, ethanolPct, 'warm'),
			dutyWorstPct: demand.dutyPct(injector, ethanolPct, 'worst')
		}))
	);
	const fits = (injector: Candidate, e: number) => demand.dutyPct(injector, e, 'worst') <= most;
	const carriedInjector = own ? { flowCcMin: own } : (injectors.at(-1) ?? null);
	const carried = carriedInjector?.flowCcMin ?? null;
	const largestEthanolPct = carriedInjector && largestShare((e) => fits(carriedInjector, e));
	const smallestFlowCcMin = candidates.length
		? (injectors.find((i) => fits(i, ethanol))?.flowCcMin ?? null)
		: smallestFlow((flowCcMin) => fits({ flowCcMin }, ethanol));
	const fuelLh = demand.fuelLh(ethanol);
	const pump =
		goal.pumpLh === undefined ? 'unknown' : goal.pumpLh >= fuelLh * PUMP_RESERVE - 1e-9 ? 'enough' : 'short';
	return {
		basis: demand.basis,
		now: { dutyPct: demand.nowPct },
		table,
		largestEthanolPct,
		smallestFlowCcMin,
		fuelLh,
		pump,
		says: [
			...(carriedInjector && carried !== null && !fits(carriedInjector, ethanol)
				? [
						largestEthanolPct === null
							? `Injectors of ${fixed(carried, 0)} cm³/min are too small for this with any blend.`
							: `With ${fixed(ethanol, 0)} % ethanol injectors of ${fixed(carried, 0)} cm³/min go over ${fixed(most, 0)} % on the worst day; up to ${fixed(largestEthanolPct, 0)} % they don’t.${
									largestEthanolPct >= ENOUGH_ETHANOL_PCT
										? ` From about ${ENOUGH_ETHANOL_PCT} % on nearly all of the benefit of ethanol is there: less of it is an answer.`
										: ''
								}`
					]
				: carried !== null
					? [
							`With ${fixed(ethanol, 0)} % ethanol injectors of ${fixed(carried, 0)} cm³/min stay under ${fixed(most, 0)} % on the worst day.`
						]
					: []),
			...(candidates.length && smallestFlowCcMin === null
				? [
						`None of ${list(injectors.map((i) => fixed(i.flowCcMin, 0)))} cm³/min stays under ${fixed(most, 0)} % on the worst day.`
					]
				: []),
			...(pump === 'short'
				? [
						`The pump is short: ${fixed(fuelLh, 0)} l/h are needed on the worst day and ${fixed(PUMP_RESERVE, 1)} times that belongs in hand; it brings ${fixed(goal.pumpLh!, 0)}.`
					]
				: [])
		]
	};
}

/** The largest whole share that fits; a blend needs the more fuel the more ethanol is in it. */
function largestShare(fits: (ethanolPct: number) => boolean): number | null {
	if (!fits(0)) return null;
	let low = 0;
	let high = 100;
	while (low < high) {
		const mid = Math.ceil((low + high) / 2);
		if (fits(mid)) low = mid;
		else high = mid - 1;
	}
	return low;
}

function smallestFlow(fits: (flow: number) => boolean): number | null {
	if (!fits(MOST_CC)) return null;
	let low = 1;
	let high = MOST_CC / STEP_CC;
	while (low < high) {
		const mid = Math.floor((low + high) / 2);
		if (fits(mid * STEP_CC)) high = mid;
		else low = mid + 1;
	}
	return low * STEP_CC;
}
