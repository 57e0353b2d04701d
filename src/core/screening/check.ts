/** A check with all that is known of it. Lists, sections, holds, advice, the readiness sheet and what waits for a fact are derived from here. */
import type { Prepared } from '../evidence/prepared.ts';
import type { NeedId } from '../vehicle/needs.ts';
import type { Vehicle } from '../vehicle/document.ts';
import type { Profile } from '../limits/profile.ts';
import type { SwapKind } from '../swap-kind.ts';
import type { CheckResult, Finding, Raised, Words } from './types.ts';

/** The questions that a log is read by, see `SECTIONS`. */
export type SectionId =
	| 'fit'
	| 'readiness'
	| 'sensors'
	| 'mixture'
	| 'banks'
	| 'cylinders'
	| 'knock'
	| 'supply'
	| 'air'
	| 'drivetrain'
	| 'nitrous';

/** Traces that show what a finding speaks of. */
export type LaneId = 'mixture' | 'knock' | 'supply' | 'air';

/** What a finding asks for when no table can help. */
export const ADVICE_KINDS = ['repair', 'part', 'fuel', 'log', 'other'] as const;
export type AdviceKind = (typeof ADVICE_KINDS)[number];

/**
 * What must not be done while a finding is open: take fuel out (`fuel`), believe the mixture that it would be taken out by (`reading`),
 * correct the injectors (`injectors`), change any fuel by what the pulse did (`pulse`: dead time goes with the supply), add timing where it speaks of (`timing`), count its mixture against the revision that it is said to be made with (`revision`, at stop: it was another), propose anything at all (`everything`: the log tells of
 * another fuelling, or of another car).
 */
export type Doubt = 'fuel' | 'reading' | 'injectors' | 'pulse' | 'timing' | 'revision' | 'everything';

export interface About {
	/** Its subject, in the trade's words. */
	title: string;
	section: SectionId;
	/** It answers the question of its section: where none of these was made, no side remark makes it a pass. */
	leads?: boolean;
	/** Where the traces to it are not those of its section. */
	lane?: LaneId;
	/** A limit of the profile that is drawn into its lane. */
	drawn?: keyof Profile;
	/** What a finding of it asks for; absent where it is a matter of the calibration. */
	advice?: AdviceKind;
	/** What helps, where only a part does. */
	remedy?: string;
	doubts?: readonly Doubt[];
	/** Swap tests that would find its cause, the cheapest first. */
	swaps?: readonly SwapKind[];
	/** Facts of the vehicle without which it says nothing, or less. */
	needs?: readonly NeedId[];
	/** Its line on the readiness sheet: the item, and what it is held against. */
	readiness?: { item: string; against: (v: Vehicle, p: Profile) => string };
	/** Why more (`up`) or less was given for it, as a customer would be told: "it knocked there" for less timing. */
	told?: Partial<Record<'fuel' | 'timing', { up?: string; down?: string }>>;
	/** A finding in the words of somebody who drives and doesn't calibrate, with what to do; absent for what isn't theirs. */
	plain?: (f: Finding) => string;
}

/** Names of those facts that are measured: each has a unit. */
type Measured<Facts> = {
	[K in keyof Facts]-?: NonNullable<Facts[K]> extends number | readonly number[] ? K : never;
}[keyof Facts];

/** What words are made of: facts as plain values, whom it is about, how bad it is. */
export type Told<Facts extends object> = Pick<Raised<Facts>, 'facts' | 'severity' | 'bank' | 'cylinder'>;

export interface Check<Code extends string = string, Facts extends object = object> extends About {
	/** Stable: stored reports, answers and programs hang on it. */
	code: Code;
	/** Unit of each fact that is a number. */
	units: Record<Measured<Facts>, string>;
	/** One file may serve codes that share a computation; it answers for each. */
	run(input: Prepared): CheckResult<Facts>;
	/** Its words, from what the finding carries and from nothing else: a stored finding reads the same when they are made anew. */
	words(finding: Told<Facts>): Words;
}

/** Keeps the literal code, so that the list of all checks knows them, and holds facts, units and words of a check to each other. */
export const check = <const Code extends string, Facts extends object>(
	c: Check<Code, Facts>
): Check<Code, Facts> => c;

/** From about this share on nearly all of the benefit of ethanol is there (common practice). */
const ENOUGH_ETHANOL_PCT = 60;
export const MORE_FUEL = `larger injectors, or less ethanol: from about ${ENOUGH_ETHANOL_PCT} % on nearly all of its benefit is there`;
