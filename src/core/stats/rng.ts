/** A small seeded generator (mulberry32): the same seed gives the same log on every machine. */
export class Rng {
	private state: number;
	constructor(seed: number) {
		this.state = seed >>> 0;
	}

	/** Uniform in [0, 1). */
	next(): number {
		this.state = (this.state + 0x6d2b79f5) >>> 0;
		let t = this.state;
		t = Math.imul(t ^ (t >>> 15), t | 1);
		t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	}

	/** Normal with mean 0 and standard deviation 1 (Box–Muller). */
	normal(): number {
		const u = Math.max(1e-12, this.next());
		return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * this.next());
	}
}
