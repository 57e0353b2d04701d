/** What the cells of a timing table saw under load. */
import type { MapItem } from '../calibration/document.ts';
import { AxisFinder } from '../calibration/grid.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';

/** Retard from which timing counts as pulled, degrees; above it no degree goes in. Common practice. */
const PULLED_DEG = 0.5;
/** Share in the interpolated timing from which a cell counts as one that was there. Own choice. */
const PART = 0.1;

/** What one cell saw, over all logs of one revision. */
export interface Seen {
	pulls: number;
	seconds: number;
	/** It pulled timing, or the monitor heard something: no degree goes in here. */
	spoiled: boolean;
	/** It began to knock, as far as anybody hears: by the monitor where one is logged, else by what the controller pulled. */
	near: boolean;
	/** Sum and number of the mixture's distances from its target, as shares, of the bank that is farther off. */
	off: number;
	judged: number;
	/** It knocked: by what the controller did, or the monitor heard. */
	knocked: boolean;
}

/** Per cell of `table`, row after row: pressures outside, engine speeds inside. */
export function seenBy(table: MapItem, logs: readonly { input: Prepared }[]): Seen[] {
	const fx = new AxisFinder(table.x.points);
	const fy = new AxisFinder(table.y.points);
	const nx = table.x.points.length;
	const seen: Seen[] = table.values.flatMap((row) =>
		row.map(() => ({ pulls: 0, seconds: 0, spoiled: false, near: false, off: 0, judged: 0, knocked: false }))
	);
	for (const { input } of logs) {
		const { frame, segments, profile, believed, target } = input;
		const rpm = frame.get('rpm');
		const map = frame.get('map');
		if (!rpm || !map) continue;
		const retard = frame.get('knockRetard');
		const monitor = frame.get('knockMonitor');
		const lambdas = believed.banks.filter((b) => b !== null);
		const rises = new Set(
			(input.knock ?? [])
				.filter((e) => e.shape !== 'blips' && !e.proved)
				.flatMap((e) => e.rises.map((r) => r.at))
		);
		for (const pull of segments.pulls) {
			const inPull = new Set<number>();
			for (let i = pull.from; i <= pull.to; i++) {
				if (!(segments.flags[i]! & FLAG.loaded) || rpm[i] !== rpm[i] || map[i] !== map[i]) continue;
				const heard = monitor ? monitor[i]! : 0;
				let off = Number.NaN;
				for (const l of lambdas) {
					const share = l[i]! / (target.values?.[i] ?? Number.NaN) - 1;
					if (share === share && !(Math.abs(share) <= Math.abs(off))) off = share;
				}
				const knocked = rises.has(i) || heard > profile.monitorLevel;
				const pulled = retard !== null && retard[i]! >= PULLED_DEG;
				const faint = heard > profile.monitorLevel / 2;
				const spoiled = pulled || faint;
				const near = monitor ? faint : pulled;
				// What the engine got is mixed from the cells around: each that had a real part in it saw it.
				const { i: k, t: tx } = fx.find(rpm[i]!);
				const { i: r, t: ty } = fy.find(map[i]!);
				for (const [rr, kk, weight] of [
					[r, k, (1 - tx) * (1 - ty)],
					[r, k + 1, tx * (1 - ty)],
					[r + 1, k, (1 - tx) * ty],
					[r + 1, k + 1, tx * ty]
				] as const) {
					if (weight < PART || rr >= table.y.points.length || kk >= nx) continue;
					const at = rr * nx + kk;
					const s = seen[at]!;
					s.seconds += frame.dtS[i]!;
					if (!inPull.has(at)) {
						inPull.add(at);
						s.pulls++;
					}
					if (knocked) s.knocked = true;
					if (spoiled) s.spoiled = true;
					if (near) s.near = true;
					if (off === off) {
						s.off += off;
						s.judged++;
					}
				}
			}
		}
	}
	return seen;
}
