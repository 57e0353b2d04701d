import { describe, expect, it } from 'vitest';
import { readLog } from '../../logfile/read.ts';
import { findingOf, handMade, outcomeOf, reportOf, vehicleWith } from '../../testing/hand-made.ts';

const report = (log: ReturnType<typeof handMade>, vehicle = vehicleWith()) => reportOf(log, vehicle);

describe('log.units', () => {
	const text = (unit: string, f: (i: number) => number) =>
		`Time (s),RPM (rpm),MAP (kPa),Coolant Temp (${unit})\n${Array.from({ length: 100 }, (_, i) => `${i / 10},${900 + i * 10},60,${f(i)}`).join('\n')}\n`;
	const of = (t: string) =>
		report(readLog([new TextEncoder().encode(t)], { gaugeStoich: 14.7, baroKpa: 100 }) as never);
	it('names both readings where the values contradict the unit', () => {
		const f = findingOf(of(text('°C', (i) => 188 + (i % 7))), 'log.units')!;
		expect(f).toMatchObject({ severity: 'fix', channels: ['ect'] });
		expect(f.summary).toContain('says °C, its values only make sense in °F');
	});
	it('passes where they fit', () => {
		expect(outcomeOf(of(text('°C', (i) => 85 + (i % 7))), 'log.units').outcome).toBe('pass');
		expect(outcomeOf(of(text('°F', (i) => 188 + (i % 7))), 'log.units').outcome).toBe('pass');
	});
});
