/**
 * Columns as few bytes, exactly. What a controller writes is a decimal number with few digits, so a column is stored as the
 * integers that were written: steps from one to the next, in as many bytes as the largest step needs, one plane per byte, which
 * a general compressor then shrinks well. A column that isn't decimal is kept as it is, its bytes in planes.
 *
 * Layout: kind (1 byte: 0 = 32-bit floats in planes, 1 = decimals, 2 = 64-bit floats in planes), digits (1), bytes per step (1),
 * gaps (1: 0 none, 1 a bitmap follows), count (4, little endian), first integer and first step (8 each, as 64-bit floats),
 * [bitmap], planes.
 */
const HEAD = 24;
const MAX_DIGITS = 6;
const POWERS = [1, 10, 100, 1e3, 1e4, 1e5, 1e6];
/** Largest integer that may stand in a column: its steps have to fit 32 bits. */
const MAX_INTEGER = 2 ** 30;

export interface Linear {
	scale: number;
	offset: number;
}

const AS_IS: Linear = { scale: 1, offset: 0 };

function present(values: Float32Array | Float64Array): { bitmap: Uint8Array | null; count: number } {
	let count = 0;
	for (let i = 0; i < values.length; i++) if (values[i] === values[i]) count++;
	if (count === values.length) return { bitmap: null, count };
	const bitmap = new Uint8Array((values.length + 7) >> 3);
	for (let i = 0; i < values.length; i++) if (values[i] === values[i]) bitmap[i >> 3]! |= 1 << (i & 7);
	return { bitmap, count };
}

/** Integers behind the values with `digits` decimals, or `null` where one of them isn't such a number. */
function integers32(values: Float32Array, count: number, digits: number, c: Linear): Int32Array | null {
	const power = POWERS[digits]!;
	const out = new Int32Array(count);
	const { scale, offset } = c;
	const straight = scale === 1 && offset === 0;
	let n = 0;
	for (let k = 0; k < values.length; k++) {
		const v = values[k]!;
		if (v !== v) continue;
		const exact = (straight ? v : (v - offset) / scale) * power;
		if (!(exact < MAX_INTEGER && exact > -MAX_INTEGER)) return null;
		// To the nearest integer; with Math.round this loop took 1.6 times as long.
		const i = (exact < 0 ? exact - 0.5 : exact + 0.5) | 0;
		const back = Math.fround(i / power);
		if ((straight ? back : Math.fround(back * scale + offset)) !== v || (i === 0 && Object.is(v, -0)))
			return null;
		out[n++] = i;
	}
	return out;
}

function planes(bytes: Uint8Array, width: number, at: number, out: Uint8Array): void {
	const n = bytes.length / width;
	for (let p = 0; p < width; p++) for (let i = 0; i < n; i++) out[at + p * n + i] = bytes[i * width + p]!;
}

function unplanes(from: Uint8Array, width: number, n: number): Uint8Array {
	const out = new Uint8Array(width * n);
	for (let p = 0; p < width; p++) for (let i = 0; i < n; i++) out[i * width + p] = from[p * n + i]!;
	return out;
}

function head(
	about: { kind: number; digits?: number; width: number; length: number; first?: number; step?: number },
	bitmap: Uint8Array | null,
	body: number
) {
	const out = new Uint8Array(HEAD + (bitmap?.length ?? 0) + body);
	out.set([about.kind, about.digits ?? 0, about.width, bitmap ? 1 : 0]);
	const view = new DataView(out.buffer);
	view.setUint32(4, about.length, true);
	view.setFloat64(8, about.first ?? 0, true);
	view.setFloat64(16, about.step ?? 0, true);
	if (bitmap) out.set(bitmap, HEAD);
	return { out, at: HEAD + (bitmap?.length ?? 0) };
}

/** Steps as zigzag numbers, least byte first, in planes of equal weight. */
function packSteps(
	steps: Uint32Array,
	largest: number
): { width: number; write: (out: Uint8Array, at: number) => void } {
	const width = largest < 0x100 ? 1 : largest < 0x10000 ? 2 : largest < 0x1000000 ? 3 : 4;
	return {
		width,
		write(out, at) {
			const n = steps.length;
			for (let p = 0; p < width; p++)
				for (let i = 0, shift = 8 * p; i < n; i++) out[at + p * n + i] = (steps[i]! >>> shift) & 0xff;
		}
	};
}

/** Packs a column of 32-bit values that were made as `raw × scale + offset`. `unpack32` gives them back bit for bit. */
export function pack32(values: Float32Array, conversion: Linear = AS_IS): Uint8Array {
	const { bitmap, count } = present(values);
	let whole: Int32Array | null = null;
	let digits = -1;
	// A look at the beginning finds the digits; the whole column then proves them.
	const probe = values.subarray(0, 256);
	const probeCount = present(probe).count;
	while (!whole && ++digits <= MAX_DIGITS)
		if (integers32(probe, probeCount, digits, conversion))
			whole = integers32(values, count, digits, conversion);
	if (!whole) {
		const { out, at } = head({ kind: 0, width: 4, length: values.length }, null, values.length * 4);
		planes(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), 4, at, out);
		return out;
	}
	const steps = new Uint32Array(count);
	const first = whole[0] ?? 0;
	let last = first;
	let largest = 0;
	for (let i = 0; i < count; i++) {
		const d = whole[i]! - last;
		last = whole[i]!;
		const z = d >= 0 ? d * 2 : -d * 2 - 1;
		steps[i] = z;
		if (z > largest) largest = z;
	}
	const { width, write } = packSteps(steps, largest);
	const { out, at } = head({ kind: 1, digits, width, length: values.length, first }, bitmap, width * count);
	write(out, at);
	return out;
}

/** Values in a packed column or clock. */
export function packedLength(bytes: Uint8Array): number {
	return new DataView(bytes.buffer, bytes.byteOffset).getUint32(4, true);
}

function firstOf(bytes: Uint8Array): { first: number; step: number } {
	const view = new DataView(bytes.buffer, bytes.byteOffset);
	return { first: view.getFloat64(8, true), step: view.getFloat64(16, true) };
}

function readSteps(bytes: Uint8Array, at: number, width: number, count: number): Uint32Array {
	const steps = new Uint32Array(count);
	for (let p = 0; p < width; p++)
		for (let i = 0, from = at + p * count; i < count; i++) steps[i]! |= bytes[from + i]! << (8 * p);
	return steps;
}

/** The column that `pack32` packed. @throws RangeError for bytes that aren't one */
export function unpack32(bytes: Uint8Array, conversion: Linear = AS_IS): Float32Array {
	const length = packedLength(bytes);
	if (bytes[0] === 0) return new Float32Array(unplanes(bytes.subarray(HEAD), 4, length).buffer);
	if (bytes[0] !== 1) throw new RangeError('not a packed column');
	const gaps = bytes[3] === 1;
	const bitmapBytes = gaps ? (length + 7) >> 3 : 0;
	const width = bytes[2]!;
	const steps = readSteps(bytes, HEAD + bitmapBytes, width, (bytes.length - HEAD - bitmapBytes) / width);
	const power = POWERS[bytes[1]!]!;
	const { scale, offset } = conversion;
	const straight = scale === 1 && offset === 0;
	const out = new Float32Array(length);
	let value = firstOf(bytes).first;
	let n = 0;
	for (let i = 0; i < length; i++) {
		if (gaps && !(bytes[HEAD + (i >> 3)]! & (1 << (i & 7)))) {
			out[i] = Number.NaN;
			continue;
		}
		const z = steps[n++]!;
		value += z & 1 ? -(z + 1) / 2 : z / 2;
		const raw = Math.fround(value / power);
		out[i] = straight ? raw : raw * scale + offset;
	}
	return out;
}

const MICRO = 1e6;

/** Packs an ascending clock in seconds; exact where it is in whole microseconds, as every clock that was read is. */
export function packClock(timeS: Float64Array): Uint8Array {
	const n = timeS.length;
	const steps = new Uint32Array(n);
	const first = Math.round((timeS[0] ?? 0) * MICRO);
	const firstStep = n > 1 ? Math.round(timeS[1]! * MICRO) - first : 0;
	let last = first - firstStep;
	let lastStep = firstStep;
	let largest = 0;
	for (let i = 0; i < n; i++) {
		const micro = Math.round(timeS[i]! * MICRO);
		const step = micro - last;
		const change = step - lastStep;
		if (micro / MICRO !== timeS[i] || !(Math.abs(change) < MAX_INTEGER)) {
			const { out, at } = head({ kind: 2, width: 8, length: n }, null, n * 8);
			planes(new Uint8Array(timeS.buffer, timeS.byteOffset, timeS.byteLength), 8, at, out);
			return out;
		}
		last = micro;
		lastStep = step;
		const z = change >= 0 ? change * 2 : -change * 2 - 1;
		steps[i] = z;
		if (z > largest) largest = z;
	}
	const { width, write } = packSteps(steps, largest);
	const { out, at } = head({ kind: 1, digits: 6, width, length: n, first, step: firstStep }, null, width * n);
	write(out, at);
	return out;
}

/** The clock that `packClock` packed. @throws RangeError for bytes that aren't one */
export function unpackClock(bytes: Uint8Array): Float64Array {
	const length = packedLength(bytes);
	if (bytes[0] === 2) return new Float64Array(unplanes(bytes.subarray(HEAD), 8, length).buffer);
	if (bytes[0] !== 1) throw new RangeError('not a packed clock');
	const steps = readSteps(bytes, HEAD, bytes[2]!, length);
	const out = new Float64Array(length);
	const { first, step: firstStep } = firstOf(bytes);
	let value = first - firstStep;
	let step = firstStep;
	for (let i = 0; i < length; i++) {
		const z = steps[i]!;
		step += z & 1 ? -(z + 1) / 2 : z / 2;
		value += step;
		out[i] = value / MICRO;
	}
	return out;
}
