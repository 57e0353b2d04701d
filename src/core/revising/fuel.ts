/**
 * Proposal for the fuel table: per cell the weighted mean of the required correction, applied to the value of the revision
 * that the logs were made with. Adding fuel goes in at once, taking it away in small steps; neighbours that weren't visited get a
 * share that fades within two cells, marked as carried.
 */
import { bankCount } from '../vehicle.ts';
import { decimalsOf, findMap, roundTo, type MapItem } from '../calibration/document.ts';
import { cellStats, type CellStats } from '../cells/stats.ts';
import { carry } from './carry.ts';
import { axisChannel, usable } from '../lambda/required.ts';
import { FLAG } from '../segments/segments.ts';
import type { CheckInput, Finding } from '../screening/types.ts';
import { signed } from '../screening/wording.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';

export interface FuelStrategy {
	method: 'bilinear' | 'nearest';
	/** Share of the correction that is applied when fuel is added / removed, 0–1. */
	addShare: number;
	removeShare: number;
	/** Most that is removed, and most that is changed at all, in percent of the cell per revision. */
	maxRemovePct: number;
	maxPct: number;
	minSamples: number;
	minSeconds: number;
	/** Corrections below this with a standard error above it are left alone, in percent. */
	quietPct: number;
}

export const FUEL_DEFAULTS: FuelStrategy = {
	method: 'bilinear',
	addShare: 1,
	removeShare: 0.7,
	maxRemovePct: 5,
	maxPct: 15,
	minSamples: 10,
	minSeconds: 0.5,
	quietPct: 1
};

/** A screened log ready to propose from. */
export interface Evidence {
	input: CheckInput;
	findings: readonly Finding[];
}

/** Samples of several logs on one table, one after the other. */
interface Pooled {
	x: Float32Array;
	y: Float32Array;
	value: Float32Array;
	use: Uint8Array;
	timeS: Float64Array;
	dtS: Float64Array;
	lagS: Float32Array;
}

/** Both banks' mean correction per sample (they agree where this is used), one bank where only one is seen. */
function correctionOf(input: CheckInput): Float32Array | null {
	const seen = input.required.banks.filter((b): b is Float32Array => b !== null);
	const [first, second] = seen;
	if (!first) return null;
	if (!second || input.believed.shared) return first;
	return first.map((k, i) => (k + second[i]!) / 2);
}

/** Usable samples with their correction, for proposals and for the map of the required correction. */
export function pooled(
	logs: readonly CheckInput[],
	table: MapItem,
	correction: (i: CheckInput) => Float32Array | null
): Pooled | null {
	const parts = logs.flatMap((input) => {
		const { frame, segments } = input;
		const k = correction(input);
		const x = axisChannel(frame, table.x.channel, segments.baroKpa);
		const y = axisChannel(frame, table.y.channel, segments.baroKpa);
		if (!k || !x || !y) return [];
		const uncertain = input.required.loadedUncertain.some(Boolean);
		const use = new Uint8Array(frame.length);
		for (let i = 0; i < use.length; i++)
			use[i] = usable(segments, i) && !(uncertain && segments.flags[i]! & FLAG.loaded) ? 1 : 0;
		return [{ x, y, value: k, use, timeS: frame.timeS, dtS: frame.dtS, lagS: input.believed.lagS }];
	});
	if (parts.length === 0) return null;
	if (parts.length === 1) return parts[0]!;
	const total = parts.reduce((s, p) => s + p.x.length, 0);
	const out: Pooled = {
		x: new Float32Array(total),
		y: new Float32Array(total),
		value: new Float32Array(total),
		use: new Uint8Array(total),
		timeS: new Float64Array(total),
		dtS: new Float64Array(total),
		lagS: new Float32Array(total)
	};
	let at = 0;
	let shift = 0;
	for (const p of parts) {
		out.x.set(p.x, at);
		out.y.set(p.y, at);
		out.value.set(p.value, at);
		out.use.set(p.use, at);
		out.dtS.set(p.dtS, at);
		out.lagS.set(p.lagS, at);
		for (let i = 0; i < p.timeS.length; i++) out.timeS[at + i] = p.timeS[i]! + shift;
		at += p.x.length;
		// Logs follow each other with a pause, so that no sample of one counts as a repeat of the other's.
		shift = out.timeS[at - 1]! + 10;
	}
	return out;
}

const UNSAFE_TO_REMOVE = new Set(['sensor.lambda', 'misfire', 'log.sensor']);
/** Sources of one bank farther apart than this: nothing is removed on their word. */
const DISAGREE_PCT = 5;

export function proposeFuel(
	evidence: readonly Evidence[],
	strategy: FuelStrategy = FUEL_DEFAULTS
): { change: ItemProposal | null; held: Held[] } {
	const id = 'fuel.table';
	const held: Held[] = [];
	const calibration = evidence[0]?.input.calibration;
	const table = calibration ? findMap(calibration, id) : null;
	if (!table) return { change: null, held: [{ item: id, reason: 'the calibration has no fuel table' }] };
	const findings = evidence.flatMap((e) => e.findings);
	const banks = findings.find(
		(f) => f.code === 'bank.mismatch' && (f.severity === 'stop' || f.severity === 'fix')
	);
	if (banks) {
		return {
			change: null,
			held: [
				{
					item: id,
					code: 'bank.mismatch',
					reason: `${banks.title}. Neither bank's word and no mean of them may move the table; find the cause first`
				}
			]
		};
	}
	const inputs = evidence.map((e) => e.input);
	const data = pooled(inputs, table, correctionOf);
	if (!data) {
		const why = inputs.every((i) => i.target.values === null)
			? 'the lambda target is not known'
			: inputs.every((i) => i.believed.banks.every((b) => b === null))
				? 'no lambda reading is logged'
				: `the log lacks the axes of the table (${table.x.channel}, ${table.y.channel})`;
		return { change: null, held: [{ item: id, reason: why }] };
	}
	if (inputs.some((i) => i.required.loadedUncertain.some(Boolean)))
		held.push({
			item: id,
			reason:
				'the loaded cells: the learned trim is over 2 % and it is not known whether the controller applies it at full load. State it in the vehicle (controller.learnedTrimAtFullLoad)'
		});
	const unsafe = findings.find(
		(f) => UNSAFE_TO_REMOVE.has(f.code) && (f.severity === 'stop' || f.severity === 'fix')
	);
	const apart = Math.max(...inputs.flatMap((i) => i.believed.disagreementPct.filter(Number.isFinite)), 0);
	const noRemoval = unsafe ? unsafe.code : apart > DISAGREE_PCT ? 'sensor.lambda' : null;
	const stats = cellStats({
		...data,
		axes: { xChannel: table.x.channel, x: table.x.points, yChannel: table.y.channel, y: table.y.points },
		method: strategy.method
	});
	const plan = planOf(stats, strategy, noRemoval !== null);
	if (plan.heldCells > 0)
		held.push({
			item: id,
			...(noRemoval ? { code: noRemoval } : {}),
			reason: `${plan.heldCells} cells that would lose fuel: ${unsafe ? unsafe.title.toLowerCase() : `the lambda sources of a bank differ by ${apart.toFixed(1)} %`}`
		});
	if (
		bankCount(evidence[0]!.input.vehicle) === 2 &&
		inputs.some((i) => i.believed.shared || i.believed.banks.some((b) => b === null))
	)
		held.push({
			item: id,
			code: 'bank.unseen',
			reason:
				'nothing yet, but only one bank was seen: the other may be leaner. Log with the sensor moved to the other bank'
		});
	const cells = applied(table, plan, stats);
	if (cells.length === 0) return { change: null, held };
	const measured = cells.filter((c) => c.basis === 'measured');
	const percents = measured.map((c) => 100 * (c.to / c.from - 1));
	const related = findings.filter((f) => f.code.startsWith('fuel.')).map((f) => f.code);
	return {
		change: {
			item: id,
			cells,
			reason: measured.length
				? `Measured mixture against target in ${measured.length} cells: ${signed(Math.min(...percents))} to ${signed(Math.max(...percents))} %; ${cells.length - measured.length} neighbours carried over`
				: 'Carried over from neighbours',
			findings: [...new Set(related)]
		},
		held
	};
}

interface Plan {
	/** Factor − 1 per cell; NaN where nothing is proposed. */
	delta: Float64Array;
	measured: Uint8Array;
	heldCells: number;
}

function planOf(stats: CellStats, s: FuelStrategy, noRemoval: boolean): Plan {
	const count = stats.nx * stats.ny;
	const fixed = new Float64Array(count).fill(Number.NaN);
	const measured = new Uint8Array(count);
	let heldCells = 0;
	for (let c = 0; c < count; c++) {
		if (stats.n[c]! < s.minSamples || stats.seconds[c]! < s.minSeconds - 1e-9) continue;
		const wanted = stats.mean[c]! - 1;
		if (Math.abs(wanted) * 100 < s.quietPct && stats.se[c]! * 100 > s.quietPct) {
			fixed[c] = 0;
			continue;
		}
		if (wanted < 0 && noRemoval) {
			heldCells++;
			fixed[c] = 0;
			continue;
		}
		const limited =
			wanted >= 0
				? Math.min(wanted * s.addShare, s.maxPct / 100)
				: Math.max(wanted * s.removeShare, -s.maxRemovePct / 100, -s.maxPct / 100);
		fixed[c] = limited;
		measured[c] = 1;
	}
	return { delta: carry(fixed, stats.nx, stats.ny), measured, heldCells };
}

/** Cells whose rounded value changes. */
function applied(table: MapItem, plan: Plan, stats: CellStats): CellChange[] {
	const decimals = decimalsOf(table);
	const out: CellChange[] = [];
	table.values.forEach((row, r) =>
		row.forEach((from, c) => {
			const i = r * stats.nx + c;
			const delta = plan.delta[i]!;
			if (!Number.isFinite(delta)) return;
			const raw = from * (1 + delta);
			const to = roundTo(Math.min(table.max ?? Infinity, Math.max(table.min ?? -Infinity, raw)), decimals);
			if (to === from) return;
			const isMeasured = plan.measured[i] === 1;
			const se = stats.se[i]! * 100;
			out.push({
				x: table.x.points[c]!,
				y: table.y.points[r]!,
				from,
				to,
				basis: isMeasured ? 'measured' : 'carried',
				samples: isMeasured ? Math.round(stats.n[i]! * 10) / 10 : 0,
				se: isMeasured && Number.isFinite(se) ? Math.round(se * 1000) / 1000 : null
			});
		})
	);
	return out;
}
