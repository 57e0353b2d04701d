/** What a log of the session says of the cylinders, beside their plugs. */
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';
import { wantedByCylinder } from '../revising/cylinders.ts';
import { exhaustByCylinder } from '../screening/by-cylinder.ts';
import type { Evidence } from '../correction/evidence.ts';
import { median } from '../stats/stats.ts';

export interface Witnesses {
	/** Points of fuel that lambda by cylinder asks for while loaded; 0 where the cylinder is well. */
	lambda: ReadonlyMap<number, number>;
	/** Which way the exhaust of a cylinder is off while the load is steady: +1 hotter, −1 colder. */
	heat: ReadonlyMap<number, number>;
	/** Misfires that were counted while the log ran. */
	misfires: ReadonlyMap<number, number>;
}

/** @param towards the cylinder that the others are trimmed towards; their median without */
export function witnessesOf(evidence: Evidence, towards?: number): Witnesses {
	const { input } = evidence;
	const { frame, profile, vehicle } = input;
	const cylinders = Array.from({ length: vehicle.engine.cylinders }, (_, i) => i + 1);
	const levels = exhaustByCylinder(input).filter((l) => Number.isFinite(l.level));
	const middle = median(levels.map((l) => l.level));
	const misfires = new Map<number, number>();
	for (const id of frame.ids) {
		const cylinder = /^misfire\.cyl(\d+)$/.exec(id)?.[1];
		if (!cylinder) continue;
		const { min = 0, max = 0 } = frame.bounds(id) ?? {};
		if (max > min) misfires.set(Number(cylinder), max - min);
	}
	return {
		lambda: new Map(
			[...wantedByCylinder([evidence], cylinders, DEFAULT_STRATEGY, towards)].map(([c, w]) => [
				c,
				w.points[0]!
			])
		),
		heat: new Map(
			levels.flatMap(({ cylinder, level }) =>
				Math.abs(level - middle) > profile.cylEgtC / 2 ? [[cylinder, Math.sign(level - middle)] as const] : []
			)
		),
		misfires
	};
}
