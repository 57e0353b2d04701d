import { prepare } from '../prepare.ts';
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { cellView, openFilter, quantitiesOf, samplesBehind, type CellSpec } from './view.ts';

const made = (more: Record<string, Shape> = {}) =>
	prepare(handMade(60, 20, { ...pullShapes(), ...more }), { vehicle: vehicleWith() });
const spec = (more: Partial<CellSpec> = {}, filter: object = {}): CellSpec => ({
	quantity: 'correction.b1',
	axes: { xChannel: 'rpm', x: [2000, 2500, 3000, 4000, 5000, 6000], yChannel: 'map', y: [45, 100, 170] },
	method: 'bilinear',
	lambda: 'believed',
	...more,
	filter: { ...openFilter(60), ...filter }
});
/** Value of the cell at column and row. */
const at = (v: ReturnType<typeof cellView>, column: number, row: number) => v!.values[row * 6 + column]!;

describe('a map of cells with filters', () => {
	it('maps the required correction in percent, where the driving was', () => {
		const v = cellView(made({ 'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.84 : 1.02) }), spec());
		expect(at(v, 1, 0)).toBeCloseTo(2, 1);
		expect(at(v, 4, 2)).toBeCloseTo(5, 1);
		expect(at(v, 4, 0)).toBeNaN();
	});
	it('leaves out what a filter leaves out: kind of driving, span, gear, temperatures', () => {
		const input = made({
			gear: (t) => (t < 30 ? 3 : 4),
			ect: (t) => (t < 40 ? 88 : 95),
			iat: (t) => (t < 20 ? 25 : 45)
		});
		const all = cellView(input, spec())!.samples;
		const only = (f: object) => cellView(input, spec({}, f))!.samples;
		expect(only({ kinds: ['loaded'] })).toBeGreaterThan(80);
		expect(only({ kinds: ['loaded'] })).toBeLessThan(125);
		expect(only({ fromS: 20, toS: 30 })).toBe(201);
		expect(only({ gear: 4 }) + only({ gear: 3 })).toBe(all);
		// 20 s at 20 Hz, but for the last lag of the log.
		expect(only({ coolantMinC: 90 })).toBe(394);
		expect(only({ intakeMinC: 40 }) + only({ intakeMaxC: 40 })).toBe(all);
	});
	it('takes one source at its word when asked to', () => {
		const vehicle = vehicleWith(
			{},
			{
				sensors: {
					lambda: [
						{ channel: 'lambda.b1', kind: 'factory', site: 'bank1' },
						{ channel: 'lambda.ref', kind: 'independent', site: 'bank1' }
					]
				}
			}
		);
		const shapes = { ...pullShapes(), 'lambda.b1': () => 1, 'lambda.ref': () => 1.1 };
		const input = prepare(handMade(60, 20, shapes), { vehicle });
		expect(at(cellView(input, spec({ lambda: 'lambda.b1' })), 1, 0)).toBeCloseTo(0, 3);
		expect(at(cellView(input, spec({ lambda: 'lambda.ref' })), 1, 0)).toBeCloseTo(10, 3);
		// They disagree: the leaner is believed.
		expect(at(cellView(input, spec()), 1, 0)).toBeCloseTo(10, 3);
	});
	it('shows the highest knock retard of a cell, not the mean that hides it', () => {
		const v = cellView(
			made({ knockRetard: (t) => (t >= 13 && t < 13.2 ? 4 : 0) }),
			spec({ quantity: 'knock' })
		);
		expect(Math.max(...Array.from(v!.values).filter(Number.isFinite))).toBe(4);
	});
	it('sets modelled against measured air: 510 against 410 g/s is 24 % high (common practice)', () => {
		const v = cellView(made({ airflowModel: () => 510, maf: () => 410 }), spec({ quantity: 'air' }));
		expect(at(v, 1, 0)).toBeCloseTo(24.4, 1);
	});
	it('maps any channel over any two others', () => {
		const v = cellView(
			made({ iat: (t) => 20 + t / 2 }),
			spec({
				quantity: 'iat',
				axes: { xChannel: 'tps', x: [0, 18, 100], yChannel: 'rpm', y: [2500, 6000] },
				method: 'nearest'
			})
		);
		// Part throttle at 2500 rpm: all but the pull, whose mean time is 31.6 s.
		expect(v!.values[1]).toBeGreaterThan(34);
		expect(v!.values[1]).toBeLessThan(38);
	});
	it('answers null for an axis or a quantity that the log lacks', () => {
		expect(cellView(made(), spec({ quantity: 'maf' }))).toBeNull();
		expect(
			cellView(made(), spec({ axes: { xChannel: 'rpm', x: [1, 2], yChannel: 'airmass', y: [1, 2] } }))
		).toBeNull();
		expect(quantitiesOf(made()).map((q) => q.id)).not.toContain('banks');
	});
	it('leads from a cell to the stretches of time behind it', () => {
		const input = made();
		const [longest, ...rest] = samplesBehind(input, spec(), 1, 0);
		expect(longest!.fromS).toBeGreaterThan(15.9);
		expect(longest!.toS).toBeGreaterThan(59);
		expect(rest.every((r) => r.samples <= longest!.samples)).toBe(true);
		const pull = samplesBehind(input, spec({}, { withUnusable: true }), 4, 2);
		expect(pull[0]!.fromS).toBeGreaterThan(12.9);
		expect(pull[0]!.toS).toBeLessThan(15);
	});
	it('does not let wheelspin into the fuel cells', () => {
		// Third gear's 50 rpm per km/h everywhere but for a second of the pull, in which the wheels spin.
		const rpm = pullShapes()['rpm']!;
		const speed: Shape = (t) => rpm(t) / (t >= 12 && t < 13 ? 60 : 50);
		const gear: Shape = () => 3;
		const still = cellView(made({ speed: (t) => rpm(t) / 50, gear }), spec())!.samples;
		const spun = cellView(made({ speed, gear }), spec())!.samples;
		expect(still - spun).toBeGreaterThan(14);
		expect(still - spun).toBeLessThan(26);
	});
});
