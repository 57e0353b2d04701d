import { describe, expect, it } from 'vitest';
import { prepare } from '../evidence/prepare.ts';
import { parseGoal } from '../fuelling/goal.ts';
import { screenPrepared } from '../screening/screen.ts';
import { handMade, inPull, pullShapes, vehicleWith, calibrationWith } from '../testing/hand-made.ts';
import { throttleOf } from './throttle.ts';

const rpmAt = (t: number) => 2500 + ((t - 10) / 6) * 4000;
/** A flat pedal in the pull, the throttle as `opening` says at each speed; the demand table asks for `demand` from 4500 rpm on. */
function answer(opening: (rpm: number) => number, demand: number) {
	const vehicle = vehicleWith();
	const calibration = calibrationWith([
		{
			id: 'throttle.demand',
			kind: 'map',
			unit: '%',
			x: { channel: 'rpm', points: [1000, 3000, 4500, 7000] },
			y: { channel: 'pedal', points: [0, 100] },
			values: [
				[0, 0, 0, 0],
				[100, 100, demand, demand]
			]
		}
	]);
	const log = handMade(30, 20, {
		...pullShapes(),
		pedal: (t) => (inPull(t) ? 100 : 18),
		tps: (t) => (inPull(t) ? opening(rpmAt(t)) : 18)
	});
	const input = prepare(log, { vehicle, calibrations: [calibration] });
	return throttleOf({
		calibration,
		logs: [{ input, report: screenPrepared(input) }],
		vehicle,
		goal: parseGoal({ schema: 'tanto.goal/1' })
	});
}

describe('a throttle that stays short of open', () => {
	it('is opened in the demand table where that is what closes it', () => {
		const a = answer((rpm) => (rpm < 3000 ? 100 : Math.max(80, 100 - ((rpm - 3000) / 1500) * 20)), 80);
		expect(a.why).toContain('that is what the demand table of the revision says');
		expect(a.changes[0]!.cells.map((c) => [c.x, c.y, c.from, c.to])).toEqual([
			[4500, 100, 80, 100],
			[7000, 100, 80, 100]
		]);
	});
	it('is left alone where something else closes it, and that is said', () => {
		const a = answer((rpm) => (rpm < 4500 ? 100 : 70), 100);
		expect(a.changes).toEqual([]);
		expect(a.why).toContain('whose limit it is isn’t logged');
	});
	it('that opens has nothing to say', () => {
		expect(answer(() => 100, 100)).toEqual({ changes: [], why: null });
	});
});
