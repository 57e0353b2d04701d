/** What the swap tests of a job say together: the cause where it is named, what is ruled out, and what is cheapest to try next. */
import { fixed } from '../format.ts';
import { SWAP_KINDS, SWAP_TITLES, type SwapKind } from '../swap-kind.ts';
import type { Swap } from './document.ts';
import type { SwapAnswer } from './answer.ts';
import type { MovedAnswer } from './moved-sensor.ts';

export interface Tested {
	swap: Swap;
	answer: SwapAnswer | MovedAnswer | null;
}

export interface Standing {
	/** In a sentence; `null` while it isn't named. */
	cause: string | null;
	/** A moved sensor saw the bank that has none, and found it like the other: how far it saw. `null` where none did. */
	seen: string | null;
	ruledOut: string[];
	next: string[];
}

/** @param tests of one difference, oldest first @param possible the tests that the vehicle has the parts for */
export function standingOf(tests: readonly Tested[], possible: readonly SwapKind[] = SWAP_KINDS): Standing {
	const done = tests.filter((t) => t.answer && t.answer.answer !== 'not-comparable');
	const named = done.findLast(({ swap, answer }) =>
		swap.kind === 'repair'
			? answer!.answer === 'gone'
			: answer!.answer === 'moved' || answer!.answer === 'two-parts'
	);
	const ruledOut = done
		.filter((t) => t.answer!.answer === 'stayed')
		.map(({ swap }) => (swap.kind === 'repair' ? (swap.what ?? 'what was mended') : PART[swap.kind]));
	const seen = seenBy(done);
	if (named) return { cause: named.answer!.why, seen, ruledOut, next: named.answer!.next };
	const open = tests.filter((t) => !t.answer);
	if (open.length)
		return {
			cause: null,
			seen,
			ruledOut,
			next: open.map((t) => `log with: ${SWAP_TITLES[t.swap.kind].toLowerCase()}`)
		};
	const tried = new Set(done.map((t) => t.swap.kind));
	const left = (kind: SwapKind) => possible.includes(kind) && !tried.has(kind);
	const next = [
		...(left('injectors-side-to-side') ? ['swap the injectors from side to side and log again'] : []),
		...(left('lambda-side-to-side') ? ['swap the lambda sensors from side to side and log again'] : []),
		'look for a leak in the exhaust before the sensor and at the intake gasket of the leaner bank, mend it and log again',
		'look at the wiring and the connectors of the leaner bank'
	];
	const last = done.at(-1)?.answer;
	return {
		cause: null,
		seen,
		ruledOut,
		next:
			last && last.answer !== 'stayed' ? [...last.next, ...next.filter((n) => !last.next.includes(n))] : next
	};
}

/** A difference that the moved sensor measured is a mismatch: nothing is settled by it. */
function seenBy(done: readonly Tested[]): string | null {
	const moved = done.findLast((t) => t.swap.kind === 'lambda-moved')?.answer;
	if (!moved || !('seenTo' in moved) || moved.answer !== 'undecided' || !moved.seenTo) return null;
	const { rpm, mapKpa } = moved.seenTo;
	return `The other bank was seen with the moved sensor, up to ${fixed(rpm, 0)} rpm${mapKpa === null ? '' : ` and ${fixed(mapKpa, 0)} kPa`}: ${moved.why}`;
}

const PART: Record<Swap['kind'], string> = {
	'injectors-side-to-side': 'the injectors',
	'lambda-side-to-side': 'the lambda sensors',
	'lambda-moved': 'the sensor that was moved',
	'between-cylinders': 'the parts that were swapped between the cylinders',
	repair: 'what was mended'
};
