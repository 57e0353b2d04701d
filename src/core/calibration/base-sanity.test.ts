import { describe, expect, it } from 'vitest';
import { calibrationWith, vehicleWith } from '../testing/hand-made.ts';
import { isLike, oddities, type LikeEngine } from './base-sanity.ts';
import type { Calibration } from './document.ts';

const AXES = {
	x: { channel: 'rpm', unit: 'rpm', points: [1000, 3000, 5000, 7000] },
	y: { channel: 'map', unit: 'kPa', points: [40, 100, 160] }
};
const map = (id: string, of: (kpa: number) => number) => ({
	id,
	kind: 'map',
	...AXES,
	values: AXES.y.points.map((k) => AXES.x.points.map(() => of(k)))
});
const base = ({
	timing = 14,
	target = 0.82,
	dead = 1,
	more = []
}: {
	timing?: number;
	target?: number;
	dead?: number;
	more?: object[];
} = {}): Calibration =>
	calibrationWith(
		[
			map('spark.table', (k) => (k > 80 ? timing : 30)),
			map('lambda.target', (k) => (k > 80 ? target : 1)),
			{
				id: 'injector.deadTime',
				kind: 'curve',
				unit: 'ms',
				x: { channel: 'vbat', unit: 'V', points: [10, 14] },
				values: [dead * 1.5, dead]
			},
			...more
		],
		{ fuelModel: 'speed-density' }
	);
const turbo = (displacementL = 2) => vehicleWith({ aspiration: 'turbo', displacementL });
const workshop = (n = 3): LikeEngine[] =>
	Array.from({ length: n }, (_, i) => ({
		name: `Marl ${i + 1}`,
		vehicle: turbo(2 + 0.1 * i),
		calibration: base({ timing: 13 + i, target: 0.8 + 0.01 * i })
	}));

describe('a calibration as it came, beside the workshop’s own of like engines', () => {
	it('that is like them raises no question', () => {
		expect(oddities(base(), turbo(), workshop()).found).toEqual([]);
	});

	it('with 7° more than any of them, or a leaner target, is asked about, with whose and where', () => {
		const { found } = oddities(base({ timing: 22.5, target: 0.9 }), turbo(), workshop());
		expect(found.map((o) => o.item)).toEqual(['spark.table', 'lambda.target']);
		expect(found[0]!.why).toContain('7.5° more timing');
		expect(found[0]!.why).toContain('1000 rpm / 100');
		expect(found[0]!.against).toBe('Marl 1, Marl 2, Marl 3');
		expect(found[1]!.why).toContain('λ 0.900, leaner than the leanest of them (λ 0.820)');
	});

	it('just short of that isn’t', () => {
		expect(oddities(base({ timing: 21.9, target: 0.839 }), turbo(), workshop()).found).toEqual([]);
	});

	it('needs three of them: two are a coincidence', () => {
		const { found, like } = oddities(base({ timing: 30 }), turbo(), workshop(2));
		expect(found).toEqual([]);
		expect(like).toEqual(['Marl 1', 'Marl 2']);
	});

	it('is like only engines of the same air, cylinders and fuel model, within a fifth of its displacement', () => {
		const own = { vehicle: turbo(), calibration: base() };
		expect(isLike(own, { vehicle: turbo(2.4), calibration: base() })).toBe(true);
		expect(isLike(own, { vehicle: turbo(2.41), calibration: base() })).toBe(false);
		expect(
			isLike(own, { vehicle: vehicleWith({ aspiration: 'na', displacementL: 2 }), calibration: base() })
		).toBe(false);
		expect(isLike(own, { vehicle: turbo(), calibration: { ...base(), fuelModel: 'maf' } })).toBe(false);
	});

	it('with a dead time of zero, or far from theirs, is asked about', () => {
		expect(oddities(base({ dead: 0 }), turbo(), []).found[0]!.why).toContain('dead time of zero');
		expect(oddities(base({ dead: 2.6 }), turbo(), workshop()).found[0]!.why).toMatch(/^3\.25 ms/);
	});

	it('that contradicts its vehicle is asked about without any of them', () => {
		const leftOver = base({
			more: [
				{ id: 'boost.target', kind: 'curve', unit: 'kPa', x: AXES.x, values: [150, 150, 150, 150] },
				{ id: 'own.map2', kind: 'setting', title: 'Second pressure sensor', value: '3 bar' },
				{ id: 'own.map3', kind: 'setting', title: 'Boost valve', value: 'none' },
				{ id: 'sensor.lambda', kind: 'setting', value: 'narrowband, 0 to 1 V' },
				{ id: 'knock.enabled', kind: 'setting', value: 'false' }
			]
		});
		const na = vehicleWith(
			{ aspiration: 'na' },
			{ sensors: { lambda: [{ channel: 'lambda.b1', kind: 'factory', site: 'bank1' }] } }
		);
		expect(oddities(leftOver, na, []).found.map((o) => o.item)).toEqual([
			'boost.target',
			'own.map2',
			'sensor.lambda',
			'knock.enabled'
		]);
		expect(oddities(leftOver, turbo(), []).found.map((o) => o.item)).toEqual(['knock.enabled']);
	});
});
