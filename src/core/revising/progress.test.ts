import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { correctionCells } from '../evidence/cells/correction-map.ts';
import { pullCurves } from '../evidence/segments/pull-curves.ts';
import { handMade, pullShapes, vehicleWith } from '../testing/hand-made.ts';
import { progressStep } from './progress.ts';

const step = (lean: number, knock = 0) => {
	const shapes = pullShapes();
	const input = prepare(
		handMade(60, 20, {
			...shapes,
			'lambda.b1': (t) => shapes['lambda.b1']!(t) * lean,
			knockRetard: (t) => (t > 12 && t < 13 ? knock : 0)
		}),
		{ vehicle: vehicleWith() }
	);
	return progressStep(correctionCells(input), pullCurves(input));
};

describe('the progress of a job', () => {
	it('is the error of the visited cells, their share within 2 %, and the worst of the pulls', () => {
		const lean = step(1.05, 3);
		expect(lean.errorPct).toBeCloseTo(5, 1);
		expect(lean.withinPct).toBe(0);
		expect(lean.leanestPct).toBeCloseTo(5, 1);
		expect(lean.knockDeg).toBe(3);
		expect(step(1.001)).toMatchObject({ withinPct: 100, knockDeg: 0 });
	});
	it('is nothing where nothing was measured', () => {
		expect(progressStep(null, [])).toEqual({
			errorPct: null,
			withinPct: null,
			leanestPct: null,
			knockDeg: null,
			dutyPct: null
		});
	});
});
