import { describe, expect, it } from 'vitest';
import { commandScore } from './command-filter.ts';

describe('what a command is found by', () => {
	it('its beginning first, then any part, then its words and its other names', () => {
		expect(commandScore('New job', 'new j')).toBe(1);
		expect(commandScore('This job: New', 'new')).toBe(0.8);
		expect(commandScore('Reject log', 'log reject')).toBe(0.5);
		expect(commandScore('Complete job', 'finish', ['finish', 'done'])).toBe(0.5);
	});
	it('never letters that are only scattered in it', () => {
		expect(commandScore('Fuel planner, without a job', 'New job')).toBe(0);
	});
});
