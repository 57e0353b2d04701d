import { expect, it } from 'vitest';
import { prepare } from '../evidence/prepare.ts';
import { handMade, inPull, perCylinder, pullShapes, v6 } from '../testing/hand-made.ts';
import { cylinderLevels } from './cylinder-levels.ts';

const levels = (more: object) =>
	cylinderLevels(prepare(handMade(30, 20, { ...pullShapes(), ...more }), { vehicle: v6, calibrations: [] }));

it('one number a kind for each cylinder', () => {
	const all = levels({
		...perCylinder('lambda', (c) => (t) => (inPull(t) ? 0.8 : 1) * (c === 4 ? 1.05 : 1)),
		...perCylinder('knockRetard', (c) => (t) => (c === 2 && t > 13 && t < 14 ? 2.5 : 0)),
		...perCylinder('misfire', (c) => (t) => (c === 6 ? Math.floor(t / 10) : 0))
	});
	expect(all).toHaveLength(6);
	expect(all[3]!.lambdaPct).toBeCloseTo(5, 1);
	expect(all[0]!.lambdaPct).toBeCloseTo(0, 6);
	expect(all.map((c) => c.knockDeg)).toEqual([0, 2.5, 0, 0, 0, 0]);
	expect(all.map((c) => c.misfires)).toEqual([0, 0, 0, 0, 0, 2]);
	expect(all.every((c) => c.egtC === null && c.trimPct === null)).toBe(true);
});

it('nothing where no channel knows cylinders apart', () => {
	expect(levels({})).toEqual([]);
});
