/** The drive plan that the stand-in's driver follows. */
export type DriveStep =
	/** Ignition on, engine off: before the start, after the stop. */
	| { kind: 'standing'; seconds: number }
	| { kind: 'idle'; seconds: number }
	| { kind: 'cruise'; gear: number; speedKmh: number; seconds: number }
	/** Steady pedal from one engine speed to another in one gear. */
	| { kind: 'accelerate'; gear: number; pedalPct: number; fromRpm: number; toRpm: number }
	/** Full throttle through these gears, from an engine speed to near the limiter in each. */
	| { kind: 'pull'; gears: number[]; fromRpm: number; toRpm: number }
	/** Pedal closed, in gear. */
	| { kind: 'coast'; gear: number; toRpm: number };

/** What a tuner asks for, from before the start to after the stop: idle, light cruise, light and medium acceleration, full throttle. */
export function standardDrive(gears: number, revLimitRpm: number): DriveStep[] {
	const top = revLimitRpm - 250;
	const mid = Math.min(3, gears);
	const steps: DriveStep[] = [
		{ kind: 'standing', seconds: 4 },
		{ kind: 'idle', seconds: 25 }
	];
	for (const speed of [50, 65, 80])
		steps.push({ kind: 'cruise', gear: Math.min(gears, mid + 1), speedKmh: speed, seconds: 25 });
	for (const pedal of [22, 32])
		steps.push(
			{ kind: 'accelerate', gear: mid, pedalPct: pedal, fromRpm: 1600, toRpm: top * 0.65 },
			{ kind: 'coast', gear: mid, toRpm: 1900 }
		);
	for (const pedal of [48, 60, 72])
		steps.push(
			{ kind: 'accelerate', gear: mid, pedalPct: pedal, fromRpm: 1700, toRpm: top * 0.85 },
			{ kind: 'coast', gear: mid, toRpm: 1900 }
		);
	steps.push({ kind: 'cruise', gear: Math.min(gears, mid + 1), speedKmh: 70, seconds: 20 });
	for (let i = 0; i < 3; i++) {
		steps.push({
			kind: 'pull',
			gears: i === 0 ? [mid] : [mid, Math.min(gears, mid + 1)],
			fromRpm: 2000,
			toRpm: top
		});
		steps.push(
			{ kind: 'coast', gear: mid, toRpm: 2000 },
			{ kind: 'cruise', gear: Math.min(gears, mid + 1), speedKmh: 60, seconds: 15 }
		);
	}
	steps.push({ kind: 'idle', seconds: 12 }, { kind: 'standing', seconds: 3 });
	return steps;
}
