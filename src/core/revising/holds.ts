/**
 * What holds a revision back before it goes out. Holds have a direction: a revision that only adds fuel, takes timing or boost out, or
 * tightens protection gets through all of them. Every other hold is shown with its reason and can be answered by a person with a
 * written one that stays in the record; a few can't be answered at all.
 */
import { REASON_LENGTH } from './reason.ts';
import { fixed, list, plural } from '../format.ts';
import type { Change } from '../calibration/compare.ts';
import { axisSource, turner } from '../calibration/axes.ts';
import type { Axis, Calibration } from '../calibration/document.ts';
import { findItem, isOn, numberOf } from '../calibration/lookup.ts';
import { STANDARD_KPA } from '../calibration/resample.ts';
import { itemConversion } from '../calibration/item-units.ts';
import { actsOn, titleOf } from '../calibration/items.ts';
import { unusualIn } from '../calibration/unusual.ts';
import { provedAt, type FalseProof } from '../evidence/knock/proof.ts';
import { checkOf, doubts } from '../screening/codes.ts';
import type { Report } from '../screening/report.ts';
import { findingKey, type Finding } from '../screening/types.ts';
import { cliffsOf } from './cliffs.ts';
import type { Profile } from '../limits/profile.ts';
import type { Replay } from './replay-schema.ts';
import type { DraftEdit } from './edit-schema.ts';
import type { DraftChange } from './edit-schema.ts';

export interface Hold {
	/** Stable over reloads of the page: answers hang on it. */
	id: string;
	title: string;
	why: string;
	/** False: nothing that anybody writes opens it; the revision has to change. */
	answerable: boolean;
	/** Key of the finding that it rests on, where it rests on one. */
	finding?: string;
}

export interface HoldInput {
	/** Differences between parent and draft, each with its class. */
	changes: readonly Change[];
	parent: Calibration;
	draft: Calibration;
	cells: readonly DraftChange[];
	edits: readonly DraftEdit[];
	/** Screening of the newest log of the job; null without one. */
	report: Report | null;
	/** Keys of findings that a person answered: resolved, false alarm, or accepted with a reason. */
	answered: ReadonlySet<string>;
	/** What was answered to a finding when it was milder, or stood in a log of another revision: it is asked again, with this beside it. */
	earlier: Readonly<Record<string, string>>;
	/** Logs that say nothing yet: waiting or being read, or not readable. */
	unread: readonly { id: number; name: string; failed: boolean }[];
	/** The draft is made from an older revision than the newest: what it takes back of that one; `null` where it isn't. */
	undoes: { madeFrom: string; newest: string; titles: readonly string[] } | null;
	/** Logs behind proposed cells that a person took out since: what rests on them rests on nothing. */
	evidenceGone: readonly { id: number; name: string; reason: string }[];
	/** A log was made with the parent, and screened. */
	parentLogged: boolean;
	/** The parent is the calibration as it came, which nobody has released. */
	parentIsBaseline: boolean;
	/** The newest log with this draft; null where it can't be replayed. */
	replay: Replay | null;
	/** Why there is no replay though there is a log; empty where there is one, or no log. */
	replayProblem: string;
	falseProofs: readonly FalseProof[];
	/** What is in the tank, percent of ethanol; `null` where nobody knows. */
	ethanolPct: number | null;
	/** Typed readings of the newest log that differ from it: what was read, and in words by how much. */
	typed: readonly { id: number; kind: 'fuel' | 'timing'; source: string; words: string }[];
	/** Maxima of the revision before that passed a limit, typed without a log; null where none did. */
	maxima: { id: number; source: string; words: string } | null;
	/** The workshop never touches the sensitivity of a knock sensor. */
	neverSensitivity: boolean;
	/** How the tables stand to the closed file; null where the tables don't come from a tuner's program. */
	file: FileState | null;
	/** The vehicle's own limits, or the usual ones. */
	profile: Profile;
}

/** What is known of the file that goes to the customer. */
export interface FileState {
	/** A closed file is attached. */
	attached: boolean;
	/** Titles of tables that were pasted back and differ, with the older revision that they fit. */
	differ: readonly { title: string; fits: string | null }[];
	/** Titles of tables that nobody has pasted back yet. */
	unproved: readonly string[];
}

const isSafer = (c: Change) => c.class === 'safer' || c.class === 'neutral';

/** @returns holds in the order of their weight; empty where the revision may go out */
export function holdsOf(input: HoldInput): Hold[] {
	const { changes, cells } = input;
	const holds: Hold[] = [...never(input)];
	const called = (id: string) => titleOf(findItem(input.draft, id) ?? { id });
	const unexplained = [
		...new Set([...cells, ...input.edits].filter((c) => !c.reason.trim()).map((c) => c.item))
	];
	if (unexplained.length)
		holds.push({
			id: 'reason',
			title: 'Changes without a reason',
			why: `${unexplained.map(called).join(', ')}: give every change its reason first`,
			answerable: false
		});
	const ask: Ask = (id, title, why, finding) =>
		holds.push({ id, title, why, answerable: true, ...(finding ? { finding: findingKey(finding) } : {}) });
	// Another file than the tables say is none of the directions: it holds a safer revision as well.
	if (input.file) carried(input.file, ask);
	if (input.undoes) {
		const { madeFrom, newest, titles } = input.undoes;
		ask(
			'goes-back',
			`Goes back behind ${newest}`,
			titles.length
				? `it is made from ${madeFrom}, and what ${newest} has of these is undone: ${titles.join(', ')}`
				: `it is made from ${madeFrom}; nothing that came after it is undone`
		);
	}
	const resting = input.cells.filter((c) => c.basis !== 'hand').length;
	if (resting)
		for (const log of input.evidenceGone)
			ask(
				`evidence ${log.id}`,
				`Rests on a log that was excluded: ${log.name}`,
				`${plural(resting, 'cell')} were proposed from it, and it was excluded (${log.reason}): revert them, or say why they stand`
			);
	if (changes.every(isSafer)) return holds;
	const open = (input.report?.findings ?? []).filter((f) => !input.answered.has(findingKey(f)));
	for (const f of open)
		if (f.severity === 'stop' || f.severity === 'fix')
			ask(
				`finding ${findingKey(f)}`,
				f.severity === 'stop' ? `Open at stop: ${f.title}` : `To fix and not resolved: ${f.title}`,
				[f.summary, input.earlier[findingKey(f)]].filter(Boolean).join(' '),
				f
			);
	for (const log of input.unread)
		if (log.failed)
			ask(
				`unread ${log.id}`,
				`Not readable: ${log.name}`,
				'nobody knows what it says: read it again, exclude it, or reject it'
			);
		else
			holds.push({
				id: `reading ${log.id}`,
				title: `Being read: ${log.name}`,
				why: 'what it says may hold this revision: wait until it is screened',
				answerable: false
			});
	if (!input.parentLogged)
		ask(
			'log',
			input.parentIsBaseline ? 'No log yet' : 'No log since the last release',
			'nobody knows what the revision before does in this car'
		);
	for (const t of input.typed)
		if (changes.some((c) => actsOn(c.item, t.kind, ...(t.kind === 'fuel' ? ['target' as const] : []))))
			ask(`typed ${t.id}`, `A reading differs from the log: ${t.source}`, t.words);
	if (input.maxima && changes.some((c) => !isSafer(c)))
		ask(`maxima ${input.maxima.id}`, `Maxima beyond a limit: ${input.maxima.source}`, input.maxima.words);
	timing(input, open, ask);
	trigger(input, ask);
	fuel(input, open, ask);
	boost(input, ask);
	for (const b of input.replay?.beyond ?? [])
		ask(
			`replay ${b.what}`,
			`Replayed beyond a limit: ${b.what}`,
			`${fixed(b.value, b.unit === 'λ' ? 2 : 1)} ${b.unit} with this revision, the limit is ${b.limit} ${b.unit} (${b.severity})`
		);
	if (input.replayProblem)
		ask(
			'replay',
			'Not replayed',
			`nobody has seen what this revision would have done in the last log: ${input.replayProblem}`
		);
	sensitivity(input, ask);
	for (const odd of unusualIn(input.parent, input.draft))
		ask(`unusual ${odd.item}`, `Is that meant? ${odd.title}`, odd.why);
	for (const cliff of cliffsOf(input.parent, input.draft))
		ask(`cliff ${cliff.item}`, `A cliff in ${cliff.title}`, cliff.why);
	for (const c of changes)
		if (actsOn(c.item, 'protection') && c.class === 'riskier')
			ask(
				`limit ${c.item}`,
				`Protection loosened: ${called(c.item)}`,
				`${c.rule}: ${c.from ?? ''} to ${c.to ?? ''}`
			);
	return holds;
}

function carried({ attached, differ, unproved }: FileState, ask: Ask): void {
	if (!attached)
		ask(
			'no-file',
			'No closed file',
			'the controller is flashed from the tuner’s own program, and no file out of it is attached'
		);
	if (differ.length)
		ask(
			'file-differs',
			'The file is not what the tables say',
			differ.map(({ title, fits }) => (fits ? `${title} is that of ${fits}` : `${title} differs`)).join('; ')
		);
	if (unproved.length)
		ask(
			'not-proved',
			'Not proved',
			`nobody has pasted these back out of the file that goes out: ${unproved.slice(0, 8).join(', ')}${unproved.length > 8 ? ` and ${unproved.length - 8} more` : ''}`
		);
}

type Ask = (id: string, title: string, why: string, finding?: Finding) => void;

/** What no reason opens: knock control off, or its sensitivity at zero. */
function never({ parent, draft, neverSensitivity }: HoldInput): Hold[] {
	const holds: Hold[] = [];
	const enabled = (c: Calibration) => {
		const item = findItem(c, 'knock.enabled');
		return item?.kind === 'setting' || item?.kind === 'scalar' ? isOn(item.value) : true;
	};
	if (!enabled(draft) && enabled(parent))
		holds.push({
			id: 'knock-off',
			title: 'Knock control switched off',
			why: 'knock sensors are never switched off',
			answerable: false
		});
	const sensitivityNow = numberOf(draft, 'knock.sensitivity');
	const before = numberOf(parent, 'knock.sensitivity');
	if (sensitivityNow !== null && sensitivityNow <= 0 && before !== sensitivityNow)
		holds.push({
			id: 'sensitivity-zero',
			title: 'Knock sensitivity at zero',
			why: 'that is knock control switched off by another name',
			answerable: false
		});
	if (
		neverSensitivity &&
		sensitivityNow !== null &&
		before !== null &&
		sensitivityNow < before &&
		sensitivityNow > 0
	)
		holds.push({
			id: 'sensitivity-never',
			title: 'Knock sensitivity lowered',
			why: 'this workshop never touches it (ways of working): find what makes the noise',
			answerable: false
		});
	return holds;
}

const verifiedBy = (c: Calibration) => {
	const item = findItem(c, 'spark.baseVerified');
	return item?.kind === 'setting' ? String(item.value).trim() : '';
};

function timing({ parent, draft, cells, changes }: HoldInput, open: readonly Finding[], ask: Ask): void {
	const more = cells.filter((c) => actsOn(c.item, 'timing') && c.to > c.from);
	const riskier = changes.some((c) => actsOn(c.item, 'timing') && c.class === 'riskier');
	if (!more.length && !riskier) return;
	const known = findItem(draft, 'spark.baseVerified') ? verifiedBy(draft) : verifiedBy(parent);
	if (known === '')
		ask(
			'base-timing',
			'Base timing not verified',
			'timing is added, and nobody has checked with a timing light that the controller knows where the crank is'
		);
	const knock = open.find((f) => doubts(f.code, 'timing') && f.severity !== 'note');
	if (knock && (more.length === 0 || more.some((c) => touches(c, knock, draft))))
		ask('knock-timing', 'Timing added where knock is unresolved', knock.summary, knock);
}

/** Another trigger turns every table of the timing against the crank, whatever was verified before. */
function trigger({ parent, draft, changes }: HoldInput, ask: Ask): void {
	if (!changes.some((c) => actsOn(c.item, 'trigger'))) return;
	if (verifiedBy(draft) === '' || verifiedBy(draft) === verifiedBy(parent))
		ask(
			'trigger',
			'Trigger set-up changed',
			'every value of the timing tables is another crank angle from now on: base timing has to be checked again with a timing light, and it has to be written down who did it'
		);
}

/** Whether a changed cell lies in (or next to) the region of a finding, by whatever axis they have in common. */
function touches(c: DraftChange, f: Finding, calibration: Calibration): boolean {
	const item = findItem(calibration, c.item);
	if (item?.kind !== 'map') return true;
	const inside = (axis: Axis, v: number): boolean => {
		// A region is in the units of the channels, a table in those of the program that it comes from.
		const channel = axisSource(axis);
		const region = channel === 'rpm' ? f.region?.rpm : channel === 'map' ? f.region?.map : undefined;
		const canonicalOf = region && turner(axis, { channel }, STANDARD_KPA);
		if (!region || !canonicalOf) return true;
		const { points } = axis;
		const i = points.indexOf(v);
		const low = canonicalOf(points[Math.max(0, i - 1)]!);
		const high = canonicalOf(points[Math.min(points.length - 1, i + 1)]!);
		return high >= region[0] && low <= region[1];
	};
	return inside(item.x, c.x) && inside(item.y, c.y);
}

function fuel({ cells, changes }: HoldInput, open: readonly Finding[], ask: Ask): void {
	const removed =
		cells.some((c) => actsOn(c.item, 'fuel') && c.to < c.from) ||
		changes.some((c) => actsOn(c.item, 'fuel', 'target') && c.class === 'riskier');
	if (!removed) return;
	const doubt = open.find((f) => doubts(f.code, 'fuel') && f.severity !== 'note');
	if (doubt) ask('fuel-removed', `Fuel taken out under: ${doubt.title}`, doubt.summary, doubt);
}

function boost({ changes, draft, profile: { boostStepKpa }, parentLogged }: HoldInput, ask: Ask): void {
	const raised = changes.find((c) => actsOn(c.item, 'boost') && c.max > 0);
	if (!raised) return;
	// A step is counted in kPa, whatever unit the table is in.
	const item = findItem(draft, raised.item);
	const stepKpa = raised.max * (item && item.kind !== 'setting' ? itemConversion(item, 0).scale : 1);
	if (stepKpa > boostStepKpa)
		ask(
			'boost-step',
			'Boost raised by more than a step',
			`up to ${fixed(stepKpa, 0)} kPa more; a step is ${boostStepKpa} kPa`
		);
	if (!parentLogged)
		ask(
			'boost-proof',
			'Boost raised before the last step is proved',
			'no log and no plugs of the step before'
		);
}

function sensitivity({ parent, draft, falseProofs, ethanolPct, report, profile }: HoldInput, ask: Ask): void {
	const before = numberOf(parent, 'knock.sensitivity');
	const now = numberOf(draft, 'knock.sensitivity');
	if (before === null || now === null || now >= before || now <= 0) return;
	// The item has no regions: it is open when every place that retards is proved, on the fuel that is in the tank.
	const retards = (report?.findings ?? []).filter((f) => checkOf(f.code)?.section === 'knock' && f.region);
	const places = retards.length ? retards.map((f) => f.region) : [undefined];
	const open = places.filter((place) => !falseProofs.some((p) => provedAt(p, place, ethanolPct)));
	if (open.length)
		ask(
			'sensitivity-proof',
			'Knock sensitivity down without a finished proof',
			falseProofs.length === 0
				? 'only knock that is proved false opens this'
				: !falseProofs.some((p) => provedAt(p, undefined, ethanolPct))
					? 'what was proved false was proved on another fuel'
					: `it retards at ${list(open.flatMap((p) => (p?.rpm ? [`${p.rpm[0]} to ${p.rpm[1]} rpm`] : [])))} too, where nothing is proved: the sensitivity acts everywhere`
		);
	if (before - now > profile.sensitivityStepPct + 1e-9)
		ask(
			'sensitivity-step',
			`Knock sensitivity down by more than ${profile.sensitivityStepPct} points`,
			`${before} to ${now} %: ${profile.sensitivityStepPct} at a time, until it just goes away`
		);
}

/** Holds that stand in the way of a release: those that can't be answered, and those that nobody answered. */
export function standing(holds: readonly Hold[], answers: Readonly<Record<string, string>>): Hold[] {
	return holds.filter((h) => !h.answerable || (answers[h.id]?.trim() ?? '').length < REASON_LENGTH);
}
