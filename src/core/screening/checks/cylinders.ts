/** `cyl.lambda`, `cyl.knock`, `cyl.egt`, `cyl.trim`: one cylinder against the others. */
import { findItem } from '../../calibration/document.ts';
import { aligned } from '../../lambda/lag.ts';
import { near } from '../../lambda/believed.ts';
import { FLAG, NO_MIXTURE } from '../../segments/segments.ts';
import { median } from '../../stats/stats.ts';
import {
	finding,
	found,
	heldHigh,
	medianWhere,
	NEVER_LOADED,
	notChecked,
	pass,
	stretches
} from '../measure.ts';
import { graded, type Check, type CheckInput, type CheckResult, type Finding } from '../types.ts';
import { list, signed } from '../wording.ts';

const BIN_RPM = 500;
const BIN_S = 0.5;
/** Fewer than this have no median worth the name. */
const LEAST_CYLINDERS = 3;

const cylinderOf = (id: string) => Number(/\d+$/.exec(id)![0]);

/** The set that a cylinder is compared with: its bank where that has three or more, else all. */
function peers(input: CheckInput, cylinder: number, all: readonly number[]): readonly number[] {
	const bank = input.vehicle.engine.banks?.find((b) => b.includes(cylinder))?.filter((c) => all.includes(c));
	return bank && bank.length >= LEAST_CYLINDERS ? bank : all;
}

interface Bin {
	cylinder: number;
	bin: number;
	/** Percent from the median of the peers, per sample. */
	off: number[];
}

/** Middle of the first `n` values, which are put in order. */
function middleOf(row: Float64Array, n: number): number {
	for (let i = 1; i < n; i++) {
		const v = row[i]!;
		let k = i;
		while (k > 0 && row[k - 1]! > v) {
			row[k] = row[k - 1]!;
			k--;
		}
		row[k] = v;
	}
	return n % 2 ? row[n >> 1]! : (row[(n >> 1) - 1]! + row[n >> 1]!) / 2;
}

/** By cylinder and 500 rpm: how far it is from the median of its peers. One median per set of peers and sample. */
function byCylinderAndBin(
	input: CheckInput,
	columns: ReadonlyMap<number, Float32Array>,
	use: (i: number) => boolean
): Bin[] {
	const { frame } = input;
	const rpm = frame.get('rpm')!;
	const all = [...columns.keys()];
	const sets = new Map<string, { members: number[]; judged: number[] }>();
	for (const cylinder of all) {
		const members = [...peers(input, cylinder, all)];
		const key = members.join();
		const set = sets.get(key) ?? { members, judged: [] };
		set.judged.push(cylinder);
		sets.set(key, set);
	}
	const bins = new Map<number, Bin>();
	const row = new Float64Array(all.length);
	for (const { members, judged } of sets.values()) {
		const theirs = members.map((c) => columns.get(c)!);
		const mine = judged.map((c) => columns.get(c)!);
		for (let i = 0; i < frame.length; i++) {
			if (!use(i)) continue;
			let n = 0;
			for (const v of theirs) if (v[i] === v[i]) row[n++] = v[i]!;
			if (n < LEAST_CYLINDERS) continue;
			const middle = middleOf(row, n);
			const bin = Math.floor(rpm[i]! / BIN_RPM);
			mine.forEach((v, k) => {
				if (v[i] !== v[i]) return;
				const key = judged[k]! * 1000 + bin;
				let b = bins.get(key);
				if (!b) bins.set(key, (b = { cylinder: judged[k]!, bin, off: [] }));
				b.off.push(100 * (v[i]! / middle - 1));
			});
		}
	}
	return [...bins.values()];
}

export const cylLambda: Check = {
	code: 'cyl.lambda',
	run(input) {
		const { frame, segments, believed, profile } = input;
		const ids = frame.ids.filter((id) => id.startsWith('lambda.cyl'));
		if (ids.length < LEAST_CYLINDERS) return notChecked('lambda is not logged by cylinder', 'lambda.cyl1');
		const rpm = frame.get('rpm');
		if (!rpm) return notChecked('engine speed is not logged', 'rpm');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const hidden = near(segments.flags, NO_MIXTURE, frame.timeS, believed.lagS);
		const columns = new Map(
			ids.map((id) => [cylinderOf(id), aligned(frame.get(id)!, frame.timeS, believed.lagS)])
		);
		const all = [...columns.keys()];
		const least = Math.max(3, Math.ceil(BIN_S / frame.stepS));
		const judged = byCylinderAndBin(
			input,
			columns,
			(i) => !hidden[i] && (segments.flags[i]! & FLAG.loaded) !== 0
		)
			.filter((b) => b.off.length >= least)
			.map((b) => ({ ...b, pct: median(b.off) }));
		if (judged.length === 0)
			return notChecked('no 500 rpm of loaded driving lasts half a second', 'loaded driving');
		const findings: Finding[] = [];
		let widest = 0;
		for (const cylinder of all) {
			const mine = judged.filter((b) => b.cylinder === cylinder);
			if (mine.length === 0) continue;
			const worst = mine.reduce((a, b) => (Math.abs(b.pct) > Math.abs(a.pct) ? b : a));
			const lean = mine.reduce((a, b) => (b.pct > a.pct ? b : a));
			widest = Math.max(widest, Math.abs(worst.pct));
			const grade = graded(lean.pct, {
				watch: profile.cylLambdaWatchPct,
				fix: profile.cylLambdaFixPct,
				stop: profile.cylLambdaStopPct
			});
			const rich = worst.pct < -profile.cylLambdaWatchPct;
			if (!grade && !rich) continue;
			const shown = grade ? lean : worst;
			const from = shown.bin * BIN_RPM;
			findings.push(
				finding(input, {
					code: 'cyl.lambda',
					severity: grade?.severity ?? 'watch',
					title: `Cylinder ${cylinder} ${shown.pct > 0 ? 'lean' : 'rich'} against the others`,
					summary: `Under load cylinder ${cylinder} is ${signed(shown.pct)} % from the median of its neighbours, most between ${from} and ${from + BIN_RPM} rpm.`,
					value: shown.pct,
					limit: grade?.limit ?? -profile.cylLambdaWatchPct,
					unit: '%',
					cylinder,
					runs: stretches(
						frame,
						0.1,
						(i) =>
							(segments.flags[i]! & FLAG.loaded) !== 0 &&
							Math.floor(rpm[i]! / BIN_RPM) === shown.bin &&
							!hidden[i],
						0.2
					),
					channels: [`lambda.cyl${cylinder}`, ...ids.filter((id) => cylinderOf(id) !== cylinder), 'rpm'],
					causes:
						shown.pct > 0
							? [
									'its injector flows too little',
									'air that this runner gets more of',
									'its sensor',
									'a leak at its gasket'
								]
							: ['its injector flows too much or leaks', 'its sensor'],
					next: [
						'trim it towards the others and verify with a new log',
						'a cylinder that wants more than a few points: have the injectors flowed'
					]
				})
			);
		}
		if (findings.length === 0)
			return pass(`Cylinders within ${widest.toFixed(1)} % of each other under load.`);
		return found(...findings.sort((a, b) => Math.abs(b.value!) - Math.abs(a.value!)));
	}
};

const QUIET_DEG = 0.5;

export const cylKnock: Check = {
	code: 'cyl.knock',
	run(input) {
		const { frame, segments, profile } = input;
		const ids = frame.ids.filter((id) => id.startsWith('knockRetard.cyl'));
		if (ids.length < LEAST_CYLINDERS)
			return notChecked('knock retard is not logged by cylinder', 'knockRetard.cyl1');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const loaded = (i: number) => (segments.flags[i]! & FLAG.loaded) !== 0;
		const peaks = ids.map((id) => ({
			id,
			cylinder: cylinderOf(id),
			...heldHigh(frame, frame.get(id)!, 0, loaded)
		}));
		const raised = peaks.filter((p) => p.level >= profile.cylKnockWatchDeg);
		const others = peaks.filter((p) => !raised.includes(p)).map((p) => p.level);
		if (raised.length === 0) return pass(`No cylinder pulls ${profile.cylKnockWatchDeg}° alone.`);
		if (raised.length > 2 || others.length === 0 || median(others) >= QUIET_DEG)
			return pass('Retard is spread over the cylinders: a matter of the map, not of one cylinder.');
		return found(
			...raised.map((p): Finding => {
				const values = frame.get(p.id)!;
				const fix = p.level >= profile.cylKnockFixDeg;
				const rpm = frame.get('rpm');
				return finding(input, {
					code: 'cyl.knock',
					severity: fix ? 'fix' : 'watch',
					title: `Cylinder ${p.cylinder} alone pulls ${p.level.toFixed(1)}°`,
					summary: `Cylinder ${p.cylinder} pulled up to ${p.level.toFixed(1)}°${rpm ? ` at ${Math.round(rpm[p.at]!)} rpm` : ''} while the median of the others stayed at ${Math.max(0, median(others)).toFixed(1)}°: a matter of this cylinder, not of the map.`,
					value: p.level,
					limit: fix ? profile.cylKnockFixDeg : profile.cylKnockWatchDeg,
					unit: '°',
					cylinder: p.cylinder,
					runs: stretches(frame, 0, (i) => loaded(i) && values[i]! >= QUIET_DEG, 0.15),
					channels: [p.id, 'knockRetard', 'spark', 'rpm', 'map'],
					causes: [
						'this cylinder runs leaner or hotter',
						'its plug, or its heat range',
						'a sensor that sits nearest to it',
						'oil or deposits in it'
					],
					next: ['read its plug beside its neighbours', 'correct its fuel first, read again, then its timing']
				});
			})
		);
	}
};

/** EGT is slow: only what was steady for this long says something. */
const STEADY_S = 5;

export const cylEgt: Check = {
	code: 'cyl.egt',
	run(input): CheckResult {
		const { frame, segments, profile } = input;
		const ids = frame.ids.filter((id) => id.startsWith('egt.'));
		if (ids.length < 2) return notChecked('exhaust temperature is not logged by cylinder', 'egt.cyl1');
		const steady = new Uint8Array(frame.length);
		for (const s of segments.list)
			if (s.kind === 'cruise' && s.toS - s.fromS >= STEADY_S)
				for (let i = s.from; i <= s.to; i++) if (frame.timeS[i]! - s.fromS >= STEADY_S / 2) steady[i] = 1;
		const levels = ids.map((id) => ({
			cylinder: cylinderOf(id),
			level: medianWhere(frame.get(id)!, (i) => steady[i] === 1, 5)
		}));
		const known = levels.filter((l) => Number.isFinite(l.level)).sort((a, b) => b.level - a.level);
		if (known.length < 2) return notChecked('there is no steady load of five seconds', 'steady driving');
		const [hot, cold] = [known[0]!, known.at(-1)!];
		const spread = hot.level - cold.level;
		if (spread <= profile.cylEgtC)
			return pass(`Exhaust temperatures within ${spread.toFixed(0)} °C at steady load.`);
		return found(
			finding(input, {
				code: 'cyl.egt',
				severity: 'watch',
				title: `Exhaust temperatures ${spread.toFixed(0)} °C apart`,
				summary: `At steady load cylinder ${hot.cylinder} is ${spread.toFixed(0)} °C hotter than cylinder ${cold.cylinder}. Slow sensors: a trend, no more.`,
				value: spread,
				limit: profile.cylEgtC,
				unit: '°C',
				cylinder: hot.cylinder,
				channels: ids,
				causes: ['uneven fuel or air', 'a sensor that sits elsewhere', 'late timing in one cylinder'],
				next: ['compare with plugs or lambda by cylinder before anything is trimmed']
			})
		);
	}
};

export const cylTrim: Check = {
	code: 'cyl.trim',
	run(input) {
		const { calibration, profile } = input;
		const item = calibration && findItem(calibration, 'fuel.cylTrim');
		if (!calibration) return notChecked('no calibration is stated for this log', 'calibration');
		if (!item || item.kind !== 'curve' || item.values.length < LEAST_CYLINDERS)
			return notChecked('the calibration has no fuel trims by cylinder', 'fuel.cylTrim');
		const middle = median(item.values);
		const off = item.values.map((v, k) => ({ cylinder: item.x.points[k]!, points: v - middle }));
		const bad = off
			.filter((o) => Math.abs(o.points) >= profile.cylTrimWatch)
			.sort((a, b) => Math.abs(b.points) - Math.abs(a.points));
		const [worst] = bad;
		if (!worst)
			return pass(
				`Fuel trims within ${Math.max(...off.map((o) => Math.abs(o.points))).toFixed(1)} points of their median.`
			);
		const fix = Math.abs(worst.points) >= profile.cylTrimFix;
		return found(
			finding(input, {
				code: 'cyl.trim',
				severity: fix ? 'fix' : 'watch',
				title: `Cylinder ${worst.cylinder} is trimmed by ${signed(worst.points)} points`,
				summary: `Against the median of the set ${list(bad.map((b) => `cylinder ${b.cylinder} is trimmed by ${signed(b.points)} points`))}: have the injectors flowed.`,
				value: worst.points,
				limit: Math.sign(worst.points) * (fix ? profile.cylTrimFix : profile.cylTrimWatch),
				unit: '%',
				cylinder: worst.cylinder,
				channels: [],
				causes: ['an injector that flows differently', 'a trim that was made on one reading'],
				next: ['have the set flowed before it is trimmed further']
			})
		);
	}
};
