/** Table and trims together: no cylinder becomes leaner than its target by what comes out on the word of a sensor that sees the mean. */
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';
import { prepare } from '../evidence/prepare.ts';
import { readLog } from '../logfile/read.ts';
import { screenPrepared } from '../screening/screen.ts';
import { baseCalibration } from '../simulator/base-calibration.ts';
import { standardDrive } from '../simulator/drive.ts';
import type { Faults } from '../simulator/faults.ts';
import { logText } from '../simulator/log-text.ts';
import { simulate } from '../simulator/simulate.ts';
import { vehicleWith } from '../testing/hand-made.ts';
import { readContextOf } from '../vehicle/facts.ts';
import { replay } from './replay.ts';
import { propose } from './revise.ts';
import { withChanges } from './changes.ts';

const vehicle = vehicleWith(
	{ aspiration: 'turbo' },
	{
		name: 'four in line',
		controller: { learnedTrimAtFullLoad: 'ignored' },
		sensors: {
			lambda: [
				{ channel: 'lambda.b1', kind: 'factory', site: 'bank1', pressureCompensated: true },
				{ channel: 'lambda.ref', kind: 'independent', site: 'bank1' }
			]
		}
	}
);
/** Without what only part load needs. */
const drive = standardDrive(5, vehicle.engine.revLimitRpm).filter((s) => s.kind !== 'accelerate');
const driven = (calibration: Calibration, faults: Faults) =>
	simulate({ vehicle, calibration, drive, faults, seed: 3, rateHz: 20 });
const curve = (values: number[]) => ({
	id: 'fuel.cylTrim',
	kind: 'curve',
	unit: '%',
	x: { channel: 'cylinder', points: [1, 2, 3, 4] },
	values
});
const map = {
	id: 'fuel.cylTrim',
	kind: 'map',
	unit: '%',
	x: { channel: 'cylinder', points: [1, 2, 3, 4] },
	y: { channel: 'rpm', unit: 'rpm', points: [1000, 3000, 4000, 5000, 6000, 7000] },
	values: [1, 2, 3, 4, 5, 6].map(() => [0, 0, 0, 0])
};

/** A base that gives 6 % too much everywhere, and what is proposed for it. */
function tried(faults: Faults, trims: object[], richPct = 6) {
	const plain = baseCalibration({
		vehicle,
		fuelModel: 'speed-density',
		name: 'base',
		fuelError: () => richPct / 100,
		timingMarginDeg: 6
	});
	const base = parseCalibration({ ...plain, items: [...plain.items, ...trims] });
	const read = readLog([new TextEncoder().encode(logText(driven(base, faults)))], readContextOf(vehicle));
	const input = prepare(read, { vehicle, calibrations: [base] });
	const proposal = propose([{ input, findings: screenPrepared(input).findings }], DEFAULT_STRATEGY, base);
	return { base, input, proposal, next: withChanges(base, proposal.changes) };
}

/** Mean of lambda over its target at full load of each cylinder, percent: of each range of engine speed. */
function leanIn(
	calibration: Calibration,
	faults: Faults,
	ranges: readonly (readonly [number, number])[]
): number[][] {
	const { channels } = driven(calibration, faults);
	const at = (id: string) => channels.get(id)!;
	const [rpm, pedal, goal] = [at('rpm'), at('pedal'), at('lambda.target')];
	return ranges.map(([from, to]) =>
		[1, 2, 3, 4].map((c) => {
			const lambda = at(`lambda.cyl${c}`);
			const off = rpm.flatMap((r, i) =>
				r > from && r < to && pedal[i]! > 95 && pedal[i - 10]! > 95
					? [100 * (lambda[i + 3]! / goal[i]! - 1)]
					: []
			);
			return off.reduce((s, v) => s + v, 0) / off.length;
		})
	);
}
const leanPct = (calibration: Calibration, faults: Faults) => leanIn(calibration, faults, [[2500, 7000]])[0]!;

const FOURTH_LEAN: Faults = { leanCylinder: { cylinder: 4, share: 0.08 } };

describe('a lean cylinder under a table that gives too much', () => {
	it('without trims the table keeps what the cylinder lives on, and trims are offered as an item of their own', () => {
		const { base, proposal, next } = tried(FOURTH_LEAN, []);
		const [before, after] = [leanPct(base, FOURTH_LEAN), leanPct(next, FOURTH_LEAN)];
		expect(before[3]).toBeGreaterThan(-2);
		expect(after[3]).toBeLessThan(Math.max(before[3]!, 0) + 1);
		expect(proposal.held.map((h) => h.code)).toContain('cyl.lambda');
		const offer = proposal.offers!.find((o) => o.item === 'fuel.cylTrim')!;
		expect(offer.adds).toMatchObject({ kind: 'curve', values: [0, 0, 0, 0] });
		expect(offer.cells).toHaveLength(1);
		expect(offer.cells[0]).toMatchObject({ x: 4, from: 0 });
		expect(offer.cells[0]!.to).toBeGreaterThan(6);
	});
	it('with its trim raised in the same revision the table comes down, and every cylinder ends near its target', () => {
		const { input, next, proposal } = tried(FOURTH_LEAN, [curve([0, 0, 0, 0])]);
		expect(proposal.changes.map((c) => c.item)).toEqual(
			expect.arrayContaining(['fuel.table', 'fuel.cylTrim'])
		);
		const truth = leanPct(next, FOURTH_LEAN);
		for (const off of truth) expect(Math.abs(off)).toBeLessThan(3);
		// The replay of it said so before, cylinder by cylinder.
		const replayed = replay(input, next).cylinders!;
		expect(replayed.map((c) => c.cylinder)).toEqual([1, 2, 3, 4]);
		replayed.forEach(({ places }, k) => {
			const driven = places.filter((p) => p.rpm[0] >= 2500);
			const mean = driven.reduce((sum, p) => sum + p.after, 0) / driven.length;
			expect(Math.abs(mean - truth[k]!)).toBeLessThan(1.5);
		});
		expect(replayed[3]!.places.at(-1)!.before - replayed[3]!.places.at(-1)!.after).toBeGreaterThan(1);
	});
});

describe('trims by engine speed', () => {
	const TOP_LEAN: Faults = { leanCylinder: { cylinder: 2, share: 0.08, rpm: [4500, 9000] } };
	it('each speed gets its own, and no cylinder is leaner anywhere than it was', () => {
		const { base, proposal, next } = tried(TOP_LEAN, [map], 0);
		const cells = proposal.changes.find((c) => c.item === 'fuel.cylTrim')!.cells;
		expect(new Set(cells.map((c) => c.x))).toEqual(new Set([2]));
		expect(cells.find((c) => c.y === 6000)!.to).toBeGreaterThan(6);
		expect(cells.find((c) => c.y === 3000)).toBeUndefined();
		// Below and above where it is lean, each file driven once.
		const RANGES = [
			[2500, 4000],
			[4800, 6800]
		] as const;
		const [before, after] = [leanIn(base, TOP_LEAN, RANGES), leanIn(next, TOP_LEAN, RANGES)];
		after.flat().forEach((off, k) => expect(off).toBeLessThan(Math.max(before.flat()[k]!, 1) + 0.5));
	});
	it('the other way round the axes say which is which', () => {
		const turned = {
			...map,
			x: map.y,
			y: { channel: 'cylinder', points: [1, 2, 3, 4] },
			values: [1, 2, 3, 4].map(() => [0, 0, 0, 0, 0, 0])
		};
		const cells = tried(TOP_LEAN, [turned], 0).proposal.changes.find((c) => c.item === 'fuel.cylTrim')!.cells;
		expect(new Set(cells.map((c) => c.y))).toEqual(new Set([2]));
		expect(cells.some((c) => c.x === 6000)).toBe(true);
	});
});

it('a rich cylinder keeps its fuel while it knocks', () => {
	const faults: Faults = { leanCylinder: { cylinder: 1, share: -0.08 }, octaneRon: 86 };
	const { proposal } = tried(faults, [curve([0, 0, 0, 0])], 0);
	const trims = proposal.changes.find((c) => c.item === 'fuel.cylTrim')?.cells ?? [];
	expect(trims.filter((c) => c.to < c.from)).toEqual([]);
	expect(proposal.held.some((h) => h.item === 'fuel.cylTrim' && h.reason.includes('knocks'))).toBe(true);
});
