/** From screened logs of one revision to a proposal, and from accepted changes to the next calibration. */
import { InputError } from '../input-error.ts';
import type { Calibration } from '../calibration/document.ts';
import { FUEL_DEFAULTS, proposeFuel, type Evidence, type FuelStrategy } from './fuel.ts';
import type { ItemProposal, Proposal } from './proposal.ts';
import { proposeTiming } from './timing.ts';

/** @param evidence logs made with one and the same revision */
export function propose(evidence: readonly Evidence[], strategy: FuelStrategy = FUEL_DEFAULTS): Proposal {
	const fuel = proposeFuel(evidence, strategy);
	const timing = proposeTiming(evidence);
	return {
		changes: [fuel.change, timing.change].filter((c): c is ItemProposal => c !== null),
		held: [...fuel.held, ...timing.held]
	};
}

/**
 * The calibration with accepted changes; the given one is left as it is.
 * @throws InputError when a change names a cell that the calibration doesn't have
 */
export function withChanges(calibration: Calibration, changes: readonly ItemProposal[]): Calibration {
	const next = structuredCopy(calibration);
	for (const change of changes) {
		const item = next.items.find((i) => i.id === change.item);
		if (item?.kind !== 'map') throw new InputError(`no table is called "${change.item}"`);
		for (const cell of change.cells) {
			const c = item.x.points.indexOf(cell.x);
			const r = item.y.points.indexOf(cell.y);
			if (c < 0 || r < 0) throw new InputError(`${change.item} has no cell at ${cell.x} / ${cell.y}`);
			item.values[r]![c] = cell.to;
		}
	}
	return next;
}

/** Calibrations are plain JSON: a round trip copies them faithfully. */
export function structuredCopy(calibration: Calibration): Calibration {
	return JSON.parse(JSON.stringify(calibration)) as Calibration;
}
