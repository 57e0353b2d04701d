/** Whom to believe, place by place. */
import { describe, expect, it } from 'vitest';
import { profileOf } from '../../limits/profile.ts';
import { handMade, pullShapes, vehicleWith } from '../../testing/hand-made.ts';
import { Rng } from '../../stats/rng.ts';
import { prepare } from '../prepare.ts';
import { consensus, type Candidate } from './consensus.ts';

const input = prepare(handMade(60, 20, pullShapes()), { vehicle: vehicleWith({ aspiration: 'turbo' }) });
const rpm = input.frame.get('rpm')!;
const { pulls } = input.segments;
/** A witness that reads `of` times the truth of 0.8, with noise. */
function witness(name: string, of: (rpm: number) => number, seed: number): Candidate {
	const rng = new Rng(seed);
	return { witness: name, values: rpm.map((r) => 0.8 * of(r) * (1 + 0.004 * rng.normal())) };
}
/** What is believed at 500 rpm of the pulls, against the truth, percent; and whether it is in doubt there. */
function believed(list: Candidate[], low: number) {
	const c = consensus(list, { rpm, dtS: input.frame.dtS }, input.segments, profileOf());
	let [sum, n, doubt] = [0, 0, 0];
	for (const p of pulls)
		for (let i = p.from; i <= p.to; i++)
			if (rpm[i]! >= low && rpm[i]! < low + 500) {
				sum += 100 * (c.values![i]! / 0.8 - 1);
				doubt += c.doubtful[i]!;
				n++;
			}
	return { pct: sum / n, doubt: doubt / n, rule: c.basis.rule };
}
const right = () => 1;
/** True below 3000 rpm, going over into an error at 6000. */
const drifting = (share: number) => (r: number) => 1 + share * Math.max(0, Math.min(1, (r - 3000) / 3000));

describe('two witnesses', () => {
	const rich = [witness('factory', drifting(-0.12), 1), witness('lambda.ref', right, 2)];
	it('agree where they agree, and are averaged there', () => {
		expect(believed(rich, 2500)).toMatchObject({ doubt: 0 });
		expect(Math.abs(believed(rich, 2500).pct)).toBeLessThan(0.5);
	});
	it('part at the top: the leaner is believed throughout the place, not the leaner of each sample', () => {
		const top = believed(rich, 5000);
		expect(Math.abs(top.pct)).toBeLessThan(0.4);
		expect(top.doubt).toBe(1);
		expect(top.rule).toBe('leaner');
	});
	it('from 2 to 3 % apart are averaged, and nothing comes out on their word', () => {
		const near = [witness('factory', () => 0.975, 3), witness('lambda.ref', right, 4)];
		expect(believed(near, 4000).pct).toBeCloseTo(-1.25, 0);
		expect(believed(near, 4000).doubt).toBe(1);
		const one = [witness('factory', () => 0.99, 3), witness('lambda.ref', right, 4)];
		expect(believed(one, 4000).doubt).toBe(0);
	});
});

describe('three witnesses', () => {
	it.each([
		['rich', -0.12],
		['lean', 0.11]
	])('two that agree at a place outvote one that drifts %s there', (_, share) => {
		const list = [
			witness('factory', drifting(share), 5),
			witness('lambda.ref', right, 6),
			witness('lambda.ref2', right, 7)
		];
		for (const low of [2500, 3500, 4500, 5500]) expect(Math.abs(believed(list, low).pct)).toBeLessThan(0.9);
		expect(believed(list, 5500)).toMatchObject({ rule: 'outvoted', doubt: 0 });
	});
});
