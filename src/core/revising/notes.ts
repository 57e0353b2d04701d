/** What goes out beside the numbers: change notes from the reasons, and the cautions that a change brings with it. */
import type { Change } from '../calibration/compare.ts';
import type { Calibration } from '../calibration/document.ts';
import type { DraftEdit } from './edits.ts';
import type { DraftChange } from './revise.ts';

/** Change notes from the reasons of a draft, one line per reason; the tuner edits them before release. */
export function notesFrom(
	changes: readonly DraftChange[],
	edits: readonly DraftEdit[],
	calibration: Calibration
): string {
	const titleOf = (id: string) => calibration.items.find((i) => i.id === id)?.title ?? id;
	const byReason = new Map<string, { items: Set<string>; cells: number }>();
	for (const c of changes) {
		const reason = c.reason.trim();
		const entry = byReason.get(reason) ?? { items: new Set<string>(), cells: 0 };
		entry.items.add(titleOf(c.item));
		entry.cells++;
		byReason.set(reason, entry);
	}
	return [
		...[...byReason].map(
			([reason, { items, cells }]) =>
				`${[...items].join(', ')}: ${cells} cell${cells === 1 ? '' : 's'}. ${reason}`
		),
		...edits.map((e) =>
			e.kind === 'setting'
				? `${titleOf(e.item)}: now ${String(e.to)}. ${e.reason.trim()}`
				: `${titleOf(e.item)}: on other axes. ${e.reason.trim()}`
		)
	].join('\n');
}

const CAUTIONS: readonly { match: RegExp; risky?: boolean; text: string }[] = [
	{
		match: /^injector\./,
		text: 'The injector data changed. Before anything else: reset the learned trims, look over every joint for fuel leaks with the system under pressure (cold engine, ventilation, fire extinguisher at hand), and log on the ordinary fuel first.'
	},
	{
		match: /^spark\./,
		risky: true,
		text: 'Timing was added. Listen, and lift at once if it pings; send the log even if nothing was heard.'
	},
	{
		match: /^boost\./,
		risky: true,
		text: 'There is more boost. One pull first, then look at the plugs, and only then the rest of the plan.'
	},
	{
		match: /^(sensor|trigger)\./,
		text: 'A sensor or trigger setting changed. Let it idle first and check that the readings make sense before you drive.'
	},
	{
		match: /^limit\.rpm$/,
		risky: true,
		text: 'The rev limit is higher. Go there once, briefly, and send the log.'
	}
];

/** Instructions that a change brings by itself. */
export function cautionsFor(changes: readonly Change[]): string[] {
	return CAUTIONS.filter((c) =>
		changes.some((x) => c.match.test(x.item) && (!c.risky || x.class === 'riskier'))
	).map((c) => c.text);
}
