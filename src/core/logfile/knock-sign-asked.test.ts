/** A knock channel whose sign nothing in the log says: taken the careful way, asked once, answered for what the same logger sends later. */
import { describe, expect, it } from 'vitest';
import { assignmentKey, type Assignment } from '../channels/recognise.ts';
import { boundsOf, type ReadContext } from './log.ts';
import { readLog } from './read.ts';
import { PULLED_WHERE } from './knock-sign.ts';

const rows = (columns: Record<string, (t: number) => number>) =>
	[
		['Time (s)', ...Object.keys(columns)].join(','),
		...Array.from({ length: 600 }, (_, i) =>
			[i / 20, ...Object.values(columns).map((f) => f(i / 20))].map((v) => v.toFixed(2)).join(',')
		)
	].join('\n');
const pulledAt = (t: number) => (t > 12 && t < 13 ? -3 : 0);
const driven = { 'Engine Speed (rpm)': (t: number) => 2000 + 100 * t };
const knock = { 'Knock Retard (deg)': pulledAt, 'Knock Retard Cyl 1 (deg)': pulledAt };

function read(columns: Record<string, (t: number) => number>, answers: Record<string, Assignment> = {}) {
	const context: ReadContext = {
		gaugeStoich: 14.7,
		baroKpa: 100,
		remembered: new Map(Object.entries(answers))
	};
	const log = readLog([new TextEncoder().encode(rows(columns))], context);
	const channel = (id: string) => log.channels.find((c) => c.id === id);
	return { channel, asked: log.channels.filter((c) => c.undecided).map((c) => c.id) };
}
const whole = (unit: string) => ({
	[assignmentKey('Knock Retard', 'deg')]: { channel: 'knockRetard', unit } as Assignment
});

describe('the sign of a knock channel that nothing says', () => {
	it('is read as timing that was pulled, and asked once for all channels of the logger', () => {
		const { channel, asked } = read({ ...driven, ...knock });
		expect(boundsOf(channel('knockRetard')!)).toMatchObject({ min: 0, max: 3 });
		expect(boundsOf(channel('knockRetard.cyl1')!).max).toBe(3);
		expect(asked).toEqual(['knockRetard']);
		expect(channel('knockRetard')!.undecided!.readings).toMatchObject([
			{ unit: PULLED_WHERE.negative, low: 0, high: 3 },
			{ unit: PULLED_WHERE.positive, low: -3, high: 0 }
		]);
	});
	it('is not asked again once it was answered; the answer holds for the cylinders too', () => {
		const pulled = read({ ...driven, ...knock }, whole(PULLED_WHERE.negative));
		expect(pulled.asked).toEqual([]);
		expect(boundsOf(pulled.channel('knockRetard')!).max).toBe(3);
		expect(boundsOf(pulled.channel('knockRetard.cyl1')!).max).toBe(3);
		const added = read({ ...driven, ...knock }, whole(PULLED_WHERE.positive));
		expect(added.asked).toEqual([]);
		expect(boundsOf(added.channel('knockRetard')!).max).toBe(0);
		expect(boundsOf(added.channel('knockRetard.cyl1')!).max).toBe(0);
		expect(boundsOf(added.channel('knockAdvance')!).max).toBe(3);
		expect(added.channel('knockRetard')!.note).toContain('as was answered');
	});
	it('base and final timing overrule an answer', () => {
		const base = (t: number) => 20 + 3 * Math.sin(t / 3);
		const timing = {
			'Base Timing (deg)': base,
			'Ignition Timing (deg)': (t: number) => base(t) + pulledAt(t)
		};
		const { channel, asked } = read({ ...driven, ...timing, ...knock }, whole(PULLED_WHERE.positive));
		expect(channel('sparkBase')).toBeDefined();
		expect(asked).toEqual([]);
		expect(boundsOf(channel('knockRetard')!).max).toBe(3);
		expect(boundsOf(channel('knockRetard.cyl1')!).max).toBe(3);
	});
	it('a channel that counts as ours do, or never moved, raises no question', () => {
		expect(read({ ...driven, 'Knock Retard (deg)': (t) => -pulledAt(t) }).asked).toEqual([]);
		expect(read({ ...driven, 'Knock Retard (deg)': () => 0 }).asked).toEqual([]);
	});
});
