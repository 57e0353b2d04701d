import { expect, it } from 'vitest';
import { age, clock, day, localMoment, moment, size } from './time.ts';

it('moments are UTC on the server, and by the clock of the device where it is known', () => {
	const at = '2026-03-29T01:30:00.000Z';
	expect(moment(at)).toBe('29 Mar, 01:30');
	expect(day(at)).toBe('29 Mar 2026');
	const zone = process.env['TZ'];
	try {
		process.env['TZ'] = 'America/New_York';
		expect(localMoment(at)).toBe('28 Mar, 21:30');
		process.env['TZ'] = 'Asia/Kolkata';
		expect(localMoment(at)).toBe('29 Mar, 07:00');
	} finally {
		if (zone === undefined) delete process.env['TZ'];
		else process.env['TZ'] = zone;
	}
});
it('spans and sizes are said in one unit', () => {
	const now = Date.parse('2026-03-29T12:00:00Z');
	expect(age('2026-03-29T11:01:00Z', now)).toBe('59 min');
	expect(age('2026-03-27T13:00:00Z', now)).toBe('47 h');
	expect(age('2026-03-01T12:00:00Z', now)).toBe('28 d');
	expect(clock(3725.96)).toBe('1:02:05');
	expect(clock(59.96, true)).toBe('1:00.0');
	expect(size(1023)).toBe('1023 B');
	expect(size(5 << 20)).toBe('5.0 MB');
});
