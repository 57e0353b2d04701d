import { describe, expect, it } from 'vitest';
import { plain } from '../format.ts';
import { profileOf } from '../limits/profile.ts';
import { judgeMaxima, maximaInWords } from './typed-maxima.ts';

const judged = (words: string) =>
	judgeMaxima(words, profileOf()).map((m) => `${m.title} ${m.value.toFixed(1)} ${m.severity}`);

describe('maxima since they were cleared', () => {
	it('are held against their limits, whichever unit they were kept in', () => {
		expect(judged('duty 94 %\nMax knock retard: 2.0°\ncoolant 104 °C')).toEqual([
			'Injector duty 94.0 fix',
			'Knock retard 2.0 watch',
			'Coolant temperature 104.0 null'
		]);
		// 244.4 °F is 118 °C.
		expect(judged('coolant 245 °F\nwater 245')).toEqual([
			'Coolant temperature 118.3 stop',
			'Coolant temperature 118.3 stop'
		]);
		expect(judged('EGT 960')).toEqual(['Exhaust temperature 960.0 fix']);
	});
	it('of what has no limit, or of another quantity, say nothing', () => {
		expect(judged('boost 215 kPa\noil pressure 20 kPa\nseen twice')).toEqual([]);
		expect(judged('duty 94 kPa')).toEqual([]);
	});
	it('are one sentence with the limit that was passed', () => {
		const words = plain(maximaInWords(judgeMaxima('duty 94 %\ncoolant 99 °C', profileOf())));
		expect(words).toBe('Beyond its limit: injector duty 94 % (fix, limit 85 %).');
		expect(maximaInWords([])).toContain('Nothing in it has a limit');
	});
});
