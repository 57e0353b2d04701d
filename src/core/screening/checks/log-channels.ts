/** `log.channels`: are the channels there that the checks, or the log request, need? */
import { pass, found } from '../measure.ts';
import { CHANNELS } from '../../channels/canonical.ts';
import type { Log } from '../../logfile/log.ts';
import { requestedChannels, type LogRequest } from '../../request.ts';
import { check } from '../check.ts';
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

/** What is missing, each reason said once. */
function lacking(needs: readonly Need[]): string {
	const reasons = [...new Set(needs.map((n) => n.why))];
	return `The log lacks ${reasons
		.map((why) => `${list(needs.filter((n) => n.why === why).map((n) => n.what))} (${why})`)
		.join('; ')}.`;
}

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
	plain: (f) => {
		const names = (fact: string) => f.facts?.[fact]?.value as string[] | undefined;
		const missing = names('missing') ?? [];
		return missing.length
			? `Not recorded: ${list(missing)}. Choose these in the logging program and record again.`
			: `Recorded too slowly: ${list(names('slow') ?? [])}. Choose fewer channels or a faster rate in the logging program.`;
	},
	run({ log, request }) {
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
		return found({
			code: 'log.channels',
			severity: vital ? 'fix' : 'watch',
			title: missing.length
				? `Not logged: ${few(byWeight.map((m) => m.what))}`
				: `Logged too slowly: ${few(slow.map((c) => c.what))}`,
			summary: [
				...(missing.length ? [lacking(byWeight)] : []),
				...(slow.length
					? [
							`Slower than the drive plan asks: ${list(
								slow.map((c) => `${c.what} ${fixed(c.rateHz, 1)} of ${c.minRateHz} Hz`)
							)}.`
						]
					: [])
			].join(' '),
			value: missing.length + slow.length,
			limit: 0,
			unit: 'channels',
			facts: {
				...(missing.length ? { missing: { value: byWeight.map((m) => m.what) } } : {}),
				...(slow.length
					? { slow: { value: slow.map((c) => `${c.what} ${fixed(c.rateHz, 1)} of ${c.minRateHz} Hz`) } }
					: {})
			},
			channels: [],
			causes: [
				...(unread > 0 ? [`a column of another name: ${unread} columns weren't recognised`] : []),
				'the channel was not chosen in the logging program',
				'the controller does not offer it'
			],
			next: [
				...(unread > 0 ? ['look through the unrecognised columns and assign what belongs'] : []),
				'ask for another log with these channels'
			]
		});
	}
});
