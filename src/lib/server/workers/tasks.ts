/** What goes to the workers and what comes back. Faults of the input come back as values: only they are shown to users. */
import type { LayoutSeen } from '../../../core/logfile/layout-error.ts';
import type { OutFormat } from '../../../core/logfile/write.ts';
import type { UnitChoice } from '../../../core/units/display.ts';
import type { ProofMeasure, ProofRegion } from '../../../core/evidence/knock/proof.ts';
import type { LogSummary } from '../../../core/performance/log-summary.ts';
import type { Baselines } from '../../../core/screening/baselines.ts';
import type { LogFields } from '../../../core/correction/grid-field.ts';
import type { RequirementView } from '../../../core/correction/view.ts';
import type { NextDrive, Proposal } from '../../../core/revising/proposal.ts';
import type { Replay } from '../../../core/revising/replay-schema.ts';
import type { LadderAnswer } from '../../../core/climbing/ladder.ts';
import type { Goal } from '../../../core/fuelling/goal.ts';
import type { FuelPlan } from '../../../core/fuelling/plan.ts';
import type { Plugs } from '../../../core/plugs/document.ts';
import type { Kind, PlugAnswer } from '../../../core/plugs/judge.ts';
import type { Swap } from '../../../core/swaps/document.ts';
import type { SwapAnswer } from '../../../core/swaps/answer.ts';
import type { MovedAnswer } from '../../../core/swaps/moved-sensor.ts';
import type { Strategy } from '../../../core/correction/strategy.ts';

export interface LogTask {
	dataDir: string;
	logId: number;
}

export type LogTaskResult =
	| { ok: true }
	/** `seen`: what a person needs to say how the file is laid out, where that is what failed. */
	| { ok: false; waits?: undefined; message: string; seen: LayoutSeen | null }
	/** Nobody’s fault: the disk was full, or the database locked for long. */
	| { ok: false; waits: true };

export interface ProposeTask {
	dataDir: string;
	/** Logs that may speak: of the revision itself, and of others. */
	logIds: number[];
	/** The revision that is to be changed. */
	revisionId: number;
	strategy?: Strategy;
}

export type RequirementTaskResult =
	| { ok: true; requirement: RequirementView | null; csv: string; next: NextDrive[] }
	| { ok: false; message: string };

export type FieldsTaskResult = { ok: true; fields: LogFields } | { ok: false; message: string };

export type ProposeTaskResult = { ok: true; proposal: Proposal } | { ok: false; message: string };

export interface ReplayTask {
	dataDir: string;
	logId: number;
	/** The revision to replay it with. */
	revisionId: number;
	/** With everything that is proposed for it, accepted or not. */
	withProposal?: boolean;
}

export type ReplayTaskResult = { ok: true; replay: Replay } | { ok: false; message: string };

export type SummaryTaskResult = { ok: true; summary: LogSummary } | { ok: false; message: string };

export type BaselinesTaskResult = { ok: true; baselines: Baselines } | { ok: false; message: string };

export interface ProofTask {
	dataDir: string;
	logId: number;
	region: ProofRegion;
}

export type ProofTaskResult = { ok: true; measure: ProofMeasure } | { ok: false; message: string };

export interface SwapTask {
	dataDir: string;
	swap: Swap;
	before: number;
	after: number;
	/** Log with everything back as it was. */
	back: number | null;
}

export type SwapTaskResult = { ok: true; answer: SwapAnswer | MovedAnswer } | { ok: false; message: string };

export interface PlugTask {
	dataDir: string;
	plugs: Plugs;
	revisionId: number;
	logId: number | null;
	rank: Kind[];
}

export type PlugTaskResult = { ok: true; answer: PlugAnswer } | { ok: false; message: string };

export interface FuelTask {
	dataDir: string;
	logId: number;
	goal: Goal;
}

export type FuelTaskResult = { ok: true; plan: FuelPlan } | { ok: false; message: string };

export interface LadderTask {
	dataDir: string;
	/** Made with the revision, the newest last. */
	logIds: number[];
	revisionId: number;
	/** The rungs before it, the oldest first, each with logs made with it. */
	earlier: { revisionId: number; logIds: number[] }[];
	goal: Goal;
	/** Plugs of this rung. */
	plugs: Plugs | null;
	banksSeen: string | null;
}

export type LadderTaskResult = { ok: true; answer: LadderAnswer } | { ok: false; message: string };

export interface ExportTask {
	dataDir: string;
	logId: number;
	format: OutFormat;
	fromS: number;
	toS: number;
	units: UnitChoice;
	/** Where the file is written. */
	path: string;
}

export type ExportTaskResult = { ok: true; rows: number } | { ok: false; message: string };
