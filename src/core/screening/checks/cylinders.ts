/** `cyl.lambda`, `cyl.knock`, `cyl.egt`, `cyl.trim`: one cylinder against the others. */
import { FLAG } from '../../evidence/segments/kinds.ts';
import { cylinderTrims } from '../../calibration/cylinder-trims.ts';
import { median } from '../../stats/stats.ts';
import { BIN_RPM, cylinderOf, exhaustByCylinder, lambdaByCylinder, LEAST_CYLINDERS } from '../by-cylinder.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { grade, type CheckResult, type Raised } from '../types.ts';
import { capital, fixed, list, markedBy, signed } from '../../format.ts';

/** Against the median of its neighbours, in the band of engine speed that begins at `fromRpm`. */
type LambdaFacts = { pct: number; fromRpm: number };

export const cylLambda = check({
	code: 'cyl.lambda',
	swaps: ['between-cylinders', 'repair'],
	title: 'Lambda by cylinder',
	section: 'cylinders',
	leads: true,
	advice: 'repair',
	units: { pct: '%', fromRpm: 'rpm' },
	run(input) {
		const { frame, segments, believed, profile } = input;
		const ids = frame.ids.filter((id) => id.startsWith('lambda.cyl'));
		if (ids.length < LEAST_CYLINDERS) return notChecked('lambda is not logged by cylinder', 'lambda.cyl1');
		const rpm = frame.get('rpm');
		if (!rpm) return notChecked('engine speed is not logged', 'rpm');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const judged = lambdaByCylinder(input);
		if (judged.length === 0)
			return notChecked('no 500 rpm of loaded driving lasts half a second', 'loaded driving');
		const findings: Raised<LambdaFacts>[] = [];
		let widest = 0;
		for (const cylinder of ids.map(cylinderOf)) {
			const mine = judged.filter((b) => b.cylinder === cylinder);
			if (mine.length === 0) continue;
			const worst = mine.reduce((a, b) => (Math.abs(b.pct) > Math.abs(a.pct) ? b : a));
			const lean = mine.reduce((a, b) => (b.pct > a.pct ? b : a));
			widest = Math.max(widest, Math.abs(worst.pct));
			const graded = grade(lean.pct, {
				watch: profile.cylLambdaWatchPct,
				fix: profile.cylLambdaFixPct,
				stop: profile.cylLambdaStopPct
			});
			const rich = worst.pct < -profile.cylLambdaWatchPct;
			if (!graded && !rich) continue;
			const shown = graded ? lean : worst;
			findings.push(
				finding(input, {
					severity: graded?.severity ?? 'watch',
					facts: { pct: shown.pct, fromRpm: shown.bin * BIN_RPM },
					value: shown.pct,
					limit: graded?.limit ?? -profile.cylLambdaWatchPct,
					unit: '%',
					cylinder,
					runs: stretches(
						frame,
						0.1,
						(i) =>
							(segments.flags[i]! & FLAG.loaded) !== 0 &&
							Math.floor(rpm[i]! / BIN_RPM) === shown.bin &&
							!believed.hidden[i],
						0.2
					),
					channels: [`lambda.cyl${cylinder}`, ...ids.filter((id) => cylinderOf(id) !== cylinder), 'rpm']
				})
			);
		}
		if (findings.length === 0)
			return pass(`Cylinders within ${fixed(widest, 1)} % of each other under load.`);
		return found(...findings.sort((a, b) => Math.abs(b.value!) - Math.abs(a.value!)));
	},
	words: ({ facts: { pct, fromRpm }, cylinder }: Told<LambdaFacts>) => ({
		title: `Cylinder ${cylinder} ${pct > 0 ? 'lean' : 'rich'} against the others`,
		summary: `Under load cylinder ${cylinder} is ${signed(pct)} % from the median of its neighbours, most between ${fromRpm} and ${fromRpm + BIN_RPM} rpm.`,
		causes:
			pct > 0
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
});

const QUIET_DEG = 0.5;

type KnockFacts = { retardDeg: number; othersDeg: number; rpm?: number };

export const cylKnock = check({
	code: 'cyl.knock',
	swaps: ['between-cylinders'],
	title: 'Knock by cylinder',
	section: 'cylinders',
	leads: true,
	lane: 'knock',
	advice: 'repair',
	units: { retardDeg: '°', othersDeg: '°', rpm: 'rpm' },
	run(input) {
		const { frame, segments, profile } = input;
		const ids = frame.ids.filter((id) => id.startsWith('knockRetard.cyl'));
		if (ids.length < LEAST_CYLINDERS)
			return notChecked('knock retard is not logged by cylinder', 'knockRetard.cyl1');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const peaks = ids.map((id) => ({
			id,
			cylinder: cylinderOf(id),
			...heldHigh(frame, frame.get(id)!, 0, segments.loaded)
		}));
		const raised = peaks.filter((p) => p.level >= profile.cylKnockWatchDeg);
		const others = peaks.filter((p) => !raised.includes(p)).map((p) => p.level);
		if (raised.length === 0) return pass(`No cylinder pulls ${profile.cylKnockWatchDeg}° alone.`);
		if (raised.length > 2 || others.length === 0 || median(others) >= QUIET_DEG)
			return pass('Retard is spread over the cylinders: a matter of the map, not of one cylinder.');
		return found(
			...raised.map((p): Raised<KnockFacts> => {
				const values = frame.get(p.id)!;
				const fix = p.level >= profile.cylKnockFixDeg;
				const rpm = frame.get('rpm');
				return finding(input, {
					severity: fix ? 'fix' : 'watch',
					facts: {
						retardDeg: p.level,
						othersDeg: Math.max(0, median(others)),
						...(rpm ? { rpm: rpm[p.at]! } : {})
					},
					value: p.level,
					limit: fix ? profile.cylKnockFixDeg : profile.cylKnockWatchDeg,
					unit: '°',
					cylinder: p.cylinder,
					runs: stretches(
						frame,
						0,
						(i) => (segments.flags[i]! & FLAG.loaded) !== 0 && values[i]! >= QUIET_DEG,
						0.15
					),
					channels: [p.id, 'knockRetard', 'spark', 'rpm', 'map']
				});
			})
		);
	},
	words: ({ facts: { retardDeg, othersDeg, rpm }, cylinder }: Told<KnockFacts>) => ({
		title: `Cylinder ${cylinder} alone pulls ${fixed(retardDeg, 1)}°`,
		summary: `Cylinder ${cylinder} pulled up to ${fixed(retardDeg, 1)}°${rpm === undefined ? '' : ` at ${Math.round(rpm)} rpm`} while the median of the others stayed at ${fixed(othersDeg, 1)}°: a matter of this cylinder, not of the map.`,
		causes: [
			'this cylinder runs leaner or hotter',
			'its plug, or its heat range',
			'a sensor that sits nearest to it',
			'oil or deposits in it'
		],
		next: ['read its plug beside its neighbours', 'correct its fuel first, read again, then its timing']
	})
});

type ExhaustFacts = { spreadC: number; coldest: number };

export const cylEgt = check({
	code: 'cyl.egt',
	title: 'Exhaust temperature by cylinder',
	section: 'cylinders',
	leads: true,
	advice: 'repair',
	units: { spreadC: '°C', coldest: 'cylinder' },
	run(input): CheckResult<ExhaustFacts> {
		const { frame, profile } = input;
		const ids = frame.ids.filter((id) => id.startsWith('egt.'));
		if (ids.length < 2) return notChecked('exhaust temperature is not logged by cylinder', 'egt.cyl1');
		const known = exhaustByCylinder(input)
			.filter((l) => Number.isFinite(l.level))
			.sort((a, b) => b.level - a.level);
		if (known.length < 2)
			return notChecked('there is no steady load of five seconds and no pull of four', 'steady driving');
		const [hot, cold] = [known[0]!, known.at(-1)!];
		const spread = hot.level - cold.level;
		if (spread <= profile.cylEgtC)
			return pass(
				`Exhaust temperatures within ${markedBy(spread, '°C')} at steady load and at the end of pulls.`
			);
		return found(
			finding(input, {
				severity: 'watch',
				facts: { spreadC: spread, coldest: cold.cylinder },
				value: spread,
				limit: profile.cylEgtC,
				unit: '°C',
				cylinder: hot.cylinder,
				channels: ids
			})
		);
	},
	words: ({ facts: { spreadC, coldest }, cylinder: hottest }: Told<ExhaustFacts>) => ({
		title: `Exhaust temperatures ${markedBy(spreadC, '°C')} apart`,
		summary: `Cylinder ${hottest} is ${markedBy(spreadC, '°C')} hotter than cylinder ${coldest}. Slow sensors: a trend, no more.`,
		causes: ['uneven fuel or air', 'a sensor that sits elsewhere', 'late timing in one cylinder'],
		next: ['compare with plugs or lambda by cylinder before anything is trimmed']
	})
});

/** The cylinders that are off, the worst first, and by how much. */
type TrimFacts = { cylinders: number[]; points: number[] };

export const cylTrim = check({
	code: 'cyl.trim',
	swaps: ['between-cylinders'],
	title: 'Trims by cylinder',
	section: 'cylinders',
	advice: 'repair',
	units: { cylinders: 'cylinder', points: '%' },
	run(input) {
		const { calibration, profile } = input;
		const trims = calibration && cylinderTrims(calibration, 'fuel.cylTrim');
		if (!calibration) return notChecked('no calibration is stated for this log', 'calibration');
		if (!trims || trims.cylinders.length < LEAST_CYLINDERS)
			return notChecked('the calibration has no fuel trims by cylinder', 'fuel.cylTrim');
		// Of trims that go by speed or load the furthest from the others of its place.
		const middles = trims.values[0]!.map((_, at) => median(trims.values.map((v) => v[at]!)));
		const off = trims.cylinders.map((cylinder, k) => ({
			cylinder,
			points: trims.values[k]!.map((v, at) => v - middles[at]!).reduce((a, b) =>
				Math.abs(b) > Math.abs(a) ? b : a
			)
		}));
		const bad = off
			.filter((o) => Math.abs(o.points) >= profile.cylTrimWatch)
			.sort((a, b) => Math.abs(b.points) - Math.abs(a.points));
		const [worst] = bad;
		if (!worst)
			return pass(
				`Fuel trims within ${fixed(Math.max(...off.map((o) => Math.abs(o.points))), 1)} points of their median.`
			);
		const fix = Math.abs(worst.points) >= profile.cylTrimFix;
		return found(
			finding(input, {
				severity: fix ? 'fix' : 'watch',
				facts: { cylinders: bad.map((b) => b.cylinder), points: bad.map((b) => b.points) },
				value: worst.points,
				limit: Math.sign(worst.points) * (fix ? profile.cylTrimFix : profile.cylTrimWatch),
				unit: '%',
				cylinder: worst.cylinder,
				channels: []
			})
		);
	},
	words: ({ facts: { cylinders, points } }: Told<TrimFacts>) => {
		const said = cylinders.map((c, i) => `cylinder ${c} is trimmed by ${signed(points[i]!)} points`);
		return {
			title: capital(said[0]!),
			summary: `Against the median of the set ${list(said)}: have the injectors flowed.`,
			causes: ['an injector that flows differently', 'a trim that was made on one reading'],
			next: ['have the set flowed before it is trimmed further']
		};
	}
});
