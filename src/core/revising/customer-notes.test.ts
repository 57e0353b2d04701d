import { describe, expect, it } from 'vitest';
import { vehicleWith, calibrationWith } from '../testing/hand-made.ts';
import { customerNotes } from './customer-notes.ts';
import type { DraftChange } from './edit-schema.ts';

const axes = {
	x: { channel: 'rpm', unit: 'rpm', points: [1000, 2500, 3500, 5000, 6500] },
	y: { channel: 'map', unit: 'kPa', points: [40, 100, 160, 180] }
};
const rows = (v: number) => axes.y.points.map(() => axes.x.points.map(() => v));
const calibration = calibrationWith([
	{ id: 'fuel.table', kind: 'map', unit: '%', ...axes, values: rows(80) },
	{ id: 'spark.table', kind: 'map', unit: '°', ...axes, values: rows(20) },
	{ id: 'boost.target', kind: 'curve', unit: 'kPa', x: axes.x, values: [120, 160, 180, 180, 170] },
	{ id: 'limit.rpm', kind: 'scalar', unit: 'rpm', value: 6800 },
	{ id: 'fuel.trim', kind: 'scalar', unit: '%', value: 0 }
]);
const turbo = vehicleWith({ aspiration: 'turbo', idleRpm: 800, revLimitRpm: 7000 });
const change = (
	item: string,
	x: number,
	y: number,
	from: number,
	to: number,
	more: Partial<DraftChange> = {}
): DraftChange => ({
	item,
	x,
	y,
	from,
	to,
	basis: 'measured',
	samples: 20,
	se: 0.3,
	reason: 'the log wants 4 % there; 98 neighbours carried over',
	findings: [],
	...more
});
const notes = (...changes: DraftChange[]) => customerNotes(changes, [], calibration, turbo).split('\n');

describe('what the customer reads', () => {
	it('says which way, where in the revs, how much and why, in words and without a word of the program', () => {
		const text = notes(
			change('spark.table', 3500, 180, 20, 18, { findings: ['knock.real'] }),
			change('spark.table', 5000, 180, 20, 18.5, { findings: ['knock.real'] }),
			change('fuel.table', 3500, 160, 80, 83.2, { findings: ['fuel.lean'] })
		);
		expect(text).toEqual([
			'Less timing at full throttle between 3500 and 5000 rpm (2 of 20 cells), up to 2°, because it knocked there.',
			'More fuel at full throttle around 3500 rpm (1 of 20 cells) by 4 %, because it ran lean there.'
		]);
		expect(text.join(' ')).not.toMatch(/table|carried|neighbour|[a-z]+\.[a-z]+/);
	});
	it('tells both ways of one table apart, and the place of each', () => {
		// A reason belongs to one way only: fuel isn't taken out because it was lean.
		const lean = { findings: ['fuel.lean'] };
		expect(
			notes(change('fuel.table', 2500, 40, 80, 78, lean), change('fuel.table', 6500, 180, 80, 80.4))
		).toEqual([
			'Less fuel at cruise around 2500 rpm (1 of 20 cells) by 2.5 %.',
			'More fuel at full throttle around 6500 rpm (1 of 20 cells) by 0.5 %.'
		]);
	});
	it('leaves out what a tuner wrote for the record, and names what has no direction of its own', () => {
		const hand = { basis: 'hand' as const, reason: 'as we said on the phone' };
		expect(
			notes(
				change('boost.target', 5000, 0, 180, 190, hand),
				change('limit.rpm', 0, 0, 6800, 7000, hand),
				change('fuel.trim', 0, 0, 0, 2)
			)
		).toEqual([
			'More boost around 5000 rpm (1 of 5 points) by 10 kPa.',
			'Rev limit: now 7000 rpm.',
			'More fuel everywhere.'
		]);
	});
	it('says where in the revs by the place, and the figure that was changed', () => {
		const out = (x: number) => change('spark.table', x, 180, 20, 18.5);
		expect(notes(out(3500), out(5000), out(6500))).toEqual([
			'Less timing at full throttle in the upper part of the rev range, from 3500 rpm on (3 of 20 cells) by 1.5°.'
		]);
		expect(notes(change('spark.table', 1000, 40, 20, 19), change('spark.table', 2500, 40, 20, 18.5))).toEqual(
			[
				'Less timing at idle and at cruise in the lower part of the rev range, up to 2500 rpm (2 of 20 cells), up to 1.5°.'
			]
		);
	});
});
