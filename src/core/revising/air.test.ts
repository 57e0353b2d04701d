/** The air model from the meter, and the meter from the model. */
import { describe, expect, it } from 'vitest';
import { along } from '../calibration/along.ts';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { findMap } from '../calibration/lookup.ts';
import { effectiveFuel } from '../calibration/effective-fuel.ts';
import { prepare } from '../evidence/prepare.ts';
import { screenPrepared } from '../screening/screen.ts';
import { calibrationWith, handMade, vehicleWith, type Shape } from '../testing/hand-made.ts';
import { propose } from './revise.ts';
import { withChanges } from './changes.ts';

const RPM = [1000, 2000, 3000, 4000, 5000, 6000];
const KPA = [20, 40, 60, 80, 100];
const AXES = {
	x: { channel: 'rpm', unit: 'rpm', points: RPM },
	y: { channel: 'map', unit: 'kPa', points: KPA }
};
/** Grams of air a second as a plain function of both. */
const airOf = (rpm: number, kpa: number) => (rpm * kpa) / 4000;
const inCorner = (rpm: number, kpa: number) => rpm >= 5000 && kpa >= 80;

/** @param wrong factor of both members of the model in the corner */
function base(fuelModel: Calibration['fuelModel'], wrong: number, meter = 1): Calibration {
	const member = (id: string) => ({
		id,
		kind: 'map',
		unit: 'g/s',
		...AXES,
		values: KPA.map((k) => RPM.map((r) => airOf(r, k) * (inCorner(r, k) ? wrong : 1)))
	});
	const flows = [0, 30, 60, 90, 120, 150];
	return calibrationWith(
		[
			member('air.model@100'),
			member('air.model@120'),
			{
				id: 'maf.curve',
				kind: 'curve',
				unit: 'g/s',
				x: { channel: 'mafFrequency', unit: 'Hz', points: flows.map((f) => 20 * f) },
				values: flows.map((f) => f * (f >= 90 ? meter : 1))
			},
			{
				id: 'fuel.table',
				kind: 'map',
				unit: '%',
				...AXES,
				values: KPA.map(() => RPM.map(() => 90))
			}
		],
		{
			fuelModel,
			blends: [
				{
					item: 'air.model',
					channel: 'camIntake',
					points: [100, 120],
					members: ['air.model@100', 'air.model@120']
				}
			]
		}
	);
}

/** Slow sweeps over all of the map, with the cams anywhere between both members. */
const rpm: Shape = (t) => 3500 + 2400 * Math.sin(t / 7);
const map: Shape = (t) => 62 + 36 * Math.sin(t / 23);
const cam: Shape = (t) => 110 + 9 * Math.sin(t / 5);
const truth: Shape = (t) => airOf(rpm(t), map(t));

/** @param newest what is to be changed, where it isn't what the log was made with */
function proposed(c: Calibration, lambda = 1, more: Record<string, Shape> = {}, newest = c) {
	const vehicle = vehicleWith({ revLimitRpm: 6500 });
	const plain = { rpm, map, camIntake: cam, ect: () => 90, iat: () => 25, tps: () => 40 };
	const shapes: Record<string, Shape> = {
		...plain,
		maf: truth,
		mafFrequency: (t) => 20 * truth(t),
		'lambda.b1': () => lambda,
		'lambda.target': () => 1
	};
	// What the model gives is read off its own tables along the drive.
	const bare = prepare(handMade(900, 10, { ...shapes, ...more }), { vehicle, calibrations: [c] });
	const model = along(bare.frame, c, 'air.model', 100)!;
	const log = handMade(900, 10, { ...shapes, airflowModel: (t) => model[Math.round(t * 10)]!, ...more });
	const input = prepare(log, { vehicle, calibrations: [c] });
	const { findings } = screenPrepared(input);
	return propose([{ input, findings }], undefined, newest);
}
const air = (p: ReturnType<typeof proposed>) => p.changes.filter((c) => c.item.startsWith('air.model'));

describe('the air model from the meter', () => {
	const c = base('maf', 1.24);
	const p = proposed(c);

	it('is corrected in both members where it is wrong, within one percent, and nowhere else', () => {
		expect(air(p).map((i) => i.item)).toEqual(['air.model@100', 'air.model@120']);
		const next = withChanges(c, air(p));
		for (const id of ['air.model@100', 'air.model@120'])
			findMap(next, id)!.values.forEach((row, r) =>
				row.forEach((v, k) => {
					const right = airOf(RPM[k]!, KPA[r]!);
					expect(Math.abs(v / right - 1), `${id} at ${RPM[k]} / ${KPA[r]}`).toBeLessThan(0.01);
				})
			);
		const touched = air(p)[0]!.cells;
		expect(touched.every((cell) => inCorner(cell.x, cell.y))).toBe(true);
		expect(touched).toHaveLength(4);
	});

	it('brings no fuel along where the meter rules, and says so', () => {
		expect(p.changes.filter((i) => !i.item.startsWith('air.model'))).toEqual([]);
		const next = parseCalibration(withChanges(c, air(p)));
		const fuel = effectiveFuel(c, next);
		expect(fuel!.percent.flat().every((v) => v === null || Math.abs(v) < 1e-9)).toBe(true);
		expect(air(p)[0]!.reason).toContain('No fuel follows');
		// 1 / 1.24: what a model that is 24 % high wants.
		expect(air(p)[0]!.reason).toContain('−19 %');
	});

	it('isn’t done twice: a log of before the correction says nothing of what was corrected', () => {
		const corrected = parseCalibration(withChanges(c, air(p)));
		expect(air(proposed(c, 1, {}, corrected))).toEqual([]);
	});

	it('stays as it is where both agree', () => {
		const same = proposed(base('maf', 1));
		expect(air(same)).toEqual([]);
		expect(same.offers ?? []).toEqual([]);
	});

	it('isn’t touched on the word of a meter whose own mixture is off there', () => {
		const lean = proposed(c, 1.1);
		expect(air(lean)).toEqual([]);
		expect(lean.held.some((h) => h.code === 'air.model')).toBe(true);
	});
});

describe('where nothing says which of both is right', () => {
	it('both are offered, each under its condition, and neither is proposed', () => {
		const p = proposed(base('pulse-width', 1.24));
		expect(air(p)).toEqual([]);
		const offers = p.offers?.filter((o) => o.kind === 'air') ?? [];
		expect(offers.map((o) => o.item)).toEqual(['air.model@100', 'air.model@120', 'maf.curve']);
		expect(offers[0]!.reason).toContain('if the air meter is the one that is right');
	});
});

describe('the meter from the model', () => {
	it('is corrected where the mixture is right with fuel computed from the model', () => {
		const c = base('speed-density', 1, 1.15);
		// The meter reads high where its curve does.
		const high = (f: number) => (f >= 90 ? 1.15 : f <= 60 ? 1 : 1 + (0.15 * (f - 60)) / 30);
		const p = proposed(c, 1, { maf: (t) => truth(t) * high(truth(t)) });
		const curve = p.changes.find((i) => i.item === 'maf.curve')!;
		expect(curve.reason).toContain('computed from the air model');
		const top = curve.cells.find((cell) => cell.x === 2400)!;
		expect(top.to / 120).toBeCloseTo(1, 1);
		expect(curve.cells.every((cell) => cell.x >= 1800)).toBe(true);
	});
});
