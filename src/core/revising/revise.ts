/** From screened logs of one revision to a proposal, and from accepted changes to the next calibration. */
import { canonical, inOwnUnits } from '../calibration/canonical.ts';
import type { Calibration } from '../calibration/document.ts';
import { proposeAir } from './air.ts';
import { answersTo } from './answers.ts';
import { proposeCylinders, raisedPct, withoutRemoval } from './cylinders.ts';
import type { Requirement } from '../correction/estimate.ts';
import { madeWith, type Evidence } from '../correction/evidence.ts';
import { asksForReset, proposeFuel, type FuelProposal } from './fuel.ts';
import { proposeInjectors } from './injectors.ts';
import { nextDrives } from './next-drive.ts';
import { proposeNitrous } from './nitrous.ts';
import { type Held, type ItemProposal, type Proposal } from './proposal.ts';
import { DEFAULT_STRATEGY, type Strategy } from '../correction/strategy.ts';
import { offerTargets } from './target.ts';
import { proposeTiming } from './timing.ts';

/**
 * @param evidence logs made with `base`, the revision that is to be changed, and logs of older ones that may still tell of the engine
 * @param base by default the revision of the first log
 */
export function propose(
	evidence: readonly Evidence[],
	strategy: Strategy = DEFAULT_STRATEGY,
	base: Calibration | null = evidence[0]?.input.calibration ?? null
): Proposal {
	return proposeWith(evidence, strategy, base).proposal;
}

/** The same, with what the fuel was worked out from; `null` where nothing could be. */
export function proposeWith(
	evidence: readonly Evidence[],
	strategy: Strategy,
	newest: Calibration | null
): { proposal: Proposal; requirement: Requirement | null } {
	const { proposal, requirement } = proposeCanonical(evidence, strategy, newest && canonical(newest));
	if (!newest) return { proposal, requirement };
	const own = (changes: readonly ItemProposal[]) =>
		changes.flatMap((c) => {
			const cells = c.adds ? c.cells : inOwnUnits(newest, c.item, c.cells);
			return cells.length ? [{ ...c, cells }] : [];
		});
	const { changes, offers } = proposal;
	return {
		proposal: { ...proposal, changes: own(changes), ...(offers ? { offers: own(offers) } : {}) },
		requirement
	};
}

/** @param base in canonical units, as the calibrations of the logs are */
function proposeCanonical(
	evidence: readonly Evidence[],
	strategy: Strategy,
	base: Calibration | null
): { proposal: Proposal; requirement: Requirement | null } {
	// Timing, cylinders, injectors and nitrous are judged by what the revision itself did.
	const own = base ? evidence.filter((e) => madeWith(e, base)) : [];
	const now = own.length ? own : evidence;
	const injectors = strategy.injectors ? proposeInjectors(now, strategy) : null;
	const trims = proposeCylinders(now, base, strategy);
	const fuel: FuelProposal = injectors
		? {
				changes: injectors.changes,
				held: [...injectors.held, ...waiting(now)],
				offers: [],
				requirement: null
			}
		: proposeFuel(evidence, base, strategy, raisedPct(trims, base));
	const cylinders = withoutRemoval(trims, keepsFuelIn(fuel.requirement));
	const nitrous = proposeNitrous(now, base);
	const timing = proposeTiming(now, base, strategy.cautious);
	const air = proposeAir(evidence, base, strategy);
	const { requirement } = fuel;
	const offers = [
		...fuel.offers,
		...(cylinders.offer ? [cylinders.offer] : []),
		...offerTargets(now, base),
		...air.offers
	];
	const changes = [
		...fuel.changes,
		...air.changes,
		...[cylinders.change, nitrous.change, timing.change].filter((c): c is ItemProposal => c !== null)
	];
	const silent = (requirement?.hearings ?? []).flatMap((h, log) =>
		h.silent === null ? [] : [{ log, reason: h.silent }]
	);
	const level = requirement?.level;
	const held = [...fuel.held, ...air.held, ...cylinders.held, ...nitrous.held, ...timing.held];
	const proposal: Proposal = {
		changes,
		held,
		answers: answersTo(evidence, requirement, changes, held),
		level: level ? { pct: rounded(level.pct), se: rounded(level.se) } : null,
		follows: (requirement?.follows ?? []).map((f) => ({
			...f,
			slope: rounded(f.slope),
			se: rounded(f.se)
		})),
		next: requirement ? nextDrives(requirement) : [],
		...(silent.length ? { silent } : {}),
		...(asksForReset(requirement, fuel.changes) ? { resetTrims: true } : {}),
		...(offers.length ? { offers } : {})
	};
	return { proposal, requirement };
}

/** Why no fuel may come out of a single cylinder; `null` where it may. */
function keepsFuelIn(requirement: Requirement | null): string | null {
	if (!requirement) return 'nothing is known of the mixture as a whole';
	return requirement.knocks
		? 'it knocks, and a richer mixture may be what keeps it quiet. Timing first'
		: null;
}

const rounded = (v: number) => Math.round(v * 1000) / 1000;

/** What waits while the injector data are dialled in. */
function waiting(evidence: readonly Evidence[]): Held[] {
	const model = evidence[0]?.input.calibration?.fuelModel;
	return [
		{
			item: model === 'maf' ? 'maf.curve' : 'fuel.table',
			reason: 'the injectors were changed: their data come first, on the ordinary fuel'
		}
	];
}
