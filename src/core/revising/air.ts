/**
 * The air model from the meter, or the meter's curve from the model: whichever of both the mixture doesn't trust, as one field over all members
 * of a blend. Where the mixture tells, it is proposed; where nothing tells, it is offered to a person who knows which of both is right.
 */
import { blendOf } from '../calibration/along.ts';
import type { Calibration } from '../calibration/document.ts';
import { decimalsOf, findItem, membersOf, roundTo } from '../calibration/lookup.ts';
import { capped } from '../correction/cap.ts';
import type { Evidence } from '../correction/evidence.ts';
import { fitField } from '../correction/field.ts';
import { itemNodes, steps, type FuelTable } from '../correction/nodes.ts';
import { SCALES } from '../correction/prior.ts';
import { measuredNodes } from '../correction/rules.ts';
import { atLeast, samplesOf, type Reading, type Samples } from '../correction/samples.ts';
import type { Strategy } from '../correction/strategy.ts';
import { CONFIRMS_PCT, modelOverMeter } from '../evidence/air-ratio.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { signed } from '../format.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';

/** Which of the two readings of the air is believed. */
export type Trusted = 'meter' | 'model';

export interface AirAnswer {
	changes: ItemProposal[];
	offers: ItemProposal[];
	held: Held[];
}

/** Smaller errors than this are the scatter of two readings of air, percent. */
const QUIET_PCT = 1;
/** How far beyond what was driven a correction fades to nothing, in steps of 500 rpm and 20 kPa. */
const FADE_STEPS = 2;

/** A table that was edited may step from one cell to the next, which what an engine wants doesn't: the field bends more easily. Own choice. */
const EDITED = { ...SCALES, tau1: 4 * SCALES.tau1, tau2: 6 * SCALES.tau2 };

/** Trusted over untrusted: by what the untrusted side is multiplied. */
const ratioFor =
	(trusted: Trusted): Reading =>
	(input) => {
		const ratio = modelOverMeter(input);
		return trusted === 'meter' ? (ratio?.map((v) => 1 / v) ?? null) : ratio;
	};

/** What the two readings of the air come from in a calibration. */
const airOf = (c: Calibration): string =>
	JSON.stringify([
		...[...membersOf(c, 'air.model'), 'maf.curve'].map((id) => findItem(c, id) ?? null),
		blendOf(c, 'air.model')
	]);

/** Which side the logs' fuel was computed from, and so which one a right mixture confirms. */
function trustedBy(base: Calibration): Trusted | null {
	if (base.fuelModel === 'maf') return 'meter';
	return base.fuelModel === 'speed-density' ? 'model' : null;
}

const ITEM: Record<Trusted, string> = { meter: 'air.model', model: 'maf.curve' };
const NAME: Record<Trusted, string> = { meter: 'the air meter', model: 'the air model' };

/**
 * @param base the revision that is to be changed, in canonical units
 * @returns nothing where one of both isn't logged, has no table, or they agree
 */
export function proposeAir(
	evidence: readonly Evidence[],
	base: Calibration | null,
	strategy: Strategy
): AirAnswer {
	const now = base && airOf(base);
	// A log of another model or another meter's curve says nothing of these: what was corrected since would be corrected twice.
	const found = evidence.filter(
		({ input: { calibration }, findings }) =>
			calibration !== null && airOf(calibration) === now && findings.some((f) => f.code === 'air.model')
	);
	if (!base || found.length === 0) return { changes: [], offers: [], held: [] };
	const inputs = found.map((e) => e.input);
	const computed = trustedBy(base);
	const answers = (computed ? [computed] : (['meter', 'model'] as const)).map((trusted) => ({
		trusted,
		...correct(inputs, base, trusted, strategy, computed !== null)
	}));
	const items = answers.flatMap((a) =>
		a.tables.map((t): ItemProposal => ({
			item: t.item,
			cells: t.cells,
			reason: reasonFor(a.trusted, t.cells, computed),
			findings: ['air.model'],
			...(computed ? {} : { kind: 'air' as const })
		}))
	);
	const held = answers.flatMap((a): Held[] =>
		a.doubted
			? [
					{
						item: ITEM[a.trusted],
						code: 'air.model',
						reason: `the mixture is off as well where both differ: neither is proved right there. Fuel first, from ${NAME[a.trusted]}`
					}
				]
			: []
	);
	return { changes: computed ? items : [], offers: computed ? [] : items, held };
}

function reasonFor(trusted: Trusted, cells: readonly CellChange[], computed: Trusted | null): string {
	const pct = cells.map((c) => 100 * (c.to / c.from - 1));
	const [least, most] = [Math.min(...pct), Math.max(...pct)];
	const size = most - least < 1 ? signed(most, 0) : `${signed(least, 0)} to ${signed(most, 0)}`;
	const by =
		computed === null
			? `if ${NAME[trusted]} is the one that is right`
			: `the mixture is right with fuel computed from ${NAME[trusted]}`;
	return `${size} % to follow ${NAME[trusted]}: ${by}. ${
		computed === null
			? 'Whether fuel follows depends on what the controller computes it from'
			: `No fuel follows: it is computed from ${NAME[trusted]}`
	}`;
}

interface Corrected {
	tables: { item: string; cells: CellChange[] }[];
	/** Somewhere the mixture doesn't confirm the trusted side. */
	doubted: boolean;
}

function correct(
	inputs: readonly Prepared[],
	base: Calibration,
	trusted: Trusted,
	strategy: Strategy,
	byMixture: boolean
): Corrected {
	const nodes = itemNodes(base, ITEM[trusted]);
	const logs = inputs.map((input) => ({ input, against: null }));
	const samples = nodes.count ? samplesOf(logs, nodes, ratioFor(trusted), strategy.method) : null;
	if (!samples) return { tables: [], doubted: false };
	const { baroKpa } = inputs[0]!.segments;
	const field = capped(fitField(samples, nodes, logs.length, baroKpa, EDITED).field, samples);
	const confirmed = byMixture ? confirmedNodes(inputs, samples, nodes.count) : null;
	const measured = measuredNodes(field, strategy);
	let doubted = false;
	const tables = nodes.tables.flatMap((t) => {
		const item = findItem(base, t.id);
		if (!item || item.kind === 'setting' || item.kind === 'scalar') return [];
		const weights = faded(t, measured, baroKpa);
		const cells: CellChange[] = [];
		t.rows.forEach((row, r) =>
			row.forEach((from, c) => {
				const at = t.first + r * t.nx + c;
				const share = weights[r * t.nx + c]!;
				const d = field.d[at]! * share;
				if (100 * Math.abs(d) < QUIET_PCT || Math.abs(field.d[at]!) < field.sd[at]!) return;
				if (confirmed && confirmed[at] === 0) {
					doubted = true;
					return;
				}
				const to = roundTo(from * (1 + d), decimalsOf(item));
				if (to === from) return;
				cells.push({
					x: t.x.points[c]!,
					y: t.y ? t.y.points[r]! : 0,
					from,
					to,
					basis: measured[at] ? 'measured' : 'carried',
					samples: Math.round(field.support[at]! * 10) / 10,
					se: Math.round(1000 * field.sd[at]!) / 10
				});
			})
		);
		return cells.length ? [{ item: t.id, cells }] : [];
	});
	return { tables, doubted };
}

/** Per node 0 where the mixture of its own samples isn't right, 1 elsewhere: where nobody sees the mixture, its neighbours' word counts. */
function confirmedNodes(inputs: readonly Prepared[], s: Samples, count: number): Uint8Array {
	const wanted = inputs.map((input) => atLeast(input));
	const sum = new Float64Array(count);
	const weight = new Float64Array(count);
	for (let i = 0; i < s.count; i++) {
		const k = wanted[s.log[i]!]?.[s.index[i]!] ?? Number.NaN;
		if (k !== k) continue;
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) {
			sum[s.node[e]!]! += s.b[e]! * (k - 1);
			weight[s.node[e]!]! += s.b[e]!;
		}
	}
	return Uint8Array.from(sum, (v, n) =>
		weight[n]! > 0 && 100 * Math.abs(v / weight[n]!) > CONFIRMS_PCT ? 0 : 1
	);
}

/**
 * 1 at measured nodes, falling to 0 within a few steps beyond them.
 * @returns one per node of the table, row by row
 */
function faded(t: FuelTable, measured: Uint8Array, baroKpa: number): Float64Array {
	const x = steps(t.x, baroKpa);
	const y = t.y ? steps(t.y, baroKpa) : new Float64Array(1);
	const out = new Float64Array(t.nx * t.ny);
	for (let r = 0; r < t.ny; r++)
		for (let c = 0; c < t.nx; c++) {
			let near = Infinity;
			for (let rr = 0; rr < t.ny; rr++)
				for (let cc = 0; cc < t.nx; cc++)
					if (measured[t.first + rr * t.nx + cc])
						near = Math.min(near, Math.hypot(x[c]! - x[cc]!, y[r]! - y[rr]!));
			out[r * t.nx + c] = Math.max(0, 1 - near / FADE_STEPS);
		}
	return out;
}
