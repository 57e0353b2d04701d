/** The words of a finding, made from what it carries: the same for one just raised and for one read from a stored report. */
import { checkOf } from './codes.ts';
import { factsOf, type Words, type Wordless } from './types.ts';

/**
 * @param f a finding as the report carries it; words that it has already don't count
 * @throws where no check has its code: a report of a version that knew others keeps the words that it was stored with
 */
export function wordsOf(f: Wordless): Words {
	const check = checkOf(f.code);
	if (!check) throw new Error(`No check has the code ${f.code}.`);
	return check.words({ ...f, facts: factsOf(f) });
}
