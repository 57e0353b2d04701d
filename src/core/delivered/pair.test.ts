import { describe, expect, it } from 'vitest';
import type { Line, Link } from './line.ts';
import { pairsOf } from './pair.ts';

const POINTS = [3000, 4000, 5000];
const link = (name: Link['name'], values: (number | null)[], more: Partial<Link> = {}): Link => ({
	name,
	title: `${name} title`,
	unit: '°',
	values,
	missing: values.every((v) => v === null) ? 'not logged' : null,
	...more
});
const none = [null, null, null];
const line = (links: Link[], broken: Line['broken'] = null): Line => ({
	quantity: 'timing',
	title: 'Timing',
	axis: { title: 'Engine speed', unit: 'rpm', points: POINTS },
	links,
	broken
});

describe('pairs of a line', () => {
	it('hold each link against the one before it', () => {
		const pairs = pairsOf(
			line([link('written', [10, 12, 14]), link('commanded', [10, 12, 14]), link('delivered', [9, 12, 14])])
		);
		expect(pairs.map((p) => [p.from, p.to, p.state])).toEqual([
			['written', 'commanded', 'follows'],
			['commanded', 'delivered', 'follows']
		]);
		expect(pairs[1]!.expected).toEqual({ title: 'commanded title', values: [10, 12, 14] });
		// Nothing is broken there: a difference within the tolerance of the line isn't made a figure.
		expect(pairs[1]!.worst).toBeNull();
	});

	it('reach back over a link that isn’t known, and over one of another unit', () => {
		const pairs = pairsOf(
			line([
				link('written', [170, 170, 170], { unit: 'kPa abs' }),
				link('commanded', none, { unit: 'kPa abs' }),
				link('delivered', [40, 50, 60], { unit: '%' }),
				link('measured', [168, 169, 150], { unit: 'kPa abs' })
			])
		);
		expect(pairs.map((p) => p.state)).toEqual(['missing', 'shown', 'follows']);
		expect(pairs[1]!.expected).toBeNull();
		expect(pairs[2]!.expected?.title).toBe('written title');
	});

	it('name the greatest difference within the broken place only', () => {
		const pairs = pairsOf(
			line([link('written', [10, 12, 14]), link('commanded', [5, 11, 11])], {
				at: 'commanded',
				why: 'another file',
				from: 3750,
				to: 5250
			})
		);
		expect(pairs[0]!.state).toBe('broken');
		expect(pairs[0]!.worst).toEqual({ difference: -3, at: 5000 });
	});

	it('hold deviations from a level against that level, and mark the first pair for a break in what is written', () => {
		const pairs = pairsOf(
			line(
				[
					link('written', [85, 85, 85], { unit: '%' }),
					link('commanded', [100, 100, 100], { unit: '%', against: 'nothing' }),
					link('delivered', [-1, 0, 6], { unit: '%', against: 'itself' })
				],
				{ at: 'written', why: 'the demand table says so' }
			)
		);
		expect(pairs.map((p) => p.state)).toEqual(['broken', 'follows']);
		expect(pairs[1]!.expected?.values).toEqual([0, 0, 0]);
	});
});
