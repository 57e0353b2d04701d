/** Kinds of driving: bits per sample, and the stretches worth naming. */

export const FLAG = {
	loaded: 1,
	pull: 2,
	idle: 4,
	cruise: 8,
	light: 16,
	medium: 32,
	overrun: 64,
	fuelCut: 128,
	shift: 256,
	limiter: 512,
	launch: 1024,
	warmup: 2048,
	transient: 4096,
	misfire: 8192,
	start: 16384,
	boosted: 32768,
	spin: 65536,
	/** The engine isn't running: before the start, after the stop. */
	standing: 131072,
	/** The pedal is held and the controller keeps the throttle from opening: no full load of the engine's own. */
	limited: 262144
} as const;
export type FlagName = keyof typeof FLAG;

/** Samples that don't say anything about the fuel table (tip-in, cut, cold, …). */
export const UNUSABLE =
	FLAG.overrun |
	FLAG.fuelCut |
	FLAG.shift |
	FLAG.limiter |
	FLAG.launch |
	FLAG.warmup |
	FLAG.transient |
	FLAG.misfire |
	FLAG.start |
	FLAG.spin |
	FLAG.standing;

/** Samples at which a mixture reading is no mixture: unburnt air or fuel passes the sensor. */
export const NO_MIXTURE =
	FLAG.overrun | FLAG.fuelCut | FLAG.limiter | FLAG.launch | FLAG.misfire | FLAG.shift | FLAG.standing;

export interface Segment {
	kind: FlagName;
	from: number;
	to: number;
	fromS: number;
	toS: number;
	gear?: number;
	/** Of a shift: the gear that came. */
	toGear?: number;
}
