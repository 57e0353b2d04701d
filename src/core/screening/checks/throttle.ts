/** `throttle.closing`, `throttle.slow`: what the throttle does under a flat pedal. */
import { fixed } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { finding, found, heldLow, notChecked, pass } from '../measure.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import { check, type Told } from '../check.ts';
import { round } from '../ranges.ts';

const FLAT_PEDAL_PCT = 95;
const ONSET_S = 0.5;
const CLOSING_S = 0.3;
const LOADED_RPM = 1500;
/** The throttle may close on purpose there. */
const SHIFTING = FLAG.shift | FLAG.limiter | FLAG.launch;

/** Stretches of a flat pedal with the engine above idle. */
function flatPedal({ frame }: Prepared, pct: number): Run[] {
	const pedal = frame.get('pedal')!;
	const rpm = frame.get('rpm');
	return stretches(frame, 0.3, (i) => pedal[i]! >= pct && (!rpm || rpm[i]! > LOADED_RPM), frame.stepS * 1.5);
}

/** Where a throttle has opened under a flat pedal: fully, or as far as it ever gets there. One that is still opening isn't closing. */
function openedAt(tps: Float32Array, r: Run, limit: number): number {
	let top = -Infinity;
	for (let i = r.from; i <= r.to; i++) if (tps[i]! > top) top = tps[i]!;
	const open = Math.min(limit, top * OWN_TOP);
	let i = r.from;
	while (i < r.to && !(tps[i]! >= open)) i++;
	return i;
}
/** Of its own widest opening: closer nobody tells it from that. */
const OWN_TOP = 0.98;

type ClosingFacts = { throttlePct: number; openPct: number; rpm?: number };

export const throttleClosing = check({
	code: 'throttle.closing',
	title: 'Throttle closing',
	section: 'air',
	units: { throttlePct: '%', openPct: '%', rpm: 'rpm' },
	run(input) {
		const { frame, profile, vehicle, segments } = input;
		const tps = frame.get('tps');
		if (!frame.has('pedal')) return notChecked('the pedal is not logged', 'pedal');
		if (!tps) return notChecked('the throttle is not logged', 'tps');
		const flat = flatPedal(input, FLAT_PEDAL_PCT);
		if (flat.length === 0) return notChecked('the pedal was never flat in this log', 'a full-throttle pull');
		const open = vehicle.baselines?.fullThrottlePct ?? 100;
		const limit = (open * profile.throttleOpenPct) / 100;
		const settled = new Uint8Array(frame.length);
		for (const r of flat) {
			const opened = openedAt(tps, r, limit);
			for (let i = opened; i <= r.to; i++)
				if (frame.timeS[i]! - frame.timeS[r.from]! >= ONSET_S - 1e-6 && !(segments.flags[i]! & SHIFTING))
					settled[i] = 1;
		}
		const least = heldLow(frame, tps, CLOSING_S, flat, (i) => settled[i] === 1);
		if (least.at < 0) return notChecked('the pedal was never flat for long enough', 'a full-throttle pull');
		if (least.level >= limit)
			return pass(`The throttle stays at ${fixed(least.level, 0)} % or more under a flat pedal.`);
		const rpm = frame.get('rpm');
		return found(
			finding(input, {
				severity: 'watch',
				facts: { throttlePct: least.level, openPct: open, ...(rpm ? { rpm: rpm[least.at]! } : {}) },
				value: least.level,
				limit: round(limit, 1),
				unit: '%',
				runs: stretches(frame, CLOSING_S, (i) => settled[i] === 1 && tps[i]! < limit, 0.1),
				channels: ['tps', 'pedal', 'torqueLimit', 'rpm', 'map']
			})
		);
	},
	words: ({ facts: { throttlePct, openPct, rpm } }: Told<ClosingFacts>) => {
		const to = `${fixed(throttlePct, 0)} %${rpm === undefined ? '' : ` at ${Math.round(rpm)} rpm`}`;
		return {
			title: `Throttle closes to ${to}`,
			summary: `With the pedal flat the throttle stands at ${to}; fully open is ${openPct} %. A torque or component limit of the controller, not the driver's foot.`,
			causes: [
				'a torque limit',
				'a limit for a component (gearbox, clutch, air)',
				'boost above its set point that is throttled away'
			],
			next: ['find the limit that acts before more is asked for']
		};
	}
});

type SlowFacts = { seconds: number };

export const throttleSlow = check({
	code: 'throttle.slow',
	title: 'Throttle opening',
	section: 'air',
	units: { seconds: 's' },
	run(input) {
		const { frame, profile } = input;
		const tps = frame.get('tps');
		if (!frame.has('pedal')) return notChecked('the pedal is not logged', 'pedal');
		if (!tps) return notChecked('the throttle is not logged', 'tps');
		const flat = flatPedal(input, profile.loadedThrottlePct).filter(
			(r) => r.from > 0 && tps[r.from]! < profile.loadedThrottlePct
		);
		let slowest = 0;
		let where: Run | null = null;
		for (const r of flat) {
			let i = r.from;
			while (i < r.to && !(tps[i]! >= profile.loadedThrottlePct)) i++;
			if (!(tps[i]! >= profile.loadedThrottlePct)) continue;
			const s = frame.timeS[i]! - frame.timeS[r.from]!;
			if (s > slowest) {
				slowest = s;
				where = { from: r.from, to: i };
			}
		}
		if (!where)
			return flat.length
				? notChecked('the throttle never opened fully under a flat pedal', 'an open throttle')
				: pass('The throttle is open as soon as the pedal is.');
		if (slowest <= profile.throttleSlowS) return pass(`The throttle opens within ${fixed(slowest, 2)} s.`);
		return found(
			finding(input, {
				severity: 'note',
				facts: { seconds: slowest },
				value: slowest,
				limit: profile.throttleSlowS,
				unit: 's',
				runs: [where],
				channels: ['tps', 'pedal', 'rpm']
			})
		);
	},
	words: ({ facts: { seconds } }: Told<SlowFacts>) => ({
		title: `Throttle opens in ${fixed(seconds, 1)} s`,
		summary: `From a flat pedal to an open throttle it took up to ${fixed(seconds, 2)} s.`,
		causes: ['a pedal map or filter that is made for comfort', 'a torque ramp'],
		next: ['leave it, or sharpen the demand where it is wanted']
	})
});
