/** Which pull of a log is drawn, and which one behind it. */
import { afterEach, expect, it, vi } from 'vitest';
import type { PullCurves } from '$core/evidence/segments/pull-curves';
import { Pulls } from './pulls.svelte';

const pull = (fromRpm: number, toRpm: number, drawn = true): PullCurves =>
	({ rpm: drawn ? [fromRpm, toRpm] : [], curves: {}, summary: { fromRpm, toRpm } }) as unknown as PullCurves;
const of = (...pulls: PullCurves[]) => new Pulls(() => ({ id: 7, pulls }));
const answer = (curves: PullCurves | null) =>
	vi.fn(async (_: string) => ({ ok: curves !== null, json: async () => curves }) as Response);
afterEach(() => vi.unstubAllGlobals());

it('the widest is drawn until another is picked, and only that one is asked for', async () => {
	const far = pull(2500, 6500, false);
	const fetched = answer(pull(2500, 6500));
	vi.stubGlobal('fetch', fetched);
	const pulls = of(pull(2000, 7000), far);
	expect(pulls.index).toBe(0);
	await pulls.pick(1);
	expect(fetched.mock.calls[0]![0]).toBe('/api/v1/logs/7/pulls/1');
	expect(pulls.shown?.rpm).toEqual([2500, 6500]);
	await pulls.pick(0);
	expect(fetched).toHaveBeenCalledTimes(1);
	expect(pulls.shown?.rpm).toEqual([2000, 7000]);
});
it('a late answer to an old question isn’t laid behind', async () => {
	let first: (r: Response) => void = () => {};
	const slow = new Promise<Response>((done) => (first = done));
	const quick = pull(3000, 6000);
	vi.stubGlobal(
		'fetch',
		vi.fn((url: string) =>
			url.includes('/3/') ? slow : Promise.resolve({ ok: true, json: async () => quick } as Response)
		)
	);
	const pulls = of(pull(2000, 7000));
	const old = pulls.setAgainst('3/0');
	await pulls.setAgainst('4/0');
	first({ ok: true, json: async () => pull(1000, 2000) } as Response);
	await old;
	expect(pulls.against).toEqual(quick);
	await pulls.setAgainst('');
	expect(pulls.against).toBeNull();
});
it('a log without pulls draws nothing', () => {
	expect(of().shown).toBeNull();
});
