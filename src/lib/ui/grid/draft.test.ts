/** The editor of a draft against a slow server that loses answers, and against another window: no edit is lost without a word. */
import { calibrationWith } from '$core/testing/hand-made.ts';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { DraftChange } from '$core/revising/edit-schema.ts';
import { DraftEditor } from './draft.svelte';
import { cellKey } from './snapshot';

const parent = calibrationWith(
	[
		{
			id: 't',
			kind: 'map',
			x: { channel: 'rpm', points: [1, 2, 3] },
			y: { channel: 'map', points: [1] },
			values: [[10, 20, 30]]
		}
	],
	{ name: 'base' }
);

/** Holds one draft, as the real one does: a save names its version, and is refused with what is stored when another came first. */
class SlowServer {
	version = 0;
	changes: DraftChange[] = [];
	/** Requests under way at once, at most. */
	most = 0;
	private under = 0;
	/** Answers that get lost on their way, by number of the request. */
	constructor(private readonly lost: ReadonlySet<number> = new Set()) {}
	private count = 0;

	fetch = async (_: string, init: { body: string }): Promise<Response> => {
		const n = this.count++;
		this.most = Math.max(this.most, ++this.under);
		await new Promise((r) => setTimeout(r, 30 + ((n * 37) % 90)));
		const sent = JSON.parse(init.body) as { version: number; changes: DraftChange[] };
		const answer =
			sent.version === this.version
				? { status: 200, body: { version: ++this.version } }
				: {
						status: 409,
						body: { message: 'changed elsewhere', version: this.version, changes: this.changes, edits: [] }
					};
		if (answer.status === 200) this.changes = sent.changes;
		this.under--;
		if (this.lost.has(n)) throw new TypeError('the connection broke off');
		return new Response(JSON.stringify(answer.body), { status: answer.status });
	};
	value(x: number): number | undefined {
		return this.changes.find((c) => c.x === x)?.to;
	}
}

const editorOn = (server: SlowServer) => {
	vi.stubGlobal('fetch', server.fetch);
	return new DraftEditor(1, 1, server.version, parent, [], server.changes, [], true);
};
const set = (editor: DraftEditor, x: number, to: number) => editor.edit('t', [{ x, y: 1 }], () => to);
const shown = (editor: DraftEditor, x: number) => editor.changes.get(cellKey('t', x, 1))?.to;

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

type Step = { do: 'set'; x: number; to: number } | { do: 'undo' | 'redo' } | { do: 'wait'; ms: number };
const step = fc.oneof<fc.Arbitrary<Step>[]>(
	fc.record({
		do: fc.constant('set' as const),
		x: fc.integer({ min: 1, max: 3 }),
		to: fc.integer({ min: 40, max: 60 })
	}),
	fc.record({ do: fc.constantFrom('undo' as const, 'redo' as const) }),
	fc.record({ do: fc.constant('wait' as const), ms: fc.integer({ min: 1, max: 700 }) })
);

describe('one window', () => {
	it('stores what it shows, whatever is done while a save is under way, and never two at once', async () => {
		await fc.assert(
			fc.asyncProperty(
				fc.array(step, { maxLength: 25 }),
				fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { maxLength: 2 }),
				async (steps, lost) => {
					const server = new SlowServer(new Set(lost));
					const editor = editorOn(server);
					for (const s of steps) {
						if (s.do === 'set') set(editor, s.x, s.to);
						else if (s.do === 'wait') await vi.advanceTimersByTimeAsync(s.ms);
						else if (s.do === 'undo') editor.undo();
						else editor.redo();
					}
					// A save that failed is tried again until it is stored: an answer that got lost is no second edit.
					for (let i = 0; i < 4; i++) {
						const saved = editor.save();
						await vi.advanceTimersByTimeAsync(3000);
						if (await saved) break;
					}
					expect(editor.saving).toBe('saved');
					expect(editor.conflicts).toEqual([]);
					for (const x of [1, 2, 3]) expect(server.value(x)).toBe(shown(editor, x));
					expect(server.most).toBeLessThanOrEqual(1);
				}
			),
			{ numRuns: 60 }
		);
	});
});

describe('answers that get lost', () => {
	it('one after another leave no conflict with what this window stored itself', async () => {
		const server = new SlowServer(new Set([0, 1]));
		const editor = editorOn(server);
		for (const to of [40, 41]) {
			set(editor, 1, to);
			await vi.advanceTimersByTimeAsync(400);
		}
		for (let i = 0; i < 3; i++) {
			void editor.save();
			await vi.advanceTimersByTimeAsync(3000);
		}
		expect([editor.saving, editor.conflicts, server.value(1)]).toEqual(['saved', [], 41]);
	});
});

describe('two windows', () => {
	async function settle(editor: DraftEditor) {
		const saved = editor.save();
		await vi.advanceTimersByTimeAsync(3000);
		return saved;
	}
	it('bring together what each did', async () => {
		const server = new SlowServer();
		const [a, b] = [editorOn(server), editorOn(server)];
		set(a, 1, 41);
		set(b, 2, 42);
		expect(await settle(a)).toBe(true);
		expect(await settle(b)).toBe(true);
		expect([server.value(1), server.value(2)]).toEqual([41, 42]);
		expect([shown(b, 1), shown(b, 2)]).toEqual([41, 42]);
	});
	it.each(['mine', 'theirs'] as const)('show what both changed, and keep %s', async (whose) => {
		const server = new SlowServer();
		const [a, b] = [editorOn(server), editorOn(server)];
		set(a, 1, 41);
		set(b, 1, 51);
		expect(await settle(a)).toBe(true);
		expect(await settle(b)).toBe(false);
		expect(b.saving).toBe('conflict');
		expect(b.conflicts).toMatchObject([{ mine: { to: 51 }, theirs: { to: 41 } }]);
		expect(server.value(1)).toBe(41);
		b.settle(whose);
		expect(await settle(b)).toBe(true);
		expect(server.value(1)).toBe(whose === 'mine' ? 51 : 41);
	});
	it('keep every edit or say so, however they interleave', async () => {
		const act = fc.record({
			who: fc.integer({ min: 0, max: 1 }),
			x: fc.integer({ min: 1, max: 2 }),
			do: fc.constantFrom('set' as const, 'set' as const, 'save' as const, 'wait' as const),
			ms: fc.integer({ min: 1, max: 900 })
		});
		let replaced = 0;
		let told = 0;
		await fc.assert(
			fc.asyncProperty(fc.array(act, { minLength: 6, maxLength: 20 }), async (acts) => {
				const server = new SlowServer();
				const windows = [editorOn(server), editorOn(server)];
				const last = [new Map<number, number>(), new Map<number, number>()];
				/** What stood in the cell, in the window where a value was typed over it. Every value is typed once. */
				const over = new Map<number, number | undefined>();
				let typed = 100;
				for (const { who, x, do: what, ms } of acts) {
					const w = windows[who]!;
					if (what === 'wait') await vi.advanceTimersByTimeAsync(ms);
					else if (what === 'save') void w.save();
					else if (!w.conflicts.length) {
						over.set(++typed, shown(w, x));
						set(w, x, typed);
						last[who]!.set(x, typed);
					}
				}
				// Each window saves until it has nothing to say but a conflict.
				for (let round = 0; round < 3; round++)
					for (const w of windows) if (!w.conflicts.length) await settle(w);
				for (const [who, w] of windows.entries()) {
					const said = new Set(w.conflicts.map((c) => c.key));
					if (!w.conflicts.length) expect(w.saving).toBe('saved');
					for (const [x, value] of last[who]!) {
						if (said.has(cellKey('t', x, 1))) {
							told++;
							continue;
						}
						// Beside a conflict nothing of this window is stored, but nothing is lost in it either.
						if (w.conflicts.length && shown(w, x) === value) continue;
						// Stored, or typed over by somebody who saw it.
						let at = server.value(x);
						if (at !== value) replaced++;
						for (let n = 0; at !== value && at !== undefined && n < over.size; n++) at = over.get(at);
						expect(at, `${value} in cell ${x} of window ${who} went away unseen`).toBe(value);
					}
				}
			}),
			{ numRuns: 200 }
		);
		// The interleavings that this is about did occur.
		expect(replaced).toBeGreaterThan(0);
		expect(told).toBeGreaterThan(0);
	});
});

describe('what is proposed', () => {
	const cell = (x: number, to: number, more: object = {}) => ({
		x,
		y: 1,
		from: 10 * x,
		to,
		basis: 'measured' as const,
		samples: 40,
		se: 0.5,
		...more
	});
	const proposal = {
		item: 't',
		reason: 'lean there',
		findings: ['fuel.lean'],
		cells: [cell(1, 11), cell(2, 22), cell(3, 40, { ask: true })]
	};
	const editor = (rejected: string[] = []) => {
		vi.stubGlobal('fetch', new SlowServer().fetch);
		return new DraftEditor(1, 1, 0, parent, [proposal], [], [], true, rejected);
	};
	const counts = (e: DraftEditor) => {
		const { accepted, byHand, rejected, open } = e.decided('t', proposal.cells);
		return [accepted, byHand, rejected, open.length];
	};
	it('is decided cell by cell, and undone step by step', () => {
		const e = editor();
		expect(counts(e)).toEqual([0, 0, 0, 3]);
		e.accept('t', [{ x: 1, y: 1 }]);
		e.reject('t', [{ x: 2, y: 1 }]);
		expect(counts(e)).toEqual([1, 0, 1, 1]);
		e.undo();
		expect(counts(e)).toEqual([1, 0, 0, 2]);
		e.redo();
		e.accept('t', [{ x: 2, y: 1 }]);
		expect(counts(e)).toEqual([2, 0, 0, 1]);
	});
	it('is accepted as a whole but for what has to be looked at first, and for what was rejected', () => {
		const e = editor();
		e.reject('t', [{ x: 1, y: 1 }]);
		e.acceptAll();
		expect([...e.changes.values()].map((c) => c.x)).toEqual([2]);
		expect(counts(e)).toEqual([1, 0, 1, 1]);
	});
	it('gives its reason and its findings to a value that is typed over it', () => {
		const e = editor();
		e.accept('t', proposal.cells);
		set(e, 1, 12);
		expect(e.changes.get(cellKey('t', 1, 1))).toMatchObject({
			to: 12,
			basis: 'hand',
			reason: 'lean there',
			findings: ['fuel.lean']
		});
		expect(counts(e)).toEqual([2, 1, 0, 0]);
	});
	it('stays rejected when the page is opened again', () => {
		expect(counts(editor([cellKey('t', 2, 1)]))).toEqual([0, 0, 1, 2]);
	});
});
