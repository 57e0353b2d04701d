/** What goes out beside the numbers: change notes from the reasons, and the cautions that a change brings with it. */
import { plural } from '../format.ts';
import type { Change } from '../calibration/compare.ts';
import { findItem, type Calibration } from '../calibration/document.ts';
import { actsOn, cautionOf, titleOf } from '../calibration/items.ts';
import type { DraftEdit } from './edits.ts';
import type { DraftChange } from './revise.ts';

const SAID: Readonly<Record<DraftEdit['kind'], (e: DraftEdit) => string>> = {
	setting: (e) => (e.kind === 'setting' ? `now ${String(e.to)}` : ''),
	axes: () => 'on other axes',
	added: () => 'added'
};

/** Change notes from the reasons of a draft, one line per reason; the tuner edits them before release. */
export function notesFrom(
	changes: readonly DraftChange[],
	edits: readonly DraftEdit[],
	calibration: Calibration
): string {
	const called = (id: string) => titleOf(findItem(calibration, id) ?? { id });
	const byReason = new Map<string, { items: Set<string>; cells: number }>();
	for (const c of changes) {
		const reason = c.reason.trim();
		const entry = byReason.get(reason) ?? { items: new Set<string>(), cells: 0 };
		entry.items.add(called(c.item));
		entry.cells++;
		byReason.set(reason, entry);
	}
	return [
		...[...byReason].map(
			([reason, { items, cells }]) => `${[...items].join(', ')}: ${plural(cells, 'cell')}. ${reason}`
		),
		...edits.map((e) => `${called(e.item)}: ${SAID[e.kind](e)}. ${e.reason.trim()}`)
	].join('\n');
}

const RESET_TRIMS =
	'The learned trims were over 2 % in the logs behind this revision, and the table holds that now. Reset them before the first drive, and log the first warm minutes: what is learnt twice is fuelled twice.';

/**
 * Instructions that a change brings by itself, each once.
 * @param resetTrims what the learned trims held stands in the table now
 */
export function cautionsFor(changes: readonly Change[], resetTrims = false): string[] {
	const said = changes.flatMap((c) => {
		const caution = cautionOf(c.item);
		return caution && (!caution.risky || c.class === 'riskier') ? [caution.text] : [];
	});
	return [
		...new Set(resetTrims && changes.some((c) => actsOn(c.item, 'fuel')) ? [...said, RESET_TRIMS] : said)
	];
}
