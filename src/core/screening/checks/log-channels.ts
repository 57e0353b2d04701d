/** `log.channels`: are the channels there that the checks, or the log request, need? */
import { finding, found, pass } from '../measure.ts';
import { CHANNELS } from '../../channels/canonical.ts';
import type { Log } from '../../logfile/log.ts';
import { requestedChannels, type LogRequest } from '../../request.ts';
import { check, type Told } from '../check.ts';
import { factsOf } from '../types.ts';
import { fixed, list } from '../../format.ts';

interface Need {
	what: string;
	anyOf: RegExp;
	/** A check of mixture, banks or knock hangs on it. */
	vital: boolean;
	why: string;
}

const NEEDS: readonly Need[] = [
	{ what: 'engine speed', anyOf: /^rpm$/, vital: true, why: 'nothing can be placed without it' },
	{
		what: 'a load channel (manifold pressure, air mass or air flow)',
		anyOf: /^(map|airmass|maf)$/,
		vital: true,
		why: 'cells and boost need it'
	},
	{
		what: 'a lambda reading',
		anyOf: /^lambda\.(b[12]|ref2?|dyno|cyl\d+)$/,
		vital: true,
		why: 'mixture and banks need it'
	},
	{ what: 'throttle or pedal', anyOf: /^(tps|pedal)$/, vital: true, why: 'full throttle is found by it' },
	{
		what: 'knock retard',
		anyOf: /^knock(Retard(\.cyl\d+)?|Monitor)$/,
		vital: true,
		why: 'knock can only be seen there'
	},
	{ what: 'coolant temperature', anyOf: /^ect$/, vital: false, why: 'warm-up is told by it' }
];

/** Channels that a check of sections D to F computes with. */
const VITAL = /^(rpm|map|airmass|maf|tps|pedal|lambda\..*|stft\..*|ltft\..*|knock.*|spark.*|misfire\..*)$/;

/** A rate within this share of what was asked for is as asked: loggers drop a sample now and then. */
const RATE_SLACK = 0.8;

/** Channels that came slower than the drive plan asks. */
function tooSlow(log: Log, request: LogRequest | null) {
	return (request?.channels ?? []).flatMap((c) => {
		if (typeof c === 'string' || c.minRateHz === undefined) return [];
		const channel = log.channels.find((l) => l.id === c.id);
		if (!channel || channel.rateHz === 0 || channel.rateHz >= c.minRateHz * RATE_SLACK) return [];
		return [
			{
				what: CHANNELS.get(c.id)?.title.toLowerCase() ?? c.id,
				rateHz: channel.rateHz,
				minRateHz: c.minRateHz
			}
		];
	});
}

type Facts = {
	/** What is missing, and what each is wanted for; what matters most first. */
	missing?: string[];
	why?: string[];
	/** What came too slowly, how fast it came, and how fast it was asked for. */
	slow?: string[];
	rateHz?: number[];
	askedHz?: number[];
	/** Columns that weren't recognised. */
	unread: number;
};

/** What is missing, each reason said once. */
function lacking(missing: readonly string[], why: readonly string[]): string {
	return `The log lacks ${[...new Set(why)]
		.map((reason) => `${list(missing.filter((_, i) => why[i] === reason))} (${reason})`)
		.join('; ')}.`;
}

/** A report of an older version has the rates in the names. */
const slowSaid = ({ slow = [], rateHz, askedHz }: Partial<Facts>): string[] =>
	slow.map((what, i) => (rateHz && askedHz ? `${what} ${fixed(rateHz[i]!, 1)} of ${askedHz[i]} Hz` : what));

/** What is named first: knock, then the mixture, then what else a check of danger needs. */
const weight = (n: Need) =>
	Number(n.vital) + (/knock/.test(n.anyOf.source) ? 2 : /lambda/.test(n.anyOf.source) ? 1 : 0);

const NAMED = 3;

/** The first few by name, the rest by number: a title is one line. */
function few(names: readonly string[]): string {
	return names.length <= NAMED + 1
		? list(names)
		: `${names.slice(0, NAMED).join(', ')} and ${names.length - NAMED} more`;
}

export const logChannels = check({
	code: 'log.channels',
	title: 'Channels',
	section: 'fit',
	advice: 'log',
	units: { rateHz: 'Hz', askedHz: 'Hz', unread: 'columns' },
	plain: (f) => {
		const facts = factsOf<Facts>(f);
		const missing = facts.missing ?? [];
		return missing.length
			? `Not recorded: ${list(missing)}. Choose these in the logging program and record again.`
			: `Recorded too slowly: ${list(slowSaid(facts))}. Choose fewer channels or a faster rate in the logging program.`;
	},
	run(input) {
		const { log, request } = input;
		const have = log.channels.map((c) => c.id);
		const asked = request ? requestedChannels(request) : [];
		const needs: Need[] = asked.length
			? asked.map((id) => ({
					what: CHANNELS.get(id)?.title.toLowerCase() ?? id,
					anyOf: new RegExp(`^${id.replaceAll('.', '\\.')}$`),
					vital: VITAL.test(id),
					why: 'the drive plan asks for it'
				}))
			: [...NEEDS];
		// One source of lambda is enough to begin with, whichever was asked for.
		const anyLambda = have.some((id) => /^lambda\.(b[12]|ref2?|dyno|cyl\d+)$/.test(id));
		const missing = needs.filter((n) => {
			if (have.some((id) => n.anyOf.test(id))) return false;
			return !(asked.length && anyLambda && /lambda\\\.(b[12]|ref2?|dyno)/.test(n.anyOf.source));
		});
		const slow = tooSlow(log, request);
		if (missing.length + slow.length === 0)
			return pass(
				asked.length
					? `All ${asked.length} channels of the drive plan are logged.`
					: 'Engine speed, load, lambda, throttle, knock and coolant are logged.'
			);
		const byWeight = [...missing].sort((a, b) => weight(b) - weight(a));
		const vital = missing.some((m) => m.vital);
		const unread = log.unmapped.filter((u) => !u.private).length;
		return found(
			finding(input, {
				severity: vital ? 'fix' : 'watch',
				facts: {
					...(missing.length
						? { missing: byWeight.map((m) => m.what), why: byWeight.map((m) => m.why) }
						: {}),
					...(slow.length
						? {
								slow: slow.map((c) => c.what),
								rateHz: slow.map((c) => c.rateHz),
								askedHz: slow.map((c) => c.minRateHz)
							}
						: {}),
					unread
				},
				value: missing.length + slow.length,
				limit: 0,
				unit: 'channels',
				channels: []
			})
		);
	},
	words: ({ facts }: Told<Facts>) => {
		const { missing = [], why = [], slow = [], unread } = facts;
		return {
			title: missing.length ? `Not logged: ${few(missing)}` : `Logged too slowly: ${few(slow)}`,
			summary: [
				...(missing.length ? [lacking(missing, why)] : []),
				...(slow.length ? [`Slower than the drive plan asks: ${list(slowSaid(facts))}.`] : [])
			].join(' '),
			causes: [
				...(unread > 0 ? [`a column of another name: ${unread} columns weren't recognised`] : []),
				'the channel was not chosen in the logging program',
				'the controller does not offer it'
			],
			next: [
				...(unread > 0 ? ['look through the unrecognised columns and assign what belongs'] : []),
				'ask for another log with these channels'
			]
		};
	}
});
