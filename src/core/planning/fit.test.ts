import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith } from '../testing/hand-made.ts';
import { screen } from '../screening/screen.ts';
import { askAgain, fitOf } from './fit.ts';
import { parseRequest } from '../request.ts';

const vehicle = vehicleWith(
	{},
	{ transmission: { gears: [3.4, 2.1, 1.45], finalDrive: 3.9, tyreCircumferenceM: 1.95 } }
);
const request = (more: object) => parseRequest({ schema: 'tanto.request/1', ...more });
const fit = (shapes: Record<string, (t: number) => number>, req: object = {}) =>
	fitOf(screen(handMade(40, 20, shapes), { vehicle, request: request(req) }));

describe('whether a log will do, in plain words', () => {
	it('a log with what was asked for will do', () => {
		const f = fit(pullShapes(), { manoeuvres: [{ kind: 'pull' }], channels: ['rpm', 'map', 'lambda.b1'] });
		expect(f).toMatchObject({ willDo: true, lacks: [], careful: false });
		expect(f.has.join(' ')).toContain('1 full-throttle pull');
	});
	it('says which gear is missing', () => {
		const shapes = { ...pullShapes(), gear: () => 2 };
		const f = fit(shapes, { manoeuvres: [{ kind: 'pull', gears: [2, 3] }] });
		expect(f.willDo).toBe(false);
		expect(f.lacks[0]).toContain('a full-throttle pull in gear 3');
	});
	it('names channels that were not recorded, and those that came too slowly', () => {
		const missing = fit(pullShapes(), { channels: ['rpm', 'spark'] });
		expect(missing.lacks[0]).toContain('Not recorded: timing');
		const slow = fitOf(
			screen(handMade(40, 5, pullShapes()), {
				vehicle,
				request: request({ channels: [{ id: 'rpm', minRateHz: 20 }] })
			})
		);
		expect(slow.lacks.join(' ')).toContain('Recorded too slowly: engine speed');
	});
	it('something dangerous makes it careful, but it is sent all the same', () => {
		const f = fit({ ...pullShapes(), 'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.95 : 1) });
		expect(f.careful).toBe(true);
		expect(f.willDo).toBe(true);
	});
	it('asking again lists what was wrong', () => {
		const report = screen(handMade(40, 20, pullShapes()), {
			vehicle,
			request: request({ channels: ['spark'] })
		});
		expect(askAgain(report, 'drive.csv')).toMatch(/“drive\.csv”[\s\S]*– Not recorded: timing/);
	});
});
