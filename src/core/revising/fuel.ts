/**
 * Proposal for what the fuel hangs on (fuel table, members of a blend, curve of the air meter), from the requirement of the engine as a
 * field: adding fuel where it is wanted, taking it out only as far as is certain, what is held and why.
 */
import { fixed, plural, signed, uncapital } from '../format.ts';
import { doubts, type CheckCode } from '../screening/codes.ts';
import type { Calibration, CurveItem, MapItem } from '../calibration/document.ts';
import { decimalsOf, findItem, numberOf, roundTo } from '../calibration/lookup.ts';
import { titleOf } from '../calibration/items.ts';
import type { Barring } from '../correction/barred.ts';
import { estimate, type Requirement } from '../correction/estimate.ts';
import { hasLearned, hear, isOpen, madeWith, silences, type Evidence } from '../correction/evidence.ts';
import { fuelItemOf, nodesOf, type FuelTable } from '../correction/nodes.ts';
import type { NodeChange } from '../correction/rules.ts';
import { leanerBank } from '../correction/samples.ts';
import { DEFAULT_STRATEGY, type Strategy } from '../correction/strategy.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { CellChange, Held, ItemProposal } from './proposal.ts';

/** What a correction of the fuel answers. */
const ANSWERED: readonly string[] = ['fuel.lean', 'fuel.rich', 'fuel.target'] satisfies CheckCode[];

/** Why fuel stays in where nobody saw enough to take it out. */
const NO_WITNESS: Record<Barring, string> = {
	'bank.unseen':
		'only one bank was seen, and of the other nobody knows whether it is leaner. Log with the sensor moved to the other bank',
	'sensor.alone':
		'the only sensor under boost has no pressure compensation, and such a one reads rich there. Log with an independent instrument beside it',
	'knock.real':
		'it knocks elsewhere in this log, and a richer mixture may be what keeps it quiet here. Timing first, then the fuel',
	'sensor.lambda': 'the lambda sources are apart at these speeds, and the leaner one is believed there',
	'cyl.lambda':
		'one cylinder is leaner than its bank there, and what the mean has too much is what that one lives on. Its own trim or injector first'
};

export interface FuelProposal {
	changes: ItemProposal[];
	held: Held[];
	offers: ItemProposal[];
	/** What it was worked out from; `null` where nothing could be. */
	requirement: Requirement | null;
}

/**
 * @param evidence logs made with `base`, and older ones
 * @param base the revision that is to be changed
 * @param trimsRaisedPct what the trims of cylinders are raised by in the same revision
 */
export function proposeFuel(
	evidence: readonly Evidence[],
	base: Calibration | null,
	strategy: Strategy = DEFAULT_STRATEGY,
	trimsRaisedPct: ReadonlyMap<number, number> = new Map()
): FuelProposal {
	const held: Held[] = [];
	const none: FuelProposal = { changes: [], held, offers: [], requirement: null };
	const tables = base ? nodesOf(base).tables : [];
	const id = base ? fuelItemOf(base) : 'fuel.table';
	if (!base || tables.length === 0) {
		held.push({
			item: id,
			reason: `the calibration has no ${base?.fuelModel === 'maf' ? 'curve of the air meter' : 'fuel table'}`
		});
		return none;
	}
	// What stands in the way is said by the logs of the revision itself; an older log that is in doubt doesn't speak at all.
	const made = evidence.filter((e) => madeWith(e, base));
	const own = made.length ? made : evidence;
	const findings = own.flatMap((e) => e.findings);
	const inputs = own.map((e) => e.input);
	const nothing = findings.find((f) => silences(f) || (isOpen(f) && doubts(f.code, 'pulse')));
	if (nothing) {
		const why = doubts(nothing.code, 'pulse')
			? 'the dead time of the injectors goes with it, and the mixture with that: nothing is proposed for the fuel'
			: 'nothing is proposed from this log';
		held.push({ item: id, code: nothing.code, reason: `${uncapital(nothing.title)}: ${why}` });
		return none;
	}
	const banks = findings.find((f) => f.code === 'bank.mismatch');
	if (banks && isOpen(banks)) {
		held.push({
			item: id,
			code: 'bank.mismatch',
			reason: `${banks.title}. Neither bank's word and no mean of them may move the table; find the cause first`
		});
		const stopGap = estimate(own, base, {
			strategy,
			noRemoval: true,
			feedLeaner: false,
			reading: leanerBank
		});
		const why = 'Stop-gap: what the leaner bank wants, given to both while the cause is looked for';
		if (stopGap)
			for (const table of stopGap.nodes.tables) {
				const change = changeOf(table, stopGap, strategy, ['bank.mismatch'], why);
				if (change) none.offers.push({ ...change, kind: 'stop-gap' });
			}
		return none;
	}
	const unsafe = findings.find((f) => isOpen(f) && doubts(f.code, 'reading'));
	const apart = Math.max(...inputs.flatMap((i) => i.believed.disagreementPct.filter(Number.isFinite)), 0);
	const noRemoval = unsafe
		? unsafe.code
		: inputs[0] && apart > inputs[0].profile.sourcesApartPct
			? 'sensor.lambda'
			: null;
	const requirement = estimate(evidence, base, {
		strategy,
		noRemoval: noRemoval !== null,
		feedLeaner: banks?.severity === 'watch',
		trimsRaisedPct
	});
	if (!requirement) {
		const silent = hear(evidence, base).find((h) => h.silent !== null)?.silent;
		for (const table of tables) held.push({ item: table.id, reason: silent ?? whyNot(inputs, table, base) });
		return none;
	}
	if (requirement.richPct > 0)
		held.push({
			item: id,
			reason: `taking fuel out of the loaded cells: the learned trim is over 2 % and it is not known whether the controller applies it at full load. They get what the leaner reading wants and may come out up to ${fixed(requirement.richPct, 1)} % rich; say on the vehicle's sheet whether it does`
		});
	if (requirement.knocks === 'little')
		held.push({
			item: id,
			code: 'knock.real',
			reason:
				'it knocks a little in this log: what would run leaner under load than now is asked about. Timing first, then the fuel'
		});
	const related = [...new Set(findings.filter((f) => ANSWERED.includes(f.code)).map((f) => f.code))];
	const changes = requirement.nodes.tables.flatMap((table) => {
		const lose = nodesFor(requirement, table).filter((n) => n.stays === 'removal-held');
		const kept = lose.filter((n) => n.barred === null);
		for (const code of Object.keys(NO_WITNESS) as Barring[]) {
			const count = lose.filter((n) => n.barred === code).length;
			if (count > 0)
				held.push({
					item: table.id,
					code,
					reason: `${plural(count, 'cell')} that would lose fuel: ${NO_WITNESS[code]}`
				});
		}
		if (noRemoval && kept.length > 0)
			held.push({
				item: table.id,
				code: noRemoval,
				reason: `${plural(kept.length, 'cell')} that would lose fuel: ${unsafe ? uncapital(unsafe.title) : `the lambda sources of a bank differ by ${fixed(apart, 1)} %`}`
			});
		return changeOf(table, requirement, strategy, related) ?? [];
	});
	return { changes, held, offers: levelOffer(requirement, related), requirement };
}

const nodesFor = (r: Requirement, t: FuelTable): NodeChange[] =>
	r.changes.slice(t.first, t.first + t.nx * t.ny);

function whyNot(inputs: readonly Prepared[], table: FuelTable, base: Calibration): string {
	if (inputs.every((i) => i.target.values === null)) return 'the lambda target is not known';
	if (inputs.every((i) => i.believed.banks.every((b) => b === null))) return 'no lambda reading is logged';
	const blend = nodesOf(base).blend;
	const channels = [
		...new Set([table.x.channel, ...(table.y ? [table.y.channel] : []), ...(blend ? [blend.channel] : [])])
	];
	return `the log lacks what the table is read by (${channels.join(', ')})`;
}

/** The cells whose rounded value changes, with their reason; `null` when none does. */
function changeOf(
	table: FuelTable,
	r: Requirement,
	strategy: Strategy,
	findings: string[],
	why?: string
): ItemProposal | null {
	const { id, rows, x, y, first, nx } = table;
	const item = findItem(r.base, id) as MapItem | CurveItem;
	const decimals = decimalsOf(item);
	const cells: CellChange[] = [];
	rows.forEach((row, k) =>
		row.forEach((from, c) => {
			const node = r.changes[first + k * nx + c]!;
			if (node.delta === 0 || node.basis === null || (node.ask && strategy.cautious)) return;
			const raw = from * (1 + node.delta);
			const to = roundTo(Math.min(item.max ?? Infinity, Math.max(item.min ?? -Infinity, raw)), decimals);
			if (to === from) return;
			const samples = r.field.support[first + k * nx + c]!;
			cells.push({
				x: x.points[c]!,
				y: y?.points[k] ?? 0,
				from,
				to,
				basis: node.basis,
				samples: node.basis === 'measured' ? Math.round(samples * 10) / 10 : 0,
				se: Math.round(node.sdTotal * 100_000) / 1000,
				...(node.ask ? { ask: true } : {}),
				...(node.upwards ? { upwards: true } : {})
			});
		})
	);
	if (cells.length === 0) return null;
	return { item: id, cells, reason: why ? `${why}. ${reasonOf(cells)}` : reasonOf(cells), findings };
}

function reasonOf(cells: readonly CellChange[]): string {
	const percents = cells.filter((c) => c.basis === 'measured').map((c) => 100 * (c.to / c.from - 1));
	const upwards = cells.filter((c) => c.upwards).length;
	const carried = cells.length - percents.length - upwards;
	return [
		percents.length
			? `Measured mixture against target in ${plural(percents.length, 'cell')}: ${signed(Math.min(...percents))} to ${signed(Math.max(...percents))} %`
			: 'Carried over from measured cells',
		...(carried && percents.length ? [`${plural(carried, 'neighbour')} carried over`] : []),
		...(upwards ? [`${plural(upwards, 'cell')} above what was driven taken along`] : [])
	].join('; ');
}

/** The whole error as one number of the global trim, where it is nothing but a level. */
function levelOffer(r: Requirement, findings: string[]): ItemProposal[] {
	const trim = findItem(r.base, 'fuel.trim');
	const from = numberOf(r.base, 'fuel.trim');
	if (!r.level || trim?.kind !== 'scalar' || from === null) return [];
	const { pct, se } = r.level;
	const to = roundTo((1 + from / 100) * (100 + pct) - 100, trim.decimals ?? 1);
	if (to === from || (pct < 0 && r.changes.some((n) => n.stays === 'removal-held'))) return [];
	return [
		{
			item: 'fuel.trim',
			cells: [
				{
					x: 0,
					y: 0,
					from,
					to,
					basis: 'measured',
					samples: r.samples.count,
					se: Math.round(se * 1000) / 1000
				}
			],
			reason: `All of it is off by ${signed(pct)} %, give or take ${fixed(se, 1)} %: today's air, perhaps. One number in "${titleOf(trim)}" instead of every cell`,
			findings,
			kind: 'level'
		}
	];
}

/** Whether what the logs learned has to be reset with a change of the fuel: it would count twice. */
export const asksForReset = (requirement: Requirement | null, changes: readonly ItemProposal[]): boolean =>
	changes.length > 0 && (requirement?.speaking.some(hasLearned) ?? false);
