/** From screened logs of one revision to a proposal, and from accepted changes to the next calibration. */
import { z } from 'zod';
import { InputError } from '../input-error.ts';
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
import {
	cellChangeSchema,
	type CellChange,
	type Held,
	type ItemProposal,
	type Proposal
} from './proposal.ts';
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

/** A change in a draft: accepted from a proposal, or made by hand, with its reason. Curves have y = 0, scalars x = y = 0. */
export const draftChangeSchema = cellChangeSchema.extend({
	item: z.string(),
	basis: z.enum(['measured', 'carried', 'hand']),
	reason: z.string().max(2000),
	findings: z.array(z.string())
});
export type DraftChange = z.infer<typeof draftChangeSchema>;

/** A change that no log stands behind. */
export function byHand(
	item: string,
	{ x, y }: { x: number; y: number },
	from: number,
	to: number,
	reason: string
): DraftChange {
	return { item, x, y, from, to, basis: 'hand', samples: 0, se: null, reason, findings: [] };
}

type Target = Pick<CellChange, 'x' | 'y' | 'to'>;

/** Changes by item, as `withChanges` takes them. */
export function grouped(changes: readonly DraftChange[]): { item: string; cells: Target[] }[] {
	const byItem = new Map<string, Target[]>();
	for (const c of changes) {
		const cells = byItem.get(c.item);
		if (cells) cells.push(c);
		else byItem.set(c.item, [c]);
	}
	return [...byItem].map(([item, cells]) => ({ item, cells }));
}

/**
 * The calibration with changes applied; the given one is left as it is.
 * @throws InputError when a change names a cell that the calibration doesn't have
 */
export function withChanges(
	calibration: Calibration,
	changes: readonly { item: string; cells: readonly Target[] }[]
): Calibration {
	const next = structuredCopy(calibration);
	for (const change of changes) {
		const item = next.items.find((i) => i.id === change.item);
		if (!item || item.kind === 'setting') throw new InputError(`no table is called "${change.item}"`);
		for (const cell of change.cells) {
			if (item.kind === 'scalar') {
				item.value = cell.to;
				continue;
			}
			const c = item.x.points.indexOf(cell.x);
			const r = item.kind === 'map' ? item.y.points.indexOf(cell.y) : 0;
			if (c < 0 || r < 0) throw new InputError(`${change.item} has no cell at ${cell.x} / ${cell.y}`);
			if (item.kind === 'map') item.values[r]![c] = cell.to;
			else item.values[c] = cell.to;
		}
	}
	return next;
}

/** Calibrations are plain JSON: a round trip copies them faithfully. */
export function structuredCopy(calibration: Calibration): Calibration {
	return JSON.parse(JSON.stringify(calibration)) as Calibration;
}
