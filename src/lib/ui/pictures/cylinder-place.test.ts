import { describe, expect, it } from 'vitest';
import { profileOf } from '$core/limits/profile';
import { cylinderPlace, type CylinderFigures } from './cylinder-place';

const limits = profileOf({});
const figures = (more: Partial<CylinderFigures> = {}): CylinderFigures => ({
	cylinder: 3,
	lambdaPct: null,
	knockDeg: null,
	misfires: null,
	egtC: null,
	trimPct: null,
	...more
});
const place = (more: Partial<CylinderFigures>, flags?: ('wet' | 'specks')[]) =>
	cylinderPlace(
		figures(more),
		flags ? { cylinder: 3, flags } : null,
		limits,
		(c) => `${Math.round(c * 1.8 + 32)} °F`
	);

describe('a cylinder in the picture of the engine', () => {
	it.each([
		[{ lambdaPct: limits.cylLambdaStopPct }, 'stop'],
		[{ lambdaPct: limits.cylLambdaFixPct }, 'fix'],
		[{ lambdaPct: limits.cylLambdaWatchPct }, 'watch'],
		[{ lambdaPct: limits.cylLambdaWatchPct - 0.1 }, null],
		// However rich: it isn't hurt by it.
		[{ lambdaPct: -2 * limits.cylLambdaStopPct }, 'watch'],
		[{ knockDeg: limits.cylKnockFixDeg }, 'fix'],
		[{ knockDeg: limits.cylKnockWatchDeg }, 'watch'],
		[{ misfires: 1 }, 'fix'],
		[{ misfires: 0 }, null],
		[{}, null]
	] as const)('%o is %s', (figures, state) => expect(place(figures).state).toBe(state));

	it('stops for a plug that broke, and not for one that is wet', () => {
		expect(place({}, ['specks']).state).toBe('stop');
		expect(place({}, ['wet']).state).toBeNull();
	});

	it('says what is known of it, and nothing of what isn’t', () => {
		expect(place({}).lines).toEqual([]);
		expect(
			place({ atRpm: 5500, knockDeg: 0.25, misfires: 2, egtC: 900, trimPct: 3 }).lines.map((l) => l.value)
		).toEqual(['5500 rpm', '0.3°', '2', '1652 °F', '+3.0 %']);
	});
});
