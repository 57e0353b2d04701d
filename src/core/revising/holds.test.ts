import { calibrationWith } from '../testing/hand-made.ts';
import type { FalseProof } from '../evidence/knock/proof.ts';
import type { ProofRegion } from '../evidence/knock/proof-region.ts';
import { profileOf } from '../limits/profile.ts';
import { describe, expect, it } from 'vitest';
import { compare } from '../calibration/compare.ts';
import { type Calibration } from '../calibration/document.ts';
import type { Report } from '../screening/report.ts';
import type { Finding } from '../screening/types.ts';
import { holdsOf, standing, type Hold, type HoldInput } from './holds.ts';
import type { DraftChange } from './edit-schema.ts';
import { byHand, grouped, withChanges } from './changes.ts';

const x = { channel: 'rpm', points: [2000, 4000, 6000] };
const y = { channel: 'map', points: [60, 100, 160] };
const map = (id: string, v: number) => ({
	id,
	kind: 'map',
	x,
	y,
	values: y.points.map(() => x.points.map(() => v))
});
const parent = calibrationWith([
	map('fuel.table', 80),
	map('spark.table', 20),
	map('lambda.target', 0.85),
	{
		id: 'boost.target',
		kind: 'curve',
		x: { channel: 'rpm', points: [2000, 4000, 6000] },
		values: [150, 160, 160]
	},
	{ id: 'limit.rpm', kind: 'scalar', value: 6800 },
	{ id: 'knock.sensitivity', kind: 'scalar', value: 100 },
	{ id: 'knock.enabled', kind: 'setting', value: true },
	{ id: 'spark.baseVerified', kind: 'setting', value: '2026-05-02, by the workshop' },
	{ id: 'trigger.offset', kind: 'setting', value: '-12' }
]);
const change = (
	item: string,
	cx: number,
	cy: number,
	from: number,
	to: number,
	reason = 'because'
): DraftChange => byHand(item, { x: cx, y: cy }, from, to, reason);
const finding = (code: string, severity: Finding['severity'], more: Partial<Finding> = {}): Finding => ({
	code,
	severity,
	title: `title of ${code}`,
	summary: 's',
	channels: [],
	causes: [],
	next: [],
	...more
});
const reportOf = (...findings: Finding[]) => ({ findings }) as unknown as Report;

/** False everywhere, on petrol. */
const EVERYWHERE: FalseProof = {
	region: { rpm: [0, 9000], mapKpa: [0, 400] },
	ethanolPct: 5,
	meanRetardDeg: 0.3
};

function wholeHolds(
	cells: DraftChange[],
	more: Partial<HoldInput> = {},
	draft: Calibration = withChanges(parent, grouped(cells))
): Hold[] {
	return holdsOf({
		changes: compare(more.parent ?? parent, draft).changes,
		parent,
		draft,
		cells,
		edits: [],
		replayProblem: '',
		report: reportOf(),
		answered: new Set(),
		earlier: {},
		unread: [],
		parentLogged: true,
		undoes: null,
		evidenceGone: [],
		parentIsBaseline: false,
		replay: null,
		typed: [],
		maxima: null,
		neverSensitivity: false,
		falseProofs: [],
		ethanolPct: 5,
		file: null,
		profile: profileOf(),
		...more
	});
}
const holds = (...input: Parameters<typeof wholeHolds>): string[] => wholeHolds(...input).map((h) => h.id);
const setting = (id: string, value: string | boolean): Calibration => ({
	...parent,
	items: parent.items.map((i) => (i.id === id && i.kind === 'setting' ? { ...i, value } : i))
});
const lessTiming = change('spark.table', 4000, 160, 20, 18);
const moreTiming = change('spark.table', 4000, 160, 20, 21);
const lessFuel = change('fuel.table', 4000, 60, 80, 78);
const moreFuel = change('fuel.table', 4000, 160, 80, 84);
const stop = reportOf(finding('bank.mismatch', 'stop', { bank: 2 }), finding('knock.real', 'fix'));

it('a hold names the finding that it rests on by its key', () => {
	const held = wholeHolds([lessFuel, moreTiming], { report: stop });
	expect(Object.fromEntries(held.flatMap((h) => (h.finding ? [[h.id, h.finding]] : [])))).toEqual({
		'finding bank.mismatch b2': 'bank.mismatch b2',
		'finding knock.real': 'knock.real',
		'knock-timing': 'knock.real',
		'fuel-removed': 'bank.mismatch b2'
	});
});

describe('a file out of the tuner’s own program', () => {
	const file = (more: Partial<NonNullable<HoldInput['file']>> = {}) => ({
		attached: true,
		differ: [],
		unproved: [],
		...more
	});
	it('holds a safer revision as well: what goes out may be another file', () => {
		expect(holds([moreFuel], { file: file({ attached: false, unproved: ['VE'] }) })).toEqual([
			'no-file',
			'not-proved'
		]);
		expect(holds([moreFuel], { file: file({ differ: [{ title: 'VE', fits: 'R0' }] }) })).toEqual([
			'file-differs'
		]);
		expect(holds([moreFuel], { file: file() })).toEqual([]);
	});
	it('says which older revision it is', () => {
		const [hold] = holdsOf({
			changes: [],
			parent,
			draft: parent,
			cells: [],
			edits: [],
			replayProblem: '',
			report: null,
			answered: new Set(),
			earlier: {},
			unread: [],
			parentLogged: true,
			undoes: null,
			evidenceGone: [],
			parentIsBaseline: false,
			replay: null,
			typed: [],
			maxima: null,
			neverSensitivity: false,
			falseProofs: [],
			ethanolPct: 5,
			file: file({
				differ: [
					{ title: 'VE', fits: 'R2' },
					{ title: 'Timing', fits: null }
				]
			}),
			profile: profileOf()
		});
		expect(hold).toMatchObject({ answerable: true, why: 'VE is that of R2; Timing differs' });
	});
});

describe('holds have a direction', () => {
	it('what is only richer, less timing, less boost, tighter always gets through', () => {
		const cells = [
			lessTiming,
			moreFuel,
			change('boost.target', 4000, 0, 160, 150),
			change('limit.rpm', 0, 0, 6800, 6500),
			change('lambda.target', 4000, 160, 0.85, 0.82)
		];
		expect(holds(cells, { report: stop, parentLogged: false })).toEqual([]);
	});
	it('nothing stands in the way of a riskier one after a clear log', () => {
		expect(holds([moreTiming, lessFuel])).toEqual([]);
	});
});

describe('each hold', () => {
	const cases: [string, DraftChange[], Partial<HoldInput>, string][] = [
		['an open stop', [lessFuel], { report: reportOf(finding('inj.duty', 'stop')) }, 'finding inj.duty'],
		[
			'an unresolved fix',
			[lessFuel],
			{ report: reportOf(finding('temp.coolant', 'fix')) },
			'finding temp.coolant'
		],
		['no log since the last release', [lessFuel], { parentLogged: false }, 'log'],
		[
			'timing added where it knocks',
			[moreTiming],
			{
				report: reportOf(
					finding('knock.unclear', 'watch', { region: { rpm: [3900, 4200], map: [150, 165] } })
				)
			},
			'knock-timing'
		],
		[
			'fuel taken out while the banks disagree',
			[lessFuel],
			{ report: reportOf(finding('bank.mismatch', 'watch')) },
			'fuel-removed'
		],
		[
			'fuel taken out on a doubted sensor',
			[lessFuel],
			{ report: reportOf(finding('sensor.lambda', 'watch')) },
			'fuel-removed'
		],
		[
			'fuel taken out while it misfires',
			[lessFuel],
			{ report: reportOf(finding('misfire', 'watch')) },
			'fuel-removed'
		],
		['boost by more than a step', [change('boost.target', 4000, 0, 160, 200)], {}, 'boost-step'],
		[
			'boost before a log of the step before',
			[change('boost.target', 4000, 0, 160, 170)],
			{ parentLogged: false },
			'boost-proof'
		],
		['sensitivity without a proof', [change('knock.sensitivity', 0, 0, 100, 95)], {}, 'sensitivity-proof'],
		[
			'sensitivity with a proof that found it real',
			[change('knock.sensitivity', 0, 0, 100, 95)],
			{},
			'sensitivity-proof'
		],
		[
			'sensitivity by too much',
			[change('knock.sensitivity', 0, 0, 100, 94)],
			{ falseProofs: [EVERYWHERE] },
			'sensitivity-step'
		],
		[
			'sensitivity to zero',
			[change('knock.sensitivity', 0, 0, 100, 0)],
			{ falseProofs: [EVERYWHERE] },
			'sensitivity-zero'
		],
		['a change without a reason', [change('fuel.table', 4000, 60, 80, 84, ' ')], {}, 'reason'],
		['a cliff', [change('spark.table', 4000, 160, 20, 28)], {}, 'cliff spark.table'],
		['a rev limit raised', [change('limit.rpm', 0, 0, 6800, 7000)], {}, 'limit limit.rpm']
	];
	it.each(cases)('%s', (_, cells, more, id) => {
		expect(holds(cells, more)).toContain(id);
	});
	it('timing added without a verified base', () => {
		const unverified = setting('spark.baseVerified', '');
		const draft = withChanges(unverified, grouped([moreTiming]));
		expect(holds([moreTiming], { parent: unverified }, draft)).toContain('base-timing');
		// Taking timing out needs no light.
		expect(
			holds(
				[lessTiming, lessFuel],
				{ parent: unverified },
				withChanges(unverified, grouped([lessTiming, lessFuel]))
			)
		).not.toContain('base-timing');
	});
	it('knock control switched off, whatever anybody writes', () => {
		const draft = setting('knock.enabled', false);
		const list = holdsOf({
			changes: compare(parent, draft).changes,
			parent,
			draft,
			cells: [],
			edits: [],
			replayProblem: '',
			report: null,
			answered: new Set(),
			earlier: {},
			unread: [],
			parentLogged: true,
			undoes: null,
			evidenceGone: [],
			parentIsBaseline: false,
			replay: null,
			typed: [],
			maxima: null,
			neverSensitivity: false,
			falseProofs: [EVERYWHERE],
			ethanolPct: 5,
			file: null,
			profile: profileOf()
		});
		expect(list[0]).toMatchObject({ id: 'knock-off', answerable: false });
		expect(standing(list, { 'knock-off': 'a very good reason indeed' })).toHaveLength(1);
	});
	it('another trigger asks for base timing to be checked again, by somebody named', () => {
		const turned = setting('trigger.offset', '-10');
		expect(holds([], {}, turned)).toContain('trigger');
		const checked = {
			...turned,
			items: turned.items.map((i) =>
				i.id === 'spark.baseVerified' && i.kind === 'setting' ? { ...i, value: '2026-06-01, again' } : i
			)
		};
		expect(holds([], {}, checked)).not.toContain('trigger');
		expect(holds([moreFuel], {})).not.toContain('trigger');
	});
	it('a revision that could not be replayed, and an edit without a reason', () => {
		expect(holds([lessFuel], { replayProblem: 'no lambda reading is logged' })).toContain('replay');
		expect(holds([lessFuel])).not.toContain('replay');
		// Only richer gets through, replayed or not.
		expect(holds([moreFuel], { replayProblem: 'no lambda reading is logged' })).not.toContain('replay');
		const edit = { kind: 'setting' as const, item: 'trigger.offset', to: '-10', reason: ' ' };
		expect(holds([moreFuel], { edits: [edit] })).toContain('reason');
		expect(holds([moreFuel], { edits: [{ ...edit, reason: 'checked' }] })).not.toContain('reason');
	});
	it('a replay beyond a limit', () => {
		const replay = {
			beyond: [{ what: 'injector duty', value: 88, limit: 85, unit: '%', severity: 'fix' }]
		} as unknown as HoldInput['replay'];
		expect(holds([lessFuel], { replay })).toEqual(['replay injector duty']);
		expect(holds([moreFuel], { replay })).toEqual([]);
	});
});

describe('what opens a hold', () => {
	it('an answer to the finding', () => {
		const report = reportOf(finding('bank.mismatch', 'stop', { bank: 2 }));
		expect(holds([lessFuel], { report })).toEqual(['finding bank.mismatch b2', 'fuel-removed']);
		expect(holds([lessFuel], { report, answered: new Set(['bank.mismatch b2']) })).toEqual([]);
	});
	it('a proof, five points at a time', () => {
		const less = [change('knock.sensitivity', 0, 0, 100, 95)];
		const ids = (more: Partial<HoldInput>) => holds(less, more).filter((h) => h.startsWith('sensitivity'));
		expect(ids({ falseProofs: [EVERYWHERE] })).toEqual([]);
		// Of that fuel, and of every place that retards: the sensitivity acts everywhere.
		expect(ids({ falseProofs: [EVERYWHERE], ethanolPct: 60 })).toEqual(['sensitivity-proof']);
		const low = {
			region: { rpm: [2500, 3500], mapKpa: [140, 180] } as ProofRegion,
			ethanolPct: 5,
			meanRetardDeg: 0.3
		};
		const knocks = (rpm: [number, number]) =>
			reportOf(finding('knock.blips', 'watch', { region: { rpm, map: [150, 165] } }));
		expect(ids({ falseProofs: [low], report: knocks([2600, 3400]) })).toEqual([]);
		expect(ids({ falseProofs: [low], report: knocks([5800, 6400]) })).toEqual(['sensitivity-proof']);
	});
	it('timing elsewhere than where it knocks', () => {
		const report = reportOf(
			finding('knock.unclear', 'watch', { region: { rpm: [5800, 6400], map: [150, 165] } })
		);
		expect(holds([change('spark.table', 2000, 60, 20, 21)], { report })).toEqual([]);
	});
	it('a written reason, not a word', () => {
		const [hold] = [{ id: 'log', title: '', why: '', answerable: true }];
		expect(standing([hold!], {})).toHaveLength(1);
		expect(standing([hold!], { log: 'ok' })).toHaveLength(1);
		expect(standing([hold!], { log: 'the car is on the dyno with me' })).toHaveLength(0);
	});
});

describe('a reading that differs from the log', () => {
	const gauge = { id: 7, kind: 'fuel' as const, source: 'film of the gauge', words: 'Reads 5 % leaner' };
	const light = { id: 8, kind: 'timing' as const, source: 'timing light', words: 'The crank shows −3°' };
	it('holds fuel that is taken out, and timing that is added; what is safer gets through', () => {
		expect(holds([lessFuel], { typed: [gauge, light] })).toEqual(['typed 7']);
		expect(holds([moreTiming], { typed: [gauge, light] })).toEqual(['typed 8']);
		expect(holds([moreFuel], { typed: [gauge] })).toEqual([]);
		expect(holds([lessTiming], { typed: [light] })).toEqual([]);
	});
	it('a workshop that never touches the sensitivity releases no lower one, whatever was proved', () => {
		const lowered = change('knock.sensitivity', 0, 0, 100, 95);
		const held = (neverSensitivity: boolean) =>
			wholeHolds([lowered], { neverSensitivity }).filter((h) => h.id === 'sensitivity-never');
		expect(held(false)).toEqual([]);
		expect(held(true)).toMatchObject([{ answerable: false }]);
	});
	it('holds what is not safer while typed maxima stand beyond a limit', () => {
		const maxima = { id: 4, source: 'the controller', words: 'Beyond its limit: injector duty 94 %.' };
		expect(holds([moreTiming], { maxima })).toEqual(['maxima 4']);
		expect(holds([lessTiming], { maxima })).toEqual([]);
	});
});
