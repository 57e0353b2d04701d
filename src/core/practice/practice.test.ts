/** Levels, the grade of a trainee's word, cures, and the hidden truth of what is done to the engine. */
import { describe, expect, it } from 'vitest';
import { withChanges } from '../revising/changes.ts';
import { findMap } from '../calibration/lookup.ts';
import { harmBetween, inCar, standingOf, type CarState } from './car.ts';
import { CURES, without } from './cures.ts';
import { gradeOf } from './grade.ts';
import { practisedHand } from './hand.ts';
import { LEVELS, levelOf, loadedTiming, sceneOf } from './levels.ts';
import { SUBJECTS, subjectsIn } from './subjects.ts';
import { CHECKS } from '../screening/codes.ts';

const car = (level: number, more: Partial<CarState> = {}, seed = 1): CarState => {
	const scene = sceneOf(levelOf(level)!, seed);
	return { scene, seed, cures: [], calibration: scene.base, released: false, ...more };
};

describe('levels', () => {
	it('are numbered in their order, and each teaches one thing with a truth of its own', () => {
		expect(LEVELS.map((l) => l.id)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
		for (const l of LEVELS) expect(sceneOf(l, 1).truth.length, l.title).toBeGreaterThan(0);
	});
	it('end with one that may be any of them', () => {
		const subjects = Array.from({ length: 40 }, (_, n) => sceneOf(levelOf(9)!, n + 1).truth[0]!.subject);
		expect(new Set(subjects).size).toBe(8);
	});
	it('make the same car of the same seed, and another one of another', () => {
		const [a, b, c] = [1, 1, 2].map((seed) => sceneOf(levelOf(3)!, seed).faults);
		expect(a).toEqual(b);
		expect(a).not.toEqual(c);
	});
	it('ask only for what there is to be asked for, and every cure mends what it says', () => {
		for (const l of LEVELS)
			for (const cure of sceneOf(l, 1).cures) expect(CURES.map((c) => c.id)).toContain(cure);
		expect(without({ bankFlow: [1, 0.9], octaneRon: 92 }, ['injectors-flowed'])).toEqual({ octaneRon: 92 });
	});
	it('name only checks that there are', () => {
		const codes: string[] = CHECKS.map((c) => c.code);
		for (const s of SUBJECTS) for (const code of s.codes) expect(codes, code).toContain(code);
	});
});

describe('a trainee’s own word', () => {
	const report = { verdict: 'stop' as const, findings: [{ code: 'bank.mismatch', severity: 'stop' }] };
	const truth = [{ subject: 'bank' as const, whom: 2 }];
	it('hits, nearly hits, misses, and is wrong', () => {
		const say = (...claims: Parameters<typeof gradeOf>[0]['claims'][number][]) =>
			gradeOf({ verdict: 'stop', claims }, truth, report).lines.map((l) => `${l.subject} ${l.mark}`);
		expect(say({ subject: 'bank', whom: 2 })).toEqual(['bank hit']);
		expect(say({ subject: 'bank', whom: 1 })).toEqual(['bank near']);
		expect(say()).toEqual(['bank missed']);
		expect(say({ subject: 'bank', whom: 2 }, { subject: 'knock' })).toEqual(['bank hit', 'knock wrong']);
	});
	it('is right about what Tanto finds beside the planted fault', () => {
		const more = { ...report, findings: [...report.findings, { code: 'volt.supply', severity: 'watch' }] };
		expect(gradeOf({ verdict: 'fix', claims: [{ subject: 'voltage' }] }, [], more).lines[0]!.mark).toBe(
			'hit'
		);
		expect(subjectsIn([{ code: 'volt.supply', severity: 'note' }])).toEqual([]);
	});
});

describe('the truth of the engine', () => {
	it('runs another file until it is flashed again, or another one is released', () => {
		const wrong = car(6);
		expect(inCar(wrong)).toBe(wrong.scene.other);
		expect(inCar({ ...wrong, cures: ['file-flashed'] })).toBe(wrong.scene.base);
		expect(inCar({ ...wrong, released: true })).toBe(wrong.scene.base);
	});
	it('tells who took fuel out of a lean engine, and where', () => {
		const before = car(1);
		const table = findMap(before.calibration, 'fuel.table')!;
		const cells = table.y.points.flatMap((y, r) =>
			table.x.points.map((x, c) => ({ x, y, to: table.values[r]![c]! * 0.94 }))
		);
		const after = {
			...before,
			calibration: withChanges(before.calibration, [{ item: 'fuel.table', cells }])
		};
		const { harm, standing } = harmBetween(before, after);
		expect(harm.length).toBeGreaterThan(0);
		expect(harm[0]!.now.pct - harm[0]!.was.pct).toBeGreaterThan(5);
		expect(standing.left).toContain('a place under load is still lean');
	});
	it('doesn’t let timing go that noise took', () => {
		const noisy = car(4);
		const table = findMap(noisy.calibration, 'spark.table')!;
		const cells = table.y.points.flatMap((y, r) =>
			y >= 95 ? table.x.points.map((x, c) => ({ x, y, to: table.values[r]![c]! - 4 })) : []
		);
		const less = withChanges(noisy.calibration, [{ item: 'spark.table', cells }]);
		expect(loadedTiming(noisy.calibration) - loadedTiming(less)).toBeCloseTo(4, 6);
		const { left } = standingOf({ ...noisy, cures: ['rattle-fixed'], calibration: less });
		expect(left).toEqual(['timing was taken out that nothing asked for']);
	});
});

describe('a practised hand', () => {
	it('asks for what is no matter of the file, then revises, and hurts nothing', () => {
		expect(practisedHand(sceneOf(levelOf(7)!, 3), 3)).toMatchObject({
			won: true,
			seen: 1,
			cures: ['pump-replaced'],
			harm: []
		});
	}, 300_000);
});
