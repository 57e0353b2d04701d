import { describe, expect, it } from 'vitest';
import { vehicleWith } from '../testing/hand-made.ts';
import { parseGoal } from './goal.ts';
import { stagesOf, type Fill, type StageCall, type StageFacts, type StageKind } from './stages.ts';

const day = (n: number) => `2026-05-${String(n).padStart(2, '0')}T10:00:00.000Z`;
const call = (kind: StageKind, n: number): StageCall => ({
	kind,
	at: day(n),
	author: 'a tuner',
	words: 'holds its mixture'
});
const fill = (n: number, more: Partial<Fill> = {}): Fill => ({
	at: day(n),
	ethanolPct: 71,
	octaneRon: null,
	source: 'sensor',
	words: '',
	...more
});
const facts = (more: Partial<StageFacts> = {}): StageFacts => ({
	goal: parseGoal({ schema: 'tanto.goal/1', ethanolPct: 70 }),
	vehicle: vehicleWith({}, { fuel: { ethanolPct: 5 }, nitrous: { shotHp: 75, kind: 'dry' } }),
	done: [],
	injectorsAt: null,
	logsAt: [day(1)],
	openStop: null,
	fill: null,
	...more
});
const states = (f: StageFacts) => stagesOf(f).map((s) => `${s.kind} ${s.state}`);
const stage = (f: StageFacts, kind: StageKind) => stagesOf(f).find((s) => s.kind === kind)!;

describe('which stages a job has', () => {
	it('only those that its goal and its car ask for', () => {
		expect(states(facts({ goal: parseGoal({ schema: 'tanto.goal/1' }), vehicle: vehicleWith() }))).toEqual([
			'ordinary open'
		]);
		expect(states(facts())).toEqual(['ordinary open', 'ethanol closed', 'nitrous closed']);
	});
	it('a car that runs on the blend already has no ethanol stage', () => {
		const f = facts({ vehicle: vehicleWith({}, { fuel: { ethanolPct: 68 } }) });
		expect(states(f)).toEqual(['ordinary open']);
	});
	it('new injectors begin with a first start and its leak check', () => {
		const f = facts({ injectorsAt: day(3) });
		expect(states(f)[0]).toBe('first-start open');
		expect(stage(f, 'first-start').todo.join(' ')).toMatch(/trims.*Leak check.*wait an hour/);
	});
});

describe('what opens a stage', () => {
	it('ethanol: only when the ordinary fuel is complete', () => {
		expect(stage(facts({ fill: fill(2) }), 'ethanol').why).toBe('Opens when ordinary fuel is complete.');
		const f = facts({ done: [call('ordinary', 2)], fill: fill(3) });
		expect(states(f)).toEqual(['ordinary done', 'ethanol open', 'nitrous closed']);
	});
	it.each<[string, Partial<StageFacts>, RegExp]>([
		['no fill', {}, /fill with ethanol is noted/],
		['a fill from before', { fill: fill(1) }, /fill with ethanol is noted/],
		['a content that nobody knows', { fill: fill(3, { ethanolPct: null }) }, /measure it/],
		['a content that trims say', { fill: fill(3, { source: 'inferred' }) }, /no witness/],
		['an open stop', { fill: fill(3), openStop: 'Bank 2 needs more' }, /Open at stop: Bank 2 needs more/]
	])('stays closed with %s', (_, more, why) => {
		const s = stage(facts({ done: [call('ordinary', 2)], ...more }), 'ethanol');
		expect(s.state).toBe('closed');
		expect(s.why).toMatch(why);
	});
	it('nitrous: the base is proven first', () => {
		const f = facts({ done: [call('ordinary', 2)], fill: fill(3) });
		expect(stage(f, 'nitrous').why).toMatch(/ethanol is complete: the base is proven first/);
		expect(states({ ...f, done: [...f.done, call('ethanol', 5)] })[2]).toBe('nitrous open');
	});
	it('new injectors make what was done before void', () => {
		const f = facts({ done: [call('ordinary', 2)], fill: fill(3), injectorsAt: day(4), logsAt: [day(1)] });
		expect(states(f)).toEqual(['first-start open', 'ordinary closed', 'ethanol closed', 'nitrous closed']);
	});
});

describe('when a stage may be called done', () => {
	it('after a log of its own, without an open stop', () => {
		expect(stage(facts(), 'ordinary').notYet).toBeNull();
		expect(stage(facts({ logsAt: [] }), 'ordinary').notYet).toMatch(/first start/);
		const f = facts({ injectorsAt: day(3) });
		expect(stage(f, 'first-start').notYet).toBe('No log was made in this stage.');
		expect(stage({ ...f, logsAt: [day(1), day(4)] }, 'first-start').notYet).toBeNull();
		expect(stage(facts({ openStop: 'Knock' }), 'ordinary').notYet).toBe('Open at stop: Knock.');
		expect(stage(facts(), 'ethanol').notYet).toMatch(/Opens when/);
	});
});
