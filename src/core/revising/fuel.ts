/**
 * Proposal for what the fuel hangs on (fuel table, members of a blend, curve of the air meter): per cell the weighted mean of the required correction, applied to the value of the revision
 * that the logs were made with. Adding fuel goes in at once, taking it away in small steps; neighbours that weren't visited get a
 * share that fades within two cells, marked as carried.
 */
import { fixed } from '../format.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { doubts, type CheckCode } from '../screening/codes.ts';
import { bankCount } from '../vehicle/document.ts';
import {
	decimalsOf,
	findCurve,
	findMap,
	roundTo,
	type Calibration,
	type CurveItem,
	type MapItem
} from '../calibration/document.ts';
import type { CellAxes } from '../calibration/grid.ts';
import { cellStats, nearestCells, type CellStats } from '../evidence/cells/stats.ts';
import { carry } from './carry.ts';
import { blendOf, blendShares } from '../calibration/along.ts';
import { axisChannel } from '../calibration/axes.ts';
import { usable } from '../evidence/lambda/required.ts';
import { derived } from '../logfile/columns.ts';
import type { Finding } from '../screening/types.ts';
import { signed } from '../format.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';
import { DEFAULT_STRATEGY, type Strategy } from './strategy.ts';

/** A screened log ready to propose from. */
export interface Evidence {
	input: Prepared;
	findings: readonly Finding[];
}

/** A fuel item as rows and columns: a table, a member of a blend, or the curve of an air meter as one row. */
interface FuelTable {
	id: string;
	item: MapItem | CurveItem;
	axes: CellAxes;
	rows: number[][];
	/** The blend that it is a member of, and which one. */
	blend: { of: NonNullable<ReturnType<typeof blendOf>>; member: number } | null;
}

/** What the controller's fuel hangs on: the air meter's curve, else the fuel table or the members that blend into it. */
export function fuelTables(calibration: Calibration): FuelTable[] {
	const curve = calibration.fuelModel === 'maf' ? findCurve(calibration, 'maf.curve') : null;
	if (curve)
		return [
			{
				id: curve.id,
				item: curve,
				axes: {
					xChannel: curve.x.channel,
					xUnit: curve.x.unit,
					x: curve.x.points,
					yChannel: curve.x.channel,
					y: [0]
				},
				rows: [curve.values],
				blend: null
			}
		];
	const blend = blendOf(calibration, 'fuel.table');
	const ids = blend ? blend.members : ['fuel.table'];
	return ids.flatMap((id, member) => {
		const item = findMap(calibration, id);
		return item
			? [
					{
						id,
						item,
						axes: {
							xChannel: item.x.channel,
							xUnit: item.x.unit,
							x: item.x.points,
							yChannel: item.y.channel,
							yUnit: item.y.unit,
							y: item.y.points
						},
						rows: item.values,
						blend: blend ? { of: blend, member } : null
					}
				]
			: [];
	});
}

/** Samples of several logs on one table, one after the other. */
interface Pooled {
	x: Float32Array;
	y: Float32Array;
	value: Float32Array;
	weight: Float32Array;
	use: Uint8Array;
	/** 1 where the engine ran, but nothing may be learnt from it: no neighbour's change goes there either. */
	held: Uint8Array;
	timeS: Float64Array;
	dtS: Float64Array;
	lagS: Float32Array;
}

type Correction = (input: Prepared) => Float32Array | null;

/** Both banks' mean correction per sample (they agree where this is used), one bank where only one is seen. */
const meanOfBanks: Correction = (input) => {
	const seen = input.required.banks.filter((b): b is Float32Array => b !== null);
	const [first, second] = seen;
	if (!first) return null;
	if (!second || input.believed.shared) return first;
	return derived(first, (k, i) => {
		const other = second[i]!;
		// A bank that says nothing at this moment leaves it to the other.
		return other !== other ? k : k !== k ? other : (k + other) / 2;
	});
};

/** What the leaner bank wants: the stop-gap while the banks disagree. */
const leanerBank: Correction = (input) => {
	const [first, second] = input.required.banks;
	return first && second && !input.believed.shared ? derived(first, (k, i) => Math.max(k, second[i]!)) : null;
};

/** Usable samples of all logs with their correction, and what each says about this table. */
function pooled(logs: readonly Prepared[], table: FuelTable, correction: Correction): Pooled | null {
	const parts = logs.flatMap((input) => {
		const { frame, segments } = input;
		const k = correction(input);
		const x = axisChannel(frame, { channel: table.axes.xChannel, unit: table.axes.xUnit }, segments.baroKpa);
		const y =
			table.item.kind === 'map'
				? axisChannel(frame, { channel: table.axes.yChannel, unit: table.axes.yUnit }, segments.baroKpa)
				: new Float32Array(frame.length);
		const weight = table.blend
			? (blendShares(frame, table.blend.of, segments.baroKpa)?.[table.blend.member] ?? null)
			: new Float32Array(frame.length).fill(1);
		if (!k || !x || !y || !weight) return [];
		const uncertain = input.required.loadedUncertain.some(Boolean);
		const use = new Uint8Array(frame.length);
		const held = new Uint8Array(frame.length);
		for (let i = 0; i < use.length; i++) {
			const doubt = uncertain && (segments.flags[i]! & FLAG.loaded) !== 0;
			use[i] = weight[i]! > 0 && usable(segments, i) && !doubt ? 1 : 0;
			held[i] = doubt && weight[i]! > 0 ? 1 : 0;
		}
		return [
			{ x, y, value: k, weight, use, held, timeS: frame.timeS, dtS: frame.dtS, lagS: input.believed.lagS }
		];
	});
	if (parts.length === 0) return null;
	if (parts.length === 1) return parts[0]!;
	const total = parts.reduce((s, p) => s + p.x.length, 0);
	const out: Pooled = {
		x: new Float32Array(total),
		y: new Float32Array(total),
		value: new Float32Array(total),
		weight: new Float32Array(total),
		use: new Uint8Array(total),
		held: new Uint8Array(total),
		timeS: new Float64Array(total),
		dtS: new Float64Array(total),
		lagS: new Float32Array(total)
	};
	let at = 0;
	let shift = 0;
	for (const p of parts) {
		for (const name of ['x', 'y', 'value', 'weight', 'lagS'] as const) out[name].set(p[name], at);
		out.use.set(p.use, at);
		out.held.set(p.held, at);
		out.dtS.set(p.dtS, at);
		for (let i = 0; i < p.timeS.length; i++) out.timeS[at + i] = p.timeS[i]! + shift;
		at += p.x.length;
		// Logs follow each other with a pause, so that no sample of one counts as a repeat of the other's.
		shift = out.timeS[at - 1]! + 10;
	}
	return out;
}

/** What a correction of the fuel answers. */
const ANSWERED: readonly string[] = ['fuel.lean', 'fuel.rich', 'fuel.target'] satisfies CheckCode[];

export interface FuelProposal {
	changes: ItemProposal[];
	held: Held[];
	offers: ItemProposal[];
}

export function proposeFuel(
	evidence: readonly Evidence[],
	strategy: Strategy = DEFAULT_STRATEGY
): FuelProposal {
	const held: Held[] = [];
	const none: FuelProposal = { changes: [], held, offers: [] };
	const calibration = evidence[0]?.input.calibration;
	const tables = calibration ? fuelTables(calibration) : [];
	const id = calibration?.fuelModel === 'maf' ? 'maf.curve' : 'fuel.table';
	if (tables.length === 0) {
		held.push({
			item: id,
			reason: `the calibration has no ${id === 'maf.curve' ? 'curve of the air meter' : 'fuel table'}`
		});
		return none;
	}
	const findings = evidence.flatMap((e) => e.findings);
	const inputs = evidence.map((e) => e.input);
	const nothing = findings.find(
		(f) => doubts(f.code, 'everything') && (f.severity === 'stop' || f.severity === 'fix')
	);
	if (nothing) {
		held.push({
			item: id,
			code: nothing.code,
			reason: `${nothing.title.toLowerCase()}: nothing is proposed from this log`
		});
		return none;
	}
	const banks = findings.find(
		(f) => f.code === 'bank.mismatch' && (f.severity === 'stop' || f.severity === 'fix')
	);
	if (banks) {
		held.push({
			item: id,
			code: 'bank.mismatch',
			reason: `${banks.title}. Neither bank's word and no mean of them may move the table; find the cause first`
		});
		for (const table of tables) {
			const plan = planned(inputs, table, leanerBank, strategy, true);
			const change =
				plan &&
				changeOf(
					table,
					plan,
					['bank.mismatch'],
					'Stop-gap: what the leaner bank wants, given to both while the cause is looked for'
				);
			if (change) none.offers.push(change);
		}
		return none;
	}
	if (inputs.some((i) => i.required.loadedUncertain.some(Boolean)))
		held.push({
			item: id,
			reason:
				'the loaded cells: the learned trim is over 2 % and it is not known whether the controller applies it at full load. State it in the vehicle (controller.learnedTrimAtFullLoad)'
		});
	const unsafe = findings.find(
		(f) => doubts(f.code, 'reading') && (f.severity === 'stop' || f.severity === 'fix')
	);
	const apart = Math.max(...inputs.flatMap((i) => i.believed.disagreementPct.filter(Number.isFinite)), 0);
	const noRemoval = unsafe
		? unsafe.code
		: apart > inputs[0]!.profile.sourcesApartPct
			? 'sensor.lambda'
			: null;
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
	const related = [...new Set(findings.filter((f) => ANSWERED.includes(f.code)).map((f) => f.code))];
	const changes = tables.flatMap((table) => {
		const plan = planned(inputs, table, meanOfBanks, strategy, noRemoval !== null);
		if (!plan) {
			held.push({ item: table.id, reason: whyNot(inputs, table) });
			return [];
		}
		if (plan.heldCells > 0)
			held.push({
				item: table.id,
				...(noRemoval ? { code: noRemoval } : {}),
				reason: `${plan.heldCells} cells that would lose fuel: ${unsafe ? unsafe.title.toLowerCase() : `the lambda sources of a bank differ by ${fixed(apart, 1)} %`}`
			});
		return changeOf(table, plan, related) ?? [];
	});
	return { changes, held, offers: [] };
}

function whyNot(inputs: readonly Prepared[], table: FuelTable): string {
	if (inputs.every((i) => i.target.values === null)) return 'the lambda target is not known';
	if (inputs.every((i) => i.believed.banks.every((b) => b === null))) return 'no lambda reading is logged';
	const { xChannel, yChannel } = table.axes;
	const channels = [
		...new Set([
			xChannel,
			...(table.item.kind === 'map' ? [yChannel] : []),
			...(table.blend ? [table.blend.of.channel] : [])
		])
	];
	return `the log lacks what the table is read by (${channels.join(', ')})`;
}

interface Plan {
	stats: CellStats;
	/** Factor − 1 per cell; NaN where nothing is proposed. */
	delta: Float64Array;
	measured: Uint8Array;
	heldCells: number;
}

function planned(
	inputs: readonly Prepared[],
	table: FuelTable,
	correction: Correction,
	s: Strategy,
	noRemoval: boolean
): Plan | null {
	const data = pooled(inputs, table, correction);
	if (!data) return null;
	const stats = cellStats({ ...data, axes: table.axes, method: s.method });
	const count = stats.nx * stats.ny;
	const fixed = new Float64Array(count).fill(Number.NaN);
	const measured = new Uint8Array(count);
	let heldCells = 0;
	for (const c of nearestCells({ ...data, axes: table.axes, value: data.x, use: data.held }))
		if (c >= 0) fixed[c] = 0;
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
		fixed[c] =
			wanted >= 0
				? Math.min(wanted * s.addShare, s.maxPct / 100)
				: Math.max(wanted * s.removeShare, -s.maxRemovePct / 100, -s.maxPct / 100);
		measured[c] = 1;
	}
	const delta = s.carry ? carry(fixed, stats.nx, stats.ny) : fixed;
	// A cell with few samples isn't proven, but no neighbour's word takes fuel from it that its own samples ask for.
	for (let c = 0; c < count; c++)
		if (!measured[c] && delta[c]! < 0 && stats.n[c]! > 0)
			delta[c] = Math.max(delta[c]!, Math.min(0, stats.mean[c]! - 1));
	return { stats, delta, measured, heldCells };
}

/** The cells whose rounded value changes, with their reason; `null` when none does. */
function changeOf(table: FuelTable, plan: Plan, findings: string[], why?: string): ItemProposal | null {
	const { item, axes, rows } = table;
	const decimals = decimalsOf(item);
	const cells: CellChange[] = [];
	rows.forEach((row, r) =>
		row.forEach((from, c) => {
			const i = r * plan.stats.nx + c;
			const delta = plan.delta[i]!;
			if (!Number.isFinite(delta)) return;
			const raw = from * (1 + delta);
			const to = roundTo(Math.min(item.max ?? Infinity, Math.max(item.min ?? -Infinity, raw)), decimals);
			if (to === from) return;
			const isMeasured = plan.measured[i] === 1;
			const se = plan.stats.se[i]! * 100;
			cells.push({
				x: axes.x[c]!,
				y: axes.y[r]!,
				from,
				to,
				basis: isMeasured ? 'measured' : 'carried',
				samples: isMeasured ? Math.round(plan.stats.n[i]! * 10) / 10 : 0,
				se: isMeasured && Number.isFinite(se) ? Math.round(se * 1000) / 1000 : null
			});
		})
	);
	if (cells.length === 0) return null;
	const percents = cells.filter((c) => c.basis === 'measured').map((c) => 100 * (c.to / c.from - 1));
	const reason = percents.length
		? `Measured mixture against target in ${percents.length} cells: ${signed(Math.min(...percents))} to ${signed(Math.max(...percents))} %; ${cells.length - percents.length} neighbours carried over`
		: 'Carried over from neighbours';
	return { item: table.id, cells, reason: why ? `${why}. ${reason}` : reason, findings };
}
