/**
 * The same calibration in other units gives the same physical answer, whatever is asked of it: proposals, holds, comparison, replay,
 * ladder. `npm run properties` asks it of more vehicles and faults.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { VEHICLES } from '../../src/core/simulator/vehicles.ts';
import { main } from '../../src/cli/main.ts';
import { axisPlain } from '../../src/core/calibration/axes.ts';
import {
	parseCalibration,
	type Axis,
	type Calibration,
	type FuelModel
} from '../../src/core/calibration/document.ts';
import { decimalsOf, findItem } from '../../src/core/calibration/lookup.ts';
import { itemConversion } from '../../src/core/calibration/item-units.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { inOtherUnits } from '../../src/core/testing/other-units.ts';
import type { Faults } from '../../src/core/simulator/faults.ts';
import { runs } from './runs.ts';

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'tanto-units-'))));
afterAll(() => rmSync(folder, { recursive: true }));

async function tanto(...args: string[]): Promise<unknown> {
	let [out, err] = ['', ''];
	const code = await main(args, {
		out: async (piece) =>
			void (out += typeof piece === 'string' ? piece : Buffer.from(piece).toString('utf8')),
		err: (text) => void (err += text)
	});
	expect(code, err).toBe(0);
	return JSON.parse(out) as unknown;
}

interface Replayed {
	pulls: unknown;
	map: unknown;
	unproven: unknown[];
}

interface Change {
	item: string;
	cells: { x: number; y: number; from: number; to: number; basis: string }[];
}

/** Cells of changes by item and canonical place, with their canonical value and half of their last digit. */
function physical(changes: Change[], c: Calibration) {
	const out = new Map<string, { to: number; half: number; basis: string }>();
	for (const change of changes) {
		const item = findItem(c, change.item)!;
		const { scale, offset } = itemConversion(item, 0);
		const axis = (a: Axis | undefined, v: number) => {
			if (!a) return 0;
			const plain = axisPlain(a);
			return Math.round((plain.scale * v + plain.offset) * 10) / 10;
		};
		for (const cell of change.cells) {
			const x = item.kind === 'map' || item.kind === 'curve' ? axis(item.x, cell.x) : 0;
			const y = item.kind === 'map' ? axis(item.y, cell.y) : 0;
			out.set(`${change.item} ${x}/${y}`, {
				to: scale * cell.to + offset,
				half: 0.5 * 10 ** -decimalsOf(item) * Math.abs(scale),
				basis: cell.basis
			});
		}
	}
	return out;
}

/** Changes of both, cell by cell: one that rounds to nothing in the coarser unit may be missing there. */
function expectSame(a: Change[], b: Change[], ca: Calibration, cb: Calibration): void {
	const [one, two] = [physical(a, ca), physical(b, cb)];
	for (const [place, cell] of one) {
		const other = two.get(place);
		if (!other) {
			const item = findItem(cb, place.split(' ')[0]!)!;
			const half = 0.5 * 10 ** -decimalsOf(item) * Math.abs(itemConversion(item, 0).scale);
			const from = a
				.flatMap((c) => (place.startsWith(`${c.item} `) ? c.cells : []))
				.find((c) => Math.abs(c.to) > 0);
			expect(from, `${place} only in one of both`).toBeDefined();
			expect(half, `${place} only in one of both`).toBeGreaterThan(0);
			continue;
		}
		expect(other.basis, place).toBe(cell.basis);
		expect(Math.abs(other.to - cell.to), place).toBeLessThanOrEqual(
			Math.max(other.half, cell.half) * 2 + 1e-9
		);
	}
	const missing =
		[...one.keys()].filter((k) => !two.has(k)).length + [...two.keys()].filter((k) => !one.has(k)).length;
	expect(missing, 'cells in one of both only').toBeLessThanOrEqual(
		Math.ceil(0.03 * Math.max(one.size, two.size))
	);
}

const CASES: { vehicle: keyof typeof VEHICLES; model: FuelModel; faults: Faults; fuelError: number }[] = [
	{ vehicle: 'marl', model: 'speed-density', faults: { octaneRon: 90 }, fuelError: -0.06 },
	{ vehicle: 'kestrel', model: 'speed-density', faults: { octaneRon: 92 }, fuelError: 0.05 },
	{ vehicle: 'marl', model: 'pulse-width', faults: {}, fuelError: 0.04 },
	{ vehicle: 'kestrel', model: 'speed-density', faults: { boostLeak: 0.3 }, fuelError: -0.04 }
];

describe('in other units', () => {
	it.each(CASES.slice(0, runs(2)))('$vehicle, $model, $faults: the same answer', async (c) => {
		const vehicle = VEHICLES[c.vehicle];
		const own = parseCalibration(
			baseCalibration({ vehicle, fuelModel: c.model, name: 'base', fuelError: (_, l) => c.fuelError * l })
		);
		const other = inOtherUnits(own);
		expect(JSON.stringify(other)).not.toBe(JSON.stringify(own));
		const put = (name: string, what: unknown) => {
			const path = join(folder, name);
			writeFileSync(path, typeof what === 'string' ? what : JSON.stringify(what));
			return path;
		};
		const v = put('v.json', vehicle);
		const log = put('log.csv', drive(vehicle, own, c.faults, 11));
		const goal = put('goal.json', {
			schema: 'tanto.goal/1',
			boostKpa: [
				[3000, 190],
				[6500, 190]
			],
			timingCeilingDeg: 20
		});
		const answers = [];
		for (const [k, calibration] of [own, other].entries()) {
			const file = put(`c${k}.json`, calibration);
			const next = join(folder, `next${k}.json`);
			const revised = (await tanto('revise', file, log, '--vehicle', v, '--out', next)) as {
				changes: Change[];
				held: { item: string; code: string }[];
			};
			answers.push({
				calibration,
				revised,
				held: revised.held.map((h) => `${h.item} ${h.code}`).sort(),
				screened: (
					(await tanto('screen', log, '--vehicle', v, '--calibration', file)) as { findings: object[] }
				).findings,
				compared: (await tanto('compare', file, next, '--vehicle', v)) as {
					comparable: string;
					guards: unknown[];
					changes: { item: string; class: string }[];
					effectiveFuel: { percent: number[][] } | null;
				},
				replayed: await tanto('replay', file, next, log, '--vehicle', v),
				rung: (await tanto('ladder', file, log, '--vehicle', v, '--goal', goal)) as {
					rung: { kind: string };
					gates: { id: string; open: boolean }[];
					changes: Change[];
				},
				next
			});
		}
		const [a, b] = [answers[0]!, answers[1]!];
		expect(a.revised.changes.length).toBeGreaterThan(0);
		expectSame(a.revised.changes, b.revised.changes, own, other);
		expect(b.held).toEqual(a.held);
		const kinds = (list: object[]) =>
			(list as { code: string; severity: string; bank?: number }[]).map(
				(f) => `${f.code} ${f.bank ?? ''} ${f.severity}`
			);
		expect(kinds(b.screened)).toEqual(kinds(a.screened));
		expect(b.compared.comparable).toBe(a.compared.comparable);
		expect(b.compared.guards).toEqual(a.compared.guards);
		expect(b.compared.changes.map((x) => `${x.item} ${x.class}`)).toEqual(
			a.compared.changes.map((x) => `${x.item} ${x.class}`)
		);
		const fuel = (x: typeof a) => x.compared.effectiveFuel!.percent.flat();
		fuel(a).forEach((p, i) => expect(Math.abs(fuel(b)[i]! - p)).toBeLessThan(0.1));
		expect(numbersOf(b.replayed).length).toBe(numbersOf(a.replayed).length);
		numbersOf(a.replayed).forEach((n, i) =>
			expect(Math.abs(numbersOf(b.replayed)[i]! - n)).toBeLessThanOrEqual(0.003 * Math.max(1, Math.abs(n)))
		);
		expect(b.rung.rung.kind).toBe(a.rung.rung.kind);
		expect(b.rung.gates.map((g) => [g.id, g.open])).toEqual(a.rung.gates.map((g) => [g.id, g.open]));
		expectSame(a.rung.changes, b.rung.changes, own, other);
		// The two files say the same: nothing is riskier, nothing is leaner in the replay of one by the other.
		const [same, back] = [put('own.json', own), put('other.json', other)];
		const crossed = (await tanto('compare', same, back, '--vehicle', v)) as typeof a.compared;
		expect(crossed.changes.filter((x) => x.class === 'riskier' || x.class === 'unknown')).toEqual([]);
		expect(crossed.effectiveFuel!.percent.flat().every((p) => Math.abs(p) < 0.01)).toBe(true);
		const itself = (await tanto('replay', same, same, log, '--vehicle', v)) as Replayed;
		const turned = (await tanto('replay', same, back, log, '--vehicle', v)) as Replayed;
		expect(turned.unproven).toEqual(itself.unproven);
		numbersOf([turned.pulls, turned.map]).forEach((n, i) =>
			expect(Math.abs(n - numbersOf([itself.pulls, itself.map])[i]!)).toBeLessThanOrEqual(
				1e-3 * Math.max(1, Math.abs(n))
			)
		);
	});
});

/** All numbers of an answer, in their order. */
function numbersOf(answer: unknown): number[] {
	if (typeof answer === 'number') return [answer];
	if (Array.isArray(answer)) return answer.flatMap(numbersOf);
	return answer && typeof answer === 'object' ? Object.values(answer).flatMap(numbersOf) : [];
}
