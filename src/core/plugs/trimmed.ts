/** Trims by cylinder as changes of a revision. */
import type { Calibration } from '../calibration/document.ts';
import type { ItemProposal } from '../revising/proposal.ts';
import { withChanges } from '../revising/changes.ts';
import type { TrimChange } from './judge.ts';

/** One proposal for each reason, so that each cell keeps its own. */
export function proposalsOf(changes: readonly TrimChange[]): ItemProposal[] {
	return changes.map(({ item, cylinder, from, to, reason }) => ({
		item,
		cells: [{ x: cylinder, y: 0, from, to, basis: 'measured', samples: 1, se: null }],
		reason: `Cylinder ${cylinder}: ${reason.charAt(0).toLowerCase()}${reason.slice(1)}`,
		findings: []
	}));
}

/** The calibration with the trims in it. */
export const trimmed = (calibration: Calibration, changes: readonly TrimChange[]): Calibration =>
	withChanges(calibration, proposalsOf(changes));
