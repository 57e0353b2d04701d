/** From screened logs of one revision to a proposal, and from accepted changes to the next calibration. */
import { z } from 'zod';
import { InputError } from '../input-error.ts';
import type { Calibration } from '../calibration/document.ts';
import { proposeCylinders } from './cylinders.ts';
import { proposeFuel, type Evidence } from './fuel.ts';
import { proposeInjectors } from './injectors.ts';
import { proposeNitrous } from './nitrous.ts';
import {
	cellChangeSchema,
	type CellChange,
	type Held,
	type ItemProposal,
	type Proposal
} from './proposal.ts';
import { DEFAULT_STRATEGY, type Strategy } from './strategy.ts';
import { proposeTiming } from './timing.ts';

/** @param evidence logs made with one and the same revision */
export function propose(evidence: readonly Evidence[], strategy: Strategy = DEFAULT_STRATEGY): Proposal {
	const injectors = strategy.injectors ? proposeInjectors(evidence, strategy) : null;
	const fuel = injectors
		? { changes: injectors.changes, held: [...injectors.held, ...waiting(evidence)], offers: [] }
		: proposeFuel(evidence, strategy);
	const cylinders = proposeCylinders(evidence, strategy);
	const nitrous = proposeNitrous(evidence);
	const timing = proposeTiming(evidence);
	const offers = fuel.offers;
	return {
		changes: [
			...fuel.changes,
			...[cylinders.change, nitrous.change, timing.change].filter((c): c is ItemProposal => c !== null)
		],
		held: [...fuel.held, ...cylinders.held, ...nitrous.held, ...timing.held],
		...(offers.length ? { offers } : {})
	};
}

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
