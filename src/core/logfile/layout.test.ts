import { describe, expect, it } from 'vitest';
import { LayoutError } from './layout-error.ts';
import type { LayoutHint } from './layout-hint.ts';
import type { Log } from './log.ts';
import { readLog } from './read.ts';

const context = { gaugeStoich: 14.7, baroKpa: 100 };
const rows = (n: number, row: (i: number) => string) =>
	Array.from({ length: n }, (_, i) => row(i)).join('\n');
const read = (text: string, more: { hint?: LayoutHint; layouts?: LayoutHint[] } = {}): Log =>
	readLog([new TextEncoder().encode(text)], { ...context, ...more });
function refusal(work: () => unknown): LayoutError {
	try {
		work();
	} catch (e) {
		if (e instanceof LayoutError) return e;
		throw e;
	}
	throw new Error('it was read');
}

const nameless = `Moment,Engine Speed (rpm),MAP (kPa)\n${rows(40, (i) => `${i / 10},${900 + i},35`)}\n`;

describe('a file without a time that is recognised', () => {
	it('is refused with what was seen of it, and how to say more', () => {
		const e = refusal(() => read(nameless));
		expect(e.message).toContain('no time column found');
		expect(e.message).toContain('"Moment", "Engine Speed", "MAP"');
		expect(e.seen).toMatchObject({
			columns: ['Moment', 'Engine Speed', 'MAP'],
			separator: ',',
			headerLine: 1
		});
		expect(e.seen.lines?.[1]).toBe('0,900,35');
	});
	it('is read with the time that a person names, with or without its unit', () => {
		expect(read(nameless, { hint: { time: 'Moment' } }).durationS).toBeCloseTo(3.9, 6);
		expect(read(nameless.replace('Moment', 'Moment [s]'), { hint: { time: 'Moment [s]' } }).rows).toBe(40);
	});
	it('is read with what was said of an earlier file', () => {
		const log = read(nameless, { layouts: [{ time: 'Elapsed' }, { time: 'Moment' }] });
		expect(log.channels.map((c) => c.id)).toEqual(['rpm', 'map']);
	});
	it('says which columns there are when the named one is none', () => {
		expect(refusal(() => read(nameless, { hint: { time: 'Zeit' } })).message).toContain(
			'no column is called "Zeit"'
		);
	});
});

describe('a file without a header that is recognised', () => {
	const numbered = `2024\n7\n1,2,3\nTime,RPM,MAP\n${rows(30, (i) => `${i},${900 + i},35`)}\n`;
	it('shows its lines', () => {
		const e = refusal(() => read(rows(5, (i) => `${i},${i},${i}`)));
		expect(e.message).toContain('no header line found');
		expect(e.seen.lines).toHaveLength(5);
	});
	it('is read with the line and the separator that a person says', () => {
		const log = read(numbered, { hint: { headerLine: 4, separator: ',' } });
		expect(log.rows).toBe(30);
	});
	it('knows when that line is not there', () => {
		expect(refusal(() => read(numbered, { hint: { headerLine: 60 } })).message).toContain(
			'line 60 is not among'
		);
	});
});

describe('a file of which nothing but the time is recognised', () => {
	const strange = `Time,Alpha,Beta\n${rows(20, (i) => `${i},1,2`)}\n`;
	it('asks', () => {
		expect(refusal(() => read(strange)).message).toContain('none of the columns is recognised');
	});
	it('is read once a person has said that this is its layout', () => {
		expect(read(strange, { hint: { headerLine: 1, time: 'Time' } }).unmapped.map((u) => u.raw)).toEqual([
			'Alpha',
			'Beta'
		]);
	});
});

describe('a clock for each column', () => {
	const text = [
		'Engine Speed Time [s];Engine Speed [rpm];Coolant Time [s];Coolant [°C]',
		...Array.from(
			{ length: 40 },
			(_, i) => `${i / 20};${900 + i};${i < 4 ? i / 2 : ''};${i < 4 ? 80 + i : ''}`
		)
	].join('\n');
	it('keeps the rate of each', () => {
		const log = read(`${text}\n`);
		expect(log.channels.map((c) => [c.id, c.rateHz, c.values.length])).toEqual([
			['rpm', 20, 40],
			['ect', 2, 4]
		]);
	});
});

describe('messages', () => {
	it('are never longer than 500 characters', () => {
		const long = `${Array.from({ length: 900 }, (_, i) => `a very long name of a column ${i}`).join(',')}\n${rows(3, () => '1,'.repeat(899) + '1')}\n`;
		expect(refusal(() => read(long)).message.length).toBeLessThanOrEqual(500);
	});
});
