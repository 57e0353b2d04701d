/** `bank.unseen`: two banks, and only one of them (or only the common pipe) has a lambda sensor in this log. */
import { bankCount } from '../../vehicle/facts.ts';
import { raisesBoost } from '../raises-boost.ts';
import { finding, found, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

/** `raised`: this revision asks for more boost than the first. */
type Facts = { blind: number[]; raised: boolean };

export const bankUnseen = check({
	code: 'bank.unseen',
	swaps: ['lambda-moved'],
	title: 'Banks that are seen',
	section: 'banks',
	needs: ['layout', 'lambdaSensors'],
	units: { blind: 'bank' },
	run(input) {
		const { vehicle, believed } = input;
		if (bankCount(vehicle) === 1) return pass('The engine has one bank.');
		const seen = believed.sources.map((list) => list.some((s) => s.site !== 'collector'));
		if (believed.sources.every((list) => list.length === 0))
			return notChecked('no lambda reading is logged', 'lambda.b1');
		if (seen.every(Boolean)) return pass('Each bank has a lambda sensor of its own.');
		const raised = raisesBoost(input);
		const blind = seen.map((s, b) => (s ? 0 : b + 1)).filter(Boolean);
		return found(
			finding(input, {
				severity: raised ? 'fix' : 'watch',
				facts: { blind, raised },
				value: blind.length,
				limit: 0,
				unit: 'banks',
				...(blind.length === 1 ? { bank: blind[0] as 1 | 2 } : {}),
				channels: believed.sources.flatMap((list) => list.map((s) => s.channel))
			})
		);
	},
	words: ({ facts: { blind, raised } }: Told<Facts>) => ({
		title: blind.length === 2 ? 'The banks are seen together only' : `Bank ${blind[0]} is not seen`,
		summary: `This log shows ${blind.length === 2 ? 'both banks only in the common pipe' : `only bank ${blind[0] === 1 ? 2 : 1}`}: a lean bank would stay hidden.${raised ? ' This revision raises boost.' : ''}`,
		causes: ['one sensor fitted', 'the second sensor was not recorded'],
		next: ['ask for a log with the sensor moved to the other bank', 'no more boost before that']
	})
});
