import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pack32, packClock, unpack32, unpackClock } from './pack.ts';

const same = (a: Float32Array | Float64Array, b: Float32Array | Float64Array) => {
	expect(b.length).toBe(a.length);
	for (let i = 0; i < a.length; i++)
		if (!Object.is(a[i], b[i])) throw new Error(`value ${i}: ${a[i]} became ${b[i]}`);
};

describe('packed columns', () => {
	it('any column comes back bit for bit', () => {
		fc.assert(
			fc.property(fc.array(fc.oneof(fc.float(), fc.constant(Number.NaN)), { maxLength: 300 }), (list) => {
				const v = Float32Array.from(list);
				same(v, unpack32(pack32(v)));
			})
		);
	});
	it('decimal columns with gaps come back bit for bit, converted units too', () => {
		fc.assert(
			fc.property(
				fc.array(fc.option(fc.integer({ min: -5_000_000, max: 5_000_000 })), {
					minLength: 1,
					maxLength: 400
				}),
				fc.integer({ min: 0, max: 4 }),
				fc.constantFrom(
					{ scale: 1, offset: 0 },
					{ scale: 6.894757, offset: 101.3 },
					{ scale: 1 / 1.8, offset: -32 / 1.8 }
				),
				(list, digits, c) => {
					const v = new Float32Array(list.length);
					list.forEach((x, i) => {
						const raw = x === null ? Number.NaN : Math.fround(x / 10 ** digits);
						v[i] = c.scale === 1 ? raw : raw * c.scale + c.offset;
					});
					same(v, unpack32(pack32(v, c), c));
				}
			)
		);
	});
	it('a decimal column of small steps takes one byte a sample', () => {
		const v = new Float32Array(1000);
		for (let i = 0; i < v.length; i++) v[i] = 85 + Math.round(Math.sin(i / 20) * 60) / 10;
		expect(pack32(v).length).toBeLessThan(1100);
	});
	it('clocks come back exactly; an even one is nearly all zeros', () => {
		const even = new Float64Array(5000);
		for (let i = 0; i < even.length; i++) even[i] = Math.round(i * 50_000) / 1e6;
		const packed = packClock(even);
		same(even, unpackClock(packed));
		expect(packed.subarray(100).every((b) => b === 0)).toBe(true);
		const odd = Float64Array.from([0, 0.1, 1 / 3, 5, 1e7]);
		same(odd, unpackClock(packClock(odd)));
	});
	it('bytes of another kind are refused', () => {
		expect(() => unpack32(new Uint8Array(32).fill(9))).toThrow(RangeError);
		expect(() => unpackClock(new Uint8Array(32).fill(9))).toThrow(RangeError);
	});
});
