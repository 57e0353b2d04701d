import { describe, expect, it } from 'vitest';
import { laidOver, over, touched } from './laid';

const RPM = [1000, 2000, 3000, 4000];
const KPA = [20, 60, 100];

describe('a drive over a map', () => {
	it('runs over the breakpoints nearest to its ends', () => {
		expect(touched(RPM, [1900, 3200])).toEqual([1, 2]);
		expect(touched(RPM, [2400, 2400])).toEqual([1, 1]);
		// However it is written, and however far it goes.
		expect(touched(RPM, [9000, 500])).toEqual([0, 3]);
		expect(touched([4000, 3000, 2000], [2000, 3000])).toEqual([1, 2]);
	});
	it('marks the cells that it runs over, and no other', () => {
		const laid = laidOver([{ name: '1', x: [1900, 3200], y: [55, 70] }], RPM, KPA);
		const marked = KPA.flatMap((_, r) =>
			RPM.flatMap((__, c) => (over(laid, r, c).length ? [`${c}/${r}`] : []))
		);
		expect(marked).toEqual(['1/1', '2/1']);
	});
});
