/** What a proof of false knock does to later logs of the same region and fuel. */
import { describe, expect, it } from 'vitest';
import { prepare } from '../../evidence/prepare.ts';
import type { FalseProof } from '../../evidence/knock/proof.ts';
import { plain } from '../../format.ts';
import { proposeTiming } from '../../revising/timing.ts';
import { calibrationWith, handMade, pullShapes, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { screenPrepared } from '../screen.ts';

const EVERYWHERE: FalseProof = {
	region: { rpm: [1000, 8000], mapKpa: [80, 300] },
	ethanolPct: 5,
	meanRetardDeg: 0.5
};
const vehicle = vehicleWith({}, { fuel: { name: 'petrol', ethanolPct: 5 } });
const timing = calibrationWith([
	{
		id: 'spark.table',
		kind: 'map',
		x: { channel: 'rpm', unit: 'rpm', points: [1000, 3000, 5000, 7000] },
		y: { channel: 'map', unit: 'kPa', points: [40, 100, 200] },
		values: Array.from({ length: 3 }, () => [20, 20, 20, 20])
	}
]);

/** Four short blips in the pull: of no clear shape, so treated as real. */
const blips =
	(deg: number): Shape =>
	(t) =>
		[10.8, 11.7, 12.6, 13.5].some((at) => t >= at && t < at + 0.1) ? deg : 0;

function judged(falseProofs: FalseProof[], more: Record<string, Shape> = {}, retard = blips(2)) {
	const input = prepare(handMade(30, 50, { ...pullShapes(), knockRetard: retard, ...more }), {
		vehicle,
		calibrations: [timing],
		falseProofs
	});
	const { findings } = screenPrepared(input);
	const knock = findings.find((f) => f.code === 'knock.unclear' || f.code === 'knock.real');
	return { knock, out: proposeTiming([{ input, findings }], timing).change?.cells.length ?? 0 };
}

describe('a proof', () => {
	it('makes its knock a note that names it, and no timing comes out', () => {
		const open = judged([]);
		expect(open.knock?.severity).toBe('watch');
		expect(open.out).toBeGreaterThan(0);
		const { knock, out } = judged([EVERYWHERE]);
		expect(knock).toMatchObject({
			severity: 'note',
			kind: 'proved',
			title: 'Knock proved false here: noise'
		});
		expect(plain(knock!.summary)).toContain('proved false on this fuel from 1000 to 8000 rpm');
		expect(out).toBe(0);
	});
	it('never stands for knock that no proof covers, though that is smaller', () => {
		// Off load a small blip is a note too: the larger one of the pull is proved, and must not name both.
		const offLoad: Shape = (t) => (t >= 4 && t < 4.1 ? 1.3 : blips(2)(t));
		const { knock } = judged([EVERYWHERE], {}, offLoad);
		expect(knock).toMatchObject({ severity: 'note', value: 1.3 });
		expect(knock!.kind).toBeUndefined();
		expect(knock!.title).not.toContain('proved');
	});
	it('says nothing of another fuel, or of another place', () => {
		expect(judged([{ ...EVERYWHERE, ethanolPct: 40 }]).knock?.severity).toBe('watch');
		const low: FalseProof = { ...EVERYWHERE, region: { rpm: [1000, 1500], mapKpa: [80, 300] } };
		expect(judged([low]).knock?.severity).toBe('watch');
	});
	it('is void where it grows, climbs, or is heard', () => {
		expect(judged([{ ...EVERYWHERE, meanRetardDeg: 0 }], {}, blips(8)).knock?.severity).toBe('stop');
		const stairs: Shape = (t) => (t < 12 || t >= 16 ? 0 : t < 13 ? 1 : t < 14 ? 2.2 : 3.4);
		expect(judged([{ ...EVERYWHERE, meanRetardDeg: 5 }], {}, stairs).knock?.severity).toBe('fix');
		const heard = judged([EVERYWHERE], { knockMonitor: (t) => (blips(1)(t) ? 90 : 4 + Math.sin(t)) });
		expect(heard.knock?.severity).toBe('watch');
	});
});
