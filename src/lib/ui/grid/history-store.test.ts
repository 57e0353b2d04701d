import { describe, expect, it } from 'vitest';
import { byHand } from '$core/revising/changes';
import { historyOf, keepHistory } from './history-store';
import { snapshotOf } from './snapshot';

const step = (...to: number[]) =>
	snapshotOf(
		to.map((v, i) => byHand('fuel.table', { x: 1000 + i, y: 100 }, 80, v, 'trial')),
		[],
		[]
	);
function storage() {
	const kept = new Map<string, string>();
	return {
		getItem: (k: string) => kept.get(k) ?? null,
		setItem: (k: string, v: string) => void kept.set(k, v)
	};
}

describe('the steps of a draft', () => {
	it('are there again after a reload, at the one that stood', () => {
		const s = storage();
		keepHistory(s, 7, 3, { steps: [step(), step(81), step(81, 82)], at: 1 });
		const server = step(81);
		const back = historyOf(s, 7, 3, server)!;
		expect(back.at).toBe(1);
		expect(back.steps.map((x) => x.cells.size)).toEqual([0, 1, 2]);
		expect(back.steps[1]).toBe(server);
	});
	it('aren’t where another window saved since, or what is stored is something else', () => {
		const s = storage();
		keepHistory(s, 7, 3, { steps: [step(), step(81)], at: 1 });
		expect(historyOf(s, 7, 4, step(81))).toBeNull();
		expect(historyOf(s, 7, 3, step(99))).toBeNull();
		expect(historyOf(s, 8, 3, step(81))).toBeNull();
		expect(historyOf({ getItem: () => '{broken' }, 7, 3, step(81))).toBeNull();
	});
	it('are the newest forty, with the one that stands among them', () => {
		const s = storage();
		const steps = Array.from({ length: 60 }, (_, n) => step(n));
		keepHistory(s, 7, 3, { steps, at: 59 });
		const back = historyOf(s, 7, 3, step(59))!;
		expect([back.steps.length, back.at]).toEqual([40, 39]);
		// A storage that is full costs nothing but the undo.
		const full = {
			setItem: () => {
				throw new Error('quota');
			}
		};
		expect(() => keepHistory(full, 7, 3, { steps, at: 59 })).not.toThrow();
	});
});
