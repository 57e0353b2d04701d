import { describe, expect, it } from 'vitest';
import { sectionStates } from './rail.ts';
import type { TimelineEvent } from './timeline-event.ts';

const event = (kind: TimelineEvent['kind'], state: string, detail = '', label = 'R1'): TimelineEvent => ({
	kind,
	id: 1,
	label,
	at: '2026-05-01T00:00:00Z',
	state,
	detail
});
const open = { done: null, waitingOn: 'tuner' } as const;

describe('the rail of a job', () => {
	it('says whose turn it is, and that it is complete', () => {
		expect(sectionStates(open, [], 0)['overview']).toEqual({ word: 'your turn' });
		expect(sectionStates({ ...open, waitingOn: 'customer' }, [], 0)['overview']?.word).toBe(
			'customer’s turn'
		);
		expect(sectionStates({ ...open, done: { at: '', words: '' } }, [], 0)['overview']?.word).toBe('complete');
	});
	it('carries the verdict of the newest log that was read, though a later one is still being read', () => {
		const events = [event('log', 'clear'), event('log', 'stop'), event('log', 'reading')];
		expect(sectionStates(open, events, 0)['logs']).toEqual({ word: '3', mark: 'stop' });
	});
	it('counts a log that was excluded or rejected, and doesn’t take its verdict', () => {
		const aside = { ...event('log', 'stop'), aside: true as const };
		expect(sectionStates(open, [event('log', 'clear'), aside], 0)['logs']).toEqual({
			word: '2',
			mark: 'clear'
		});
		expect(sectionStates(open, [aside], 0)['logs']).toEqual({ word: '1' });
	});
	it('names the draft, else the newest revision', () => {
		expect(
			sectionStates(open, [event('revision', 'released'), event('revision', 'draft', '', 'R2')], 0)[
				'calibration'
			]
		).toEqual({ word: 'R2 draft' });
		expect(sectionStates(open, [event('revision', 'released')], 0)['calibration']).toEqual({ word: 'R1' });
	});
	it('counts what the customer wrote since the last answer; a note is none', () => {
		const customer = event('message', 'from-customer');
		expect(
			sectionStates(open, [event('message', 'to-customer'), customer, event('message', 'note'), customer], 0)[
				'customer'
			]
		).toEqual({ word: '2 new' });
		expect(sectionStates(open, [customer, event('message', 'to-customer')], 0)['customer']).toBeUndefined();
	});
	it('shows a test that waits for its log, and what the inspection found', () => {
		const test = event('swap', 'swap', 'in whatever words');
		const states = sectionStates(open, [{ ...test, waits: true }], 2);
		expect(states['diagnosis']).toEqual({ word: 'test open', mark: 'watch' });
		expect(states['vehicle']).toEqual({ word: '2 open', mark: 'watch' });
		expect(sectionStates(open, [test], 0)['diagnosis']).toBeUndefined();
	});
});
