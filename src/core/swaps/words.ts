/** What a swap test says, in words, and what is cheapest to try next. */
import { fixed, signed } from '../format.ts';
import type { Answer, InBand, Judged } from './answer.ts';
import type { Swap } from './document.ts';

/** Whom a difference is about: the leaner of the two. */
function leaner(swap: Swap, mean: number): string {
	if (swap.kind === 'between-cylinders') return `cylinder ${swap.cylinders![mean > 0 ? 1 : 0]}`;
	return `bank ${mean > 0 ? 2 : 1}`;
}

const PART: Record<Swap['kind'], string> = {
	'injectors-side-to-side': 'the injectors',
	'lambda-side-to-side': 'the sensors',
	'lambda-moved': 'the sensor',
	'between-cylinders': 'the parts',
	repair: 'what was mended'
};

export function whyOf(swap: Swap, judged: Judged, at: InBand): string {
	const pct = (v: number) => `${signed(100 * Math.expm1(v))} %`;
	const numbers = `${pct(at.before.mean)} before, ${pct(at.after.mean)} after${at.back ? `, ${pct(at.back.mean)} with everything back` : ''}, in the ${at.band} band`;
	const who = leaner(swap, at.before.mean);
	const part = swap.what && swap.kind === 'between-cylinders' ? swap.what : PART[swap.kind];
	switch (judged.answer) {
		case 'moved':
			return swap.kind === 'lambda-side-to-side'
				? `It moved with the sensors (${numbers}): the one that showed ${who} lean reads wrong, and the bank was never lean.`
				: `It moved with ${part} (${numbers}): what sat at ${who} is the cause.`;
		case 'stayed':
			return swap.kind === 'repair'
				? `Nothing changed (${numbers}): it was not ${swap.what ?? 'that'}.`
				: `It stayed at ${who} (${numbers}): not ${part}.`;
		case 'gone':
			return swap.kind === 'repair'
				? `It is gone (${numbers}): ${swap.what ?? 'that'} was the cause.`
				: `It is gone (${numbers}): a connector or a seat that was disturbed, or two equal halves that cancel now.`;
		case 'two-parts':
			return `Two things do it (${numbers}): ${signed(judged.partPct!)} % went with ${part}, ${signed(judged.placePct!)} % stayed at its place.`;
		default:
			return Math.abs(100 * Math.expm1(at.before.mean)) < 4
				? `Undecided (${numbers}): under 4 % a day does as much.`
				: `Undecided (${numbers}): no answer fits surely enough.`;
	}
}

/** What to do after an answer, the cheapest first. Common practice, but for the order. */
export function nextOf(swap: Swap, answer: Answer, mean: number): string[] {
	const who = leaner(swap, mean);
	const other = swap.kind === 'between-cylinders' ? 'cylinder' : 'bank';
	const places = [
		`look for a leak in the exhaust before the sensor of ${who}, and at its intake gasket`,
		`look at the wiring and the connectors of ${who}`
	];
	switch (answer) {
		case 'moved':
			if (swap.kind === 'lambda-side-to-side')
				return ['replace the sensor that reads wrong', 'take back what was trimmed on its word'];
			return [
				swap.kind === 'between-cylinders'
					? 'replace or test what moved'
					: 'have that set of injectors flowed and numbered: one of it flows too little',
				'no table and no trim is made to fit it',
				'log again with the part renewed'
			];
		case 'stayed':
			if (swap.kind === 'injectors-side-to-side')
				return ['swap the lambda sensors from side to side and log again', ...places];
			if (swap.kind === 'lambda-side-to-side')
				return ['swap the injectors from side to side, where that was not done', ...places];
			return places;
		case 'gone':
			return swap.kind === 'repair'
				? ['log once more on another day before boost is raised']
				: ['swap back and log again: gone for good was a connector or a seat, there again two equal halves'];
		case 'two-parts':
			return [
				`renew or flow the part first: ${fixed(Math.abs(100 * Math.expm1(mean)), 1)} % of difference has two causes`,
				...places
			];
		default:
			return [
				`log the same ${other}s again for longer, in the same cells and on the same fuel`,
				'drive more load where the difference is larger'
			];
	}
}
