import { describe, expect, it } from 'vitest';
import { logTitles, type Titled } from './log-titles.ts';

const log = (more: Partial<Titled> = {}): Titled => ({
	revision: 1,
	receivedAt: '2026-11-24T09:05:00.000Z',
	kind: 'drive',
	pulls: 2,
	...more
});

describe('a log', () => {
	it('is called by its revision, its day and what was driven', () => {
		expect(
			logTitles([
				log(),
				log({ pulls: 0 }),
				log({ kind: 'problem' }),
				log({ pulls: null }),
				log({ revision: 2, receivedAt: '2026-12-01T23:59:00.000Z' })
			])
		).toEqual([
			'R1, 24 Nov, full throttle',
			'R1, 24 Nov, no full throttle',
			'R1, 24 Nov, a problem',
			'R1, 24 Nov, not read',
			'R2, 1 Dec, full throttle'
		]);
	});
	it('is told apart from another of the same day by its time, and by a number within a minute', () => {
		expect(logTitles([log(), log({ receivedAt: '2026-11-24T17:30:00.000Z' }), log({ revision: 0 })])).toEqual(
			['R1, 24 Nov 09:05, full throttle', 'R1, 24 Nov 17:30, full throttle', 'R0, 24 Nov, full throttle']
		);
		expect(logTitles([log(), log()])).toEqual([
			'R1, 24 Nov 09:05, full throttle (1)',
			'R1, 24 Nov 09:05, full throttle (2)'
		]);
	});
});
