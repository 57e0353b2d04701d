/** What goes out beside the numbers: the cautions that a change brings with it. */
import type { Change } from '../calibration/compare.ts';
import { actsOn, cautionOf } from '../calibration/items.ts';

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
