/** The fuel and injector planner: how far injectors and pump go, with which blend, on a warm day and on the worst. */
import { list, fixed } from '../format.ts';
import type { Demand } from './demand.ts';
import { dutyMaxOf, type Goal } from './goal.ts';

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
	const flows = goal.candidatesCcMin?.length
		? [...new Set(goal.candidatesCcMin)].sort((a, b) => a - b)
		: own
			? [own]
			: [];
	const shares = [...new Set([...SHARES, ethanol])].sort((a, b) => a - b);
	const table = flows.flatMap((flowCcMin) =>
		shares.map((ethanolPct) => ({
			flowCcMin,
			ethanolPct,
			dutyWarmPct: demand.dutyPct(flowCcMin, ethanolPct, 'warm'),
			dutyWorstPct: demand.dutyPct(flowCcMin, ethanolPct, 'worst')
		}))
	);
	const fits = (flow: number, e: number) => demand.dutyPct(flow, e, 'worst') <= most;
	const carried = own ?? flows.at(-1) ?? null;
	const largestEthanolPct = carried === null ? null : largestShare((e) => fits(carried, e));
	const smallestFlowCcMin = goal.candidatesCcMin?.length
		? (flows.find((f) => fits(f, ethanol)) ?? null)
		: smallestFlow((f) => fits(f, ethanol));
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
			...(carried !== null && !fits(carried, ethanol)
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
			...(goal.candidatesCcMin?.length && smallestFlowCcMin === null
				? [
						`None of ${list(flows.map((f) => fixed(f, 0)))} cm³/min stays under ${fixed(most, 0)} % on the worst day.`
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
