/**
 * `sensor.lambda`: witnesses of the same gas against each other. Where two agree, the odd one is named; with two that differ nobody is,
 * and the leaner is believed.
 */
import type { Prepared } from '../../evidence/prepared.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import {
	driftOf,
	pairsOf,
	witnessName,
	type GasPath,
	type Pair,
	type Witness
} from '../../evidence/lambda/witnesses.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { grade, type Raised } from '../types.ts';
import { capital, fixed, list, signed } from '../../format.ts';

/** With the word that makes a sensor of it. */
const sensorOf = (id: string) => (id === 'factory' ? `${witnessName(id)} sensor` : witnessName(id));

type Facts = {
	/** Of the odd one from the others, which agree; of the first from the second where nobody else saw it. */
	pct: number;
	fromRpm: number;
	odd?: string;
	others: string[];
	driftPoints?: number;
	/** One of them isn't compensated for exhaust pressure. */
	uncompensated: boolean;
	/** The other one was typed, off a film or a sheet. */
	typed?: boolean;
};

interface Judged {
	/** Deviation of the odd one from the others, or of the first from the second. */
	pct: number;
	rpm: number;
	odd: Witness | null;
	others: Witness[];
}

function judge(pairs: Pair[], agreePct: number): Judged {
	const worst = pairs.reduce((a, b) => (Math.abs(b.worstPct) > Math.abs(a.worstPct) ? b : a));
	const agreeing = pairs.find((p) => Math.abs(p.medianPct) <= agreePct && p !== worst);
	if (agreeing) {
		const inside = [agreeing.a, agreeing.b];
		const odd = [worst.a, worst.b].find((w) => !inside.includes(w)) ?? null;
		if (odd)
			return {
				pct: odd === worst.a ? worst.worstPct : 100 * (1 / (1 + worst.worstPct / 100) - 1),
				rpm: worst.rpm,
				odd,
				others: inside
			};
	}
	return { pct: worst.worstPct, rpm: worst.rpm, odd: null, others: [worst.a, worst.b] };
}

/** The typed mixture that is farthest from the log, beyond what a film and its last digit carry; `null` where all agree. */
function typedApart(input: Prepared): Raised<Facts> | null {
	const { typed, profile } = input;
	const apart = typed.filter((v) => Math.abs(v.offPct) > v.carriesPct);
	if (apart.length === 0) return null;
	const worst = apart.reduce((a, b) => (Math.abs(b.offPct) > Math.abs(a.offPct) ? b : a));
	const graded = grade(Math.abs(worst.offPct), {
		watch: profile.lambdaPairWatchPct,
		fix: profile.lambdaPairFixPct,
		stop: profile.lambdaPairStopPct
	});
	if (!graded) return null;
	return finding(input, {
		kind: 'typed',
		// A film is no instrument: it raises a question, it doesn't stop a job.
		severity: graded.severity === 'watch' ? 'watch' : 'fix',
		facts: { pct: worst.offPct, fromRpm: worst.rpm, others: ['typed'], uncompensated: false, typed: true },
		value: worst.offPct,
		limit: Math.sign(worst.offPct) * graded.limit,
		unit: '%',
		channels: ['lambda.b1', 'lambda.b2', 'rpm']
	});
}

export const sensorLambda = check({
	code: 'sensor.lambda',
	swaps: ['lambda-side-to-side', 'repair'],
	title: 'Lambda sources',
	section: 'sensors',
	leads: true,
	advice: 'repair',
	doubts: ['fuel', 'reading', 'injectors'],
	needs: ['lambdaSensors'],
	units: { pct: '%', fromRpm: 'rpm', driftPoints: '%' },
	run(input) {
		const { frame, segments, believed, profile, vehicle } = input;
		if (believed.sources.every((s) => s.length === 0))
			return notChecked('no lambda reading is logged', 'lambda.b1');
		const byHand = typedApart(input);
		if (byHand && (believed.paths.length === 0 || segments.loaded.length === 0)) return found(byHand);
		if (believed.paths.length === 0)
			return notChecked('only one kind of lambda source sees each gas path', 'lambda.ref');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const said: string[] = [];
		let any = false;
		const findings = believed.paths.flatMap((path: GasPath): Raised<Facts>[] => {
			const pairs = pairsOf(path, frame, segments);
			if (pairs.length === 0) return [];
			any = true;
			const { pct, rpm, odd, others } = judge(pairs, profile.witnessAgreePct);
			said.push(`${signed(pct)} %`);
			const graded = grade(Math.abs(pct), {
				watch: profile.lambdaPairWatchPct,
				fix: profile.lambdaPairFixPct,
				stop: profile.lambdaPairStopPct
			});
			if (!graded) return [];
			const [first, second] = odd ? [odd, others[0]!] : [others[0]!, others[1]!];
			const channels = [...new Set([odd ?? first, ...others].flatMap((w) => w.channels))];
			const uncompensated = channels.some((c) =>
				vehicle.sensors?.lambda?.some((s) => s.channel === c && s.pressureCompensated === false)
			);
			const slope = driftOf(first, second, frame, segments);
			return [
				finding(input, {
					severity: graded.severity,
					facts: {
						pct,
						fromRpm: rpm,
						...(odd ? { odd: odd.id } : {}),
						others: others.map((w) => w.id),
						...(Math.abs(slope) > 1 ? { driftPoints: slope } : {}),
						uncompensated
					},
					value: pct,
					limit: Math.sign(pct) * graded.limit,
					unit: '%',
					...(path.bank ? { bank: path.bank } : {}),
					runs: stretches(
						frame,
						0.3,
						(i) =>
							(segments.flags[i]! & FLAG.loaded) !== 0 &&
							Math.abs(100 * (first.values[i]! / second.values[i]! - 1)) > profile.lambdaPairWatchPct,
						0.3
					),
					channels: [...channels, 'exhaustPressure', 'rpm', 'map']
				})
			];
		});
		if (byHand) findings.push(byHand);
		if (!any && !byHand)
			return notChecked('no 500 rpm of loaded driving has half a second of two sources', 'loaded driving');
		if (findings.length === 0)
			return pass(`Sources of the same gas agree: at most ${said.join(', ')} apart in any 500 rpm.`);
		return found(...findings);
	},
	words: ({ facts: { pct, fromRpm, odd, others, driftPoints, uncompensated, typed } }: Told<Facts>) => {
		if (typed)
			return {
				title: `A typed reading is ${fixed(Math.abs(pct), 0)} % ${pct > 0 ? 'leaner' : 'richer'} than the log`,
				summary: `At ${fromRpm} rpm what was read off a film or a sheet is ${signed(pct)} % from what was logged. ${pct > 0 ? 'The leaner is believed there.' : 'Nothing is taken out there.'}`,
				causes: [
					'one of the two is wrong: a sensor that drifts, or an instrument that is old or elsewhere in the exhaust'
				],
				next: ['record the instrument together with the log, or move one to the other’s place']
			};
		const who = odd
			? `${sensorOf(odd)} reads ${signed(pct)} % from ${list(others.map(sensorOf))}, which agree`
			: `${sensorOf(others[0]!)} reads ${signed(pct)} % from ${sensorOf(others[1]!)}; nobody else saw it, so the leaner is believed`;
		const drift =
			driftPoints === undefined
				? ''
				: ` The difference moves by ${signed(driftPoints)} points in ten minutes.`;
		return {
			title: odd
				? `${odd === 'factory' ? "The controller's lambda" : capital(witnessName(odd))} reads ${pct < 0 ? 'rich' : 'lean'}`
				: `Lambda sources ${fixed(Math.abs(pct), 0)} % apart`,
			summary: `Around ${fromRpm + 250} rpm under load ${who}.${drift} No fuel may come out on its word.`,
			causes: [
				...(uncompensated
					? ['a sensor that is not compensated for exhaust pressure reads rich under it']
					: []),
				'a factory sensor that runs hot near the turbo drifts rich',
				'an exhaust leak before one of them reads lean',
				'an old or wrongly calibrated instrument'
			],
			next: ['believe what agrees; while nothing does, the leaner', 'a third source, or the sensors swapped']
		};
	}
});
