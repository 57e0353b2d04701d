/**
 * One cause, one finding: where two findings tell of the same fault, one carries it and the other steps back to a note that says
 * where to look. One rule per pair.
 */
import { SEVERITIES, type Finding } from './types.ts';

/** What a lean bank may exceed the difference of the banks by and still be explained by it, in points. */
const SLACK_PCT = 2;

/**
 * A lean bank beside one that isn't: the difference of the banks is the finding; how lean the lean one ran is part of it.
 * Both banks lean stays a finding of its own.
 */
export function settleCauses(findings: readonly Finding[]): Finding[] {
	const banks = findings.find(
		(f) => f.code === 'bank.mismatch' && (f.severity === 'stop' || f.severity === 'fix')
	);
	if (!banks) return [...findings];
	const lean = findings.filter((f) => f.code === 'fuel.lean');
	const [only] = lean;
	const explained =
		lean.length === 1 && only!.bank === banks.bank && only!.value! <= Math.abs(banks.value!) + SLACK_PCT;
	if (!explained) return [...findings];
	const severity =
		SEVERITIES.indexOf(only!.severity) < SEVERITIES.indexOf(banks.severity) ? only!.severity : banks.severity;
	return findings.map((f) => {
		if (f === banks) return { ...f, severity, summary: `${f.summary} ${only!.summary}` };
		if (f === only)
			return { ...f, severity: 'note' as const, title: `${f.title}: part of the difference of the banks` };
		return f;
	});
}
