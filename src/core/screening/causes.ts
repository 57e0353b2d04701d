/**
 * One cause, one finding: where two findings tell of the same fault, one carries it and the other steps back to a note that names it.
 * One rule per pair; each is tried in this order.
 *
 * Some pairs are settled before they get here: samples with a misfire, a cut, a limiter or a launch are no mixture
 * (`segments.NO_MIXTURE`); a sensor that two others contradict is not believed (`lambda/believed.ts`); a difference of the banks that
 * trims hide is computed with the trims in it (`lambda/required.ts`).
 */
import type { CheckCode } from './codes.ts';
import type { Profile } from '../limits/profile.ts';
import { findingKey, rank, type Severity, type Wordless } from './types.ts';

/** What a tail may exceed its cause by and still be explained by it, in points. */
const SLACK_PCT = 2;

const serious = (f: Wordless) => f.severity === 'stop' || f.severity === 'fix';
const worse = (a: Severity, b: Severity): Severity => (rank(a) < rank(b) ? a : b);

function overlap(a: Wordless, b: Wordless): boolean {
	const [x, y] = [a.ranges ?? [], b.ranges ?? []];
	if (x.length === 0 || y.length === 0) return true;
	return x.some((r) => y.some((s) => r.from <= s.to + 1 && s.from <= r.to + 1));
}

/** Tails step back behind their cause; a dangerous tail makes its cause as dangerous. */
function behind(
	findings: readonly Wordless[],
	cause: Wordless,
	tails: readonly Wordless[],
	lift: boolean
): Wordless[] {
	const severity = lift ? tails.reduce((s, t) => worse(s, t.severity), cause.severity) : cause.severity;
	return findings.map((f): Wordless => {
		if (f === cause) return { ...f, severity };
		return tails.includes(f) ? { ...f, severity: 'note', because: findingKey(cause) } : f;
	});
}

interface Rule {
	cause: CheckCode;
	tails: readonly CheckCode[];
	/** Whether the cause takes the tail's severity over. */
	lift: boolean;
	/** Whether this tail is explained by this cause. */
	explains: (cause: Wordless, tail: Wordless, all: readonly Wordless[]) => boolean;
}

const RULES: readonly Rule[] = [
	{
		// A pegged or stuck sensor reads no mixture.
		cause: 'log.sensor',
		tails: [
			'fuel.lean',
			'fuel.rich',
			'sensor.lambda',
			'bank.mismatch',
			'boost.under',
			'boost.over',
			'air.model'
		],
		lift: false,
		explains: (c, t) =>
			overlap(c, t) &&
			c.channels.some(
				(id) =>
					t.channels.includes(id) && id !== 'rpm' && (id.startsWith('lambda') || id === 'map' || id === 'maf')
			)
	},
	{
		// Fuel that doesn't arrive makes the mixture lean and closed loop work.
		cause: 'supply.pressure',
		tails: ['fuel.lean', 'trim.limit'],
		lift: true,
		explains: (c, t) => t.value! > 0 && overlap(c, t)
	},
	{
		// One lean cylinder shifts the mean of its bank.
		cause: 'cyl.lambda',
		tails: ['bank.mismatch'],
		lift: false,
		explains: (c, t) => Math.abs(t.value!) <= Math.abs(c.value!) / 2 + SLACK_PCT
	},
	{
		// A lean bank beside one that isn't: the difference is the finding. Both banks lean stays one of its own.
		cause: 'bank.mismatch',
		tails: ['fuel.lean', 'fuel.rich'],
		lift: true,
		explains: (c, t, all) =>
			all.filter((f) => f.code === t.code).length === 1 &&
			t.bank !== undefined &&
			(t.code === 'fuel.rich' || t.bank === c.bank) &&
			Math.abs(t.value!) <= Math.abs(c.value!) + SLACK_PCT
	},
	{
		// Closed loop hides the same difference in the trims.
		cause: 'bank.mismatch',
		tails: ['trim.level', 'trim.limit'],
		lift: false,
		explains: (c, t) => t.bank !== undefined && Math.abs(t.value!) <= Math.abs(c.value!) + SLACK_PCT
	},
	{
		// Today's duty says more than the one projected from it.
		cause: 'inj.duty',
		tails: ['inj.reserve'],
		lift: false,
		explains: () => true
	},
	{
		// The intervention is what closes the throttle.
		cause: 'boost.over',
		tails: ['throttle.closing'],
		lift: false,
		explains: (c, t) => overlap(c, t)
	}
];

/**
 * One cylinder alone: a matter of that cylinder, up to the retard that stops a job whatever it is.
 * The knock steps back to a note: its check has found it, and timing is proposed from its episodes.
 */
function settleKnock(findings: Wordless[], stopDeg: number): Wordless[] {
	const alone = findings.filter((f) => f.code === 'cyl.knock');
	if (alone.length === 0) return findings;
	return findings.map((f): Wordless => {
		const cause =
			SHAPES.includes(f.code) && f.value! < stopDeg ? alone.find((a) => overlap(a, f)) : undefined;
		return cause ? { ...f, severity: 'note', because: findingKey(cause) } : f;
	});
}
const SHAPES: readonly string[] = ['knock.real', 'knock.blips', 'knock.unclear'] satisfies CheckCode[];

export function settleCauses(raised: readonly Wordless[], profile: Profile): Wordless[] {
	let findings = settleKnock([...raised], profile.knockStopDeg);
	for (const rule of RULES)
		for (let k = 0; k < findings.length; k++) {
			const cause = findings[k]!;
			if (cause.code !== rule.cause || !(serious(cause) || (rule.lift && cause.severity === 'watch')))
				continue;
			const tails = findings.filter(
				(f) =>
					(rule.tails as readonly string[]).includes(f.code) &&
					f.severity !== 'note' &&
					rule.explains(cause, f, findings)
			);
			if (tails.length) findings = behind(findings, cause, tails, rule.lift);
		}
	return findings;
}
