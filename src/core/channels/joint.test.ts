import { describe, expect, it } from 'vitest';
import { readLog } from '../logfile/read.ts';
import type { Log, LogChannel } from '../logfile/log.ts';
import { reportOf, vehicleWith } from '../testing/hand-made.ts';

/** One drive: standing 3 s, idle 6 s, full throttle 6 s to 200 kPa, a lift, standing again; 10 Hz. Everything absolute, kPa. */
interface Moment {
	t: number;
	rpm: number;
	tps: number;
	map: number;
	target: number;
	speed: number;
}
const BARO = 98;
function drive(top = 200): Moment[] {
	return Array.from({ length: 220 }, (_, i) => {
		const t = i / 10;
		if (t < 3 || t >= 20) return { t, rpm: 0, tps: 0, map: BARO, target: BARO, speed: 0 };
		if (t < 9) return { t, rpm: 850, tps: 0, map: 36, target: BARO, speed: 0 };
		if (t < 15)
			return {
				t,
				rpm: 2500 + (t - 9) * 700,
				tps: 100,
				map: Math.min(top, 120 + (t - 9) * 50),
				target: top,
				speed: 80
			};
		return { t, rpm: 2500, tps: 5, map: 34, target: BARO, speed: 60 };
	});
}
const PSI = 6.894757;
const gaugePsi = (kpa: number) => ((kpa - BARO) / PSI).toFixed(2);
const psi = (kpa: number) => (kpa / PSI).toFixed(2);

function readDrive(
	header: [map: string, target: string, baro: string | null],
	cell: { map: (k: number) => string; target: (k: number) => string; baro?: (k: number) => string },
	moments = drive()
): Log {
	const [map, target, baro] = header;
	const lines = [
		['Time (s)', 'RPM', 'TPS (%)', 'Speed (km/h)', map, target, ...(baro ? [baro] : [])].join(','),
		...moments.map((m) =>
			[
				m.t,
				m.rpm.toFixed(0),
				m.tps,
				m.speed,
				cell.map(m.map),
				cell.target(m.target),
				...(baro ? [(cell.baro ?? String)(BARO)] : [])
			].join(',')
		)
	];
	return readLog([new TextEncoder().encode(`${lines.join('\n')}\n`)], {
		gaugeStoich: 14.7,
		baroKpa: 101.325
	});
}
const channel = (log: Log, id: string): LogChannel => log.channels.find((c) => c.id === id)!;
const top = (log: Log, id: string) => Math.max(...channel(log, id).values);

describe('pressures vouch for each other', () => {
	it('boost and its target in psi without a word on gauge are gauge, and no contradiction', () => {
		const log = readDrive(['Boost (psi)', 'Boost Target (psi)', 'Baro (psi)'], {
			map: gaugePsi,
			target: gaugePsi,
			baro: psi
		});
		expect(top(log, 'map')).toBeCloseTo(200, 0);
		expect(top(log, 'boostTarget')).toBeCloseTo(200, 0);
		expect(log.channels.some((c) => c.contradiction)).toBe(false);
	});
	it('a gauge target beside an absolute manifold: the pressure that is reached tells', () => {
		// 14.8 psi of target beside 29 psi of manifold pressure.
		const log = readDrive(['Manifold Pressure (psi)', 'Boost Target (psi)', 'Baro (psi)'], {
			map: psi,
			target: gaugePsi,
			baro: psi
		});
		expect(channel(log, 'boostTarget').readAs).toBe('psi gauge');
		expect(channel(log, 'map').readAs).toBe('psi');
		expect(top(log, 'boostTarget')).toBeCloseTo(top(log, 'map'), 0);
	});
	it('an absolute target called boost stays absolute where the manifold says so', () => {
		const log = readDrive(['MAP (kPa)', 'Boost Target (kPa)', 'Baro (kPa)'], { map: String, target: String });
		expect(channel(log, 'boostTarget').readAs).toBe('kPa');
	});
	it('without a barometer the standing engine and idle tell', () => {
		const log = readDrive(['Boost (bar)', 'Boost Target (bar)', null], {
			map: (k) => ((k - BARO) / 100).toFixed(3),
			target: (k) => ((k - BARO) / 100).toFixed(3)
		});
		expect(channel(log, 'map').readAs).toBe('bar gauge');
		expect(top(log, 'map')).toBeCloseTo(101.325 + 102, 0);
	});
	it('without any unit', () => {
		const log = readDrive(['Boost', 'Boost Target', 'Baro'], { map: gaugePsi, target: gaugePsi });
		expect(top(log, 'map')).toBeCloseTo(200, 0);
		expect(channel(log, 'baro').values[0]).toBeCloseTo(BARO, 0);
	});
	it('overboost by 40 kPa is not explained away', () => {
		const log = readDrive(['MAP (kPa)', 'Boost Target (kPa)', 'Baro (kPa)'], {
			map: String,
			target: (k) => String(k > 150 ? k - 40 : k)
		});
		expect(top(log, 'map') - top(log, 'boostTarget')).toBeCloseTo(40, 0);
	});
	it('a manifold that reads 14.2 "kPa" standing holds psi: that is a matter of units, not of the sensor', () => {
		const log = readDrive(['MAP (kPa)', 'Boost Target (kPa)', 'Baro (kPa)'], { map: psi, target: String });
		expect(channel(log, 'map').contradiction).toEqual({ written: 'kPa', read: 'psi' });
		const report = reportOf(log, vehicleWith());
		expect(report.findings.find((f) => f.code === 'log.units')?.severity).toBe('fix');
		expect(report.findings.some((f) => f.code === 'sensor.map')).toBe(false);
	});
	it('what is written as absolute and can only be gauge contradicts', () => {
		const log = readDrive(['Boost (kPaa)', 'Boost Target (kPa)', 'Baro (kPa)'], {
			map: (k) => String(k - BARO),
			target: String
		});
		expect(channel(log, 'map')).toMatchObject({ readAs: 'kPa gauge', contradiction: { written: 'kPaa' } });
	});
});

describe('an air meter without a unit', () => {
	/** g/s of 2.5 l at a filling of 0.8. */
	const flow = (m: Moment) => (0.8 * m.map * 2.5 * m.rpm) / (120 * 0.28705 * 300);
	const withFlow = (cell: (gs: number) => number, displacementL?: number) => {
		const lines = [
			'Time (s),RPM,TPS (%),MAP (kPa),MAF',
			...drive().map((m) => [m.t, m.rpm.toFixed(0), m.tps, m.map, cell(flow(m)).toFixed(3)].join(','))
		];
		return readLog([new TextEncoder().encode(`${lines.join('\n')}\n`)], {
			gaugeStoich: 14.7,
			baroKpa: 101.3,
			displacementL
		});
	};
	const highest = Math.max(...drive().map(flow));
	it.each([
		['lb/min', 1 / (0.1259979 * 60)],
		['kg/h', 3.6],
		['lb/h', 1 / 0.1259979],
		['g/s', 1]
	])('in %s is read so, when the size of the engine is known', (unit, by) => {
		const maf = channel(
			withFlow((gs) => gs * by, 2.5),
			'maf'
		);
		expect(maf.readAs).toBe(unit);
		expect(Math.max(...maf.values)).toBeCloseTo(highest, 0);
	});
	it('in lb/min is told from g/s without it', () => {
		expect(
			channel(
				withFlow((gs) => gs / (0.1259979 * 60)),
				'maf'
			).readAs
		).toBe('lb/min');
	});
});
