/**
 * A draft in the hands of its editor: the parent with its edited settings and axes, the changes over them, and every step undoable.
 * Saved to the server shortly after each step.
 */
/* eslint svelte/prefer-svelte-reactivity: off -- maps here are never changed once they are shown: every step makes a new one */
import { isTable } from '$core/calibration/formats/csv';
import type { Calibration, Item } from '$core/calibration/document';
import { decimalsOf, roundTo } from '$core/calibration/lookup';
import { movedChanges, withEdits, type TakenOver } from '$core/revising/edits';
import type { AxesEdit, DraftEdit } from '$core/revising/edit-schema';
import type { ItemProposal } from '$core/revising/proposal';
import { mergeParts, type Conflict } from '$core/revising/merge';
import type { DraftChange } from '$core/revising/edit-schema';
import { byHand } from '$core/revising/changes';
import {
	cellKey,
	sameContent,
	sameSnapshot,
	snapshotOf,
	type Cells,
	type Edits,
	SAVE_AFTER_MS,
	sendSnapshot,
	valueIn,
	type Cell,
	type Decided,
	type Snapshot
} from './snapshot';
import { historyOf, keepHistory } from './history-store';

export type Table = Extract<Item, { kind: 'map' | 'curve' | 'scalar' }>;
export class DraftEditor {
	private history: Snapshot[] = $state.raw([]);
	private at = $state(0);
	saving: 'saved' | 'waiting' | 'saving' | 'failed' | 'conflict' = $state('saved');
	/** What was changed here and elsewhere, and not to the same. */
	conflicts: Conflict<DraftChange | DraftEdit>[] = $state.raw([]);
	problem = $state('');
	/** What the server has, and under which version. */
	private stored: Snapshot;
	/** What was sent and never answered since the last answer: one of them may be stored, or none. */
	private unanswered: readonly Snapshot[] = [];
	private sending: Promise<boolean> = Promise.resolve(true);
	private timer: ReturnType<typeof setTimeout> | undefined;
	private readonly proposed = new Map<string, { change: DraftChange; item: string }>();
	readonly edits: Edits = $derived(this.now.edits);
	/** Items of the parent under the edits of the draft, without its cell changes. */
	readonly items: readonly Item[];
	private readonly byId: ReadonlyMap<string, Item>;

	constructor(
		readonly revisionId: number,
		private readonly jobId: number,
		private version: number,
		private readonly parent: Calibration,
		readonly proposals: readonly ItemProposal[],
		changes: readonly DraftChange[],
		edits: readonly DraftEdit[],
		readonly editable: boolean,
		rejected: readonly string[] = [],
		/** Where its steps are kept over a reload; nowhere on the server. */
		private readonly storage: Storage | null = null
	) {
		this.items = $derived(withEdits(parent, [...this.edits.values()]).items);
		this.byId = $derived(new Map(this.items.map((i) => [i.id, i])));
		for (const p of proposals)
			for (const c of p.cells)
				this.proposed.set(cellKey(p.item, c.x, c.y), {
					item: p.item,
					change: { ...c, item: p.item, reason: p.reason, findings: p.findings }
				});
		this.stored = snapshotOf(changes, edits, rejected);
		this.history = [this.stored];
		const kept = storage && historyOf(storage, revisionId, version, this.stored);
		if (kept) [this.history, this.at] = [kept.steps, kept.at];
	}

	private get now(): Snapshot {
		return this.history[this.at]!;
	}
	get changes(): Cells {
		return this.now.cells;
	}
	/** Nothing differs from the parent. */
	get empty(): boolean {
		return this.changes.size === 0 && this.edits.size === 0;
	}
	get canUndo(): boolean {
		return this.at > 0;
	}
	get canRedo(): boolean {
		return this.at < this.history.length - 1;
	}

	change(item: string, cell: Cell): DraftChange | undefined {
		return this.changes.get(cellKey(item, cell.x, cell.y));
	}
	proposal(item: string, cell: Cell): DraftChange | undefined {
		return this.proposed.get(cellKey(item, cell.x, cell.y))?.change;
	}

	old(item: string, cell: Cell): number {
		return valueIn(this.byId.get(item), cell);
	}
	value(item: string, cell: Cell): number {
		return this.change(item, cell)?.to ?? this.old(item, cell);
	}
	changedIn(item: string): number {
		let n = 0;
		for (const c of this.changes.values()) if (c.item === item) n++;
		return n + (this.edits.has(item) ? 1 : 0);
	}

	/** Changes made by hand that nobody has given a reason yet. */
	get unexplained(): number {
		let n = 0;
		for (const c of this.changes.values()) if (!c.reason.trim()) n++;
		return n;
	}

	/** A setting takes another value; back to the parent's own it is no edit any more. */
	set(item: string, to: Extract<DraftEdit, { kind: 'setting' }>['to'], reason: string): void {
		const own = this.parent.items.find((i) => i.id === item);
		this.step((cells, edits) => {
			if (own?.kind === 'setting' && own.value === to) edits.delete(item);
			else edits.set(item, { kind: 'setting', item, to, reason });
		});
	}
	/** A table goes onto other axes, and what was changed in it goes along; null: back onto the parent's. */
	reshape(item: string, edit: AxesEdit | null): void {
		const own = this.parent.items.find((i) => i.id === item);
		const before = this.edits.get(item);
		if (!isTable(own)) return;
		this.step((cells, edits) => {
			const mine = [...cells.values()].filter((c) => c.item === item);
			for (const c of mine) cells.delete(cellKey(item, c.x, c.y));
			for (const c of movedChanges(own, before?.kind === 'axes' ? before : null, edit, mine))
				cells.set(cellKey(item, c.x, c.y), c);
			if (edit) edits.set(item, edit);
			else edits.delete(item);
		});
	}
	/** An item that this draft added goes out of it again, with what was changed in it. */
	drop(item: string): void {
		if (this.edits.get(item)?.kind !== 'added') return;
		this.step((cells, edits) => {
			edits.delete(item);
			for (const [key, c] of cells) if (c.item === item) cells.delete(key);
		});
	}
	/** Takes over what a file brings: items that it names are as in the file, the others stay as they are. */
	takeOver({ changes, edits: taken }: TakenOver, items: ReadonlySet<string>): void {
		this.step((cells, edits) => {
			for (const [key, c] of cells) if (items.has(c.item)) cells.delete(key);
			for (const id of items) edits.delete(id);
			for (const e of taken) edits.set(e.item, e);
			for (const c of changes) cells.set(cellKey(c.item, c.x, c.y), c);
		});
	}

	/** Applies `operation` to cells of an item; values are rounded and held inside the item's limits. */
	edit(item: string, cells: readonly Cell[], operation: (value: number, cell: Cell) => number): void {
		const target = this.byId.get(item);
		if (!this.editable || !target || target.kind === 'setting') return;
		const decimals = decimalsOf(target);
		this.step((next) => {
			for (const cell of cells) {
				const from = this.old(item, cell);
				const raw = operation(this.value(item, cell), cell);
				if (!Number.isFinite(raw)) continue;
				const to = roundTo(
					Math.min(target.max ?? Infinity, Math.max(target.min ?? -Infinity, raw)),
					decimals
				);
				const key = cellKey(item, cell.x, cell.y);
				const before = next.get(key);
				if (to === from) next.delete(key);
				else
					next.set(key, {
						...byHand(item, cell, from, to, before?.reason ?? ''),
						findings: before?.findings ?? []
					});
			}
		});
	}

	/** What became of these proposed cells. */
	decided(item: string, cells: readonly Cell[]): Decided {
		const out: Decided = { accepted: 0, byHand: 0, rejected: 0, open: [] };
		for (const cell of cells) {
			const key = cellKey(item, cell.x, cell.y);
			const proposed = this.proposed.get(key)?.change;
			const made = this.changes.get(key);
			if (!proposed) continue;
			if (made) out[made.to === proposed.to ? 'accepted' : 'byHand']++;
			else if (this.now.rejected.has(key)) out.rejected++;
			else if (Number.isFinite(this.old(item, cell))) out.open.push(proposed);
		}
		return out;
	}

	/** Takes over what was proposed for these cells. */
	accept(item: string, cells: readonly Cell[]): void {
		this.step((next, _, rejected) => {
			for (const cell of cells) {
				const p = this.proposal(item, cell);
				// On other axes the proposed cell may be gone.
				if (!p || !Number.isFinite(this.old(item, cell))) continue;
				next.set(cellKey(item, cell.x, cell.y), p);
				rejected.delete(cellKey(item, cell.x, cell.y));
			}
		});
	}
	/** Takes over all that nobody has decided on, but for what has to be looked at first. */
	acceptAll(): void {
		const open = this.proposals.flatMap((p) => this.decided(p.item, p.cells).open.filter((c) => !c.ask));
		this.step((next) => {
			for (const c of open) next.set(cellKey(c.item, c.x, c.y), c);
		});
	}
	/** Takes over an offer as it stands: a stop-gap is chosen, never proposed. One that brings its item adds that first. */
	take(offer: ItemProposal): void {
		this.step((next, edits) => {
			if (offer.adds && !this.byId.has(offer.item))
				edits.set(offer.item, { kind: 'added', item: offer.item, to: offer.adds, reason: offer.reason });
			for (const c of offer.cells)
				next.set(cellKey(offer.item, c.x, c.y), {
					...c,
					item: offer.item,
					reason: offer.reason,
					findings: offer.findings
				});
		});
	}
	/** Back to the parent's values: rejects what was proposed, drops what was typed. */
	reject(item: string, cells: readonly Cell[]): void {
		this.step((next, _, rejected) => {
			for (const cell of cells) {
				const key = cellKey(item, cell.x, cell.y);
				next.delete(key);
				if (this.proposed.has(key)) rejected.add(key);
			}
		});
	}
	explain(item: string, cells: readonly Cell[], reason: string): void {
		this.step((next) => {
			for (const cell of cells) {
				const key = cellKey(item, cell.x, cell.y);
				const c = next.get(key);
				if (c) next.set(key, { ...c, reason });
			}
		});
	}

	undo(): void {
		if (this.canUndo) this.go(this.at - 1);
	}
	redo(): void {
		if (this.canRedo) this.go(this.at + 1);
	}

	private go(to: number): void {
		this.at = to;
		this.later();
	}
	private step(
		work: (cells: Map<string, DraftChange>, edits: Map<string, DraftEdit>, rejected: Set<string>) => void
	): void {
		if (!this.editable) return;
		const cells = new Map(this.changes);
		const edits = new Map(this.edits);
		const rejected = new Set(this.now.rejected);
		work(cells, edits, rejected);
		const same = edits.size === this.edits.size && [...edits].every(([id, e]) => this.edits.get(id) === e);
		this.history = [
			...this.history.slice(0, this.at + 1),
			{ cells, edits: same ? this.edits : edits, rejected }
		];
		this.go(this.at + 1);
	}
	private later(): void {
		this.saving = 'waiting';
		clearTimeout(this.timer);
		this.timer = setTimeout(() => void this.save(), SAVE_AFTER_MS);
	}

	/** Sends what isn't stored yet; resolves when all of it is. One request at a time: none overtakes another. */
	save(): Promise<boolean> {
		clearTimeout(this.timer);
		this.sending = this.sending.then(() => this.push());
		return this.sending;
	}

	private async push(): Promise<boolean> {
		if (this.conflicts.length > 0) return false;
		try {
			// What was done while a request was under way goes with the next.
			while (this.now !== this.stored || this.unanswered.length) {
				this.saving = 'saving';
				const sent = this.now;
				const lost = this.unanswered;
				this.unanswered = [...lost, sent];
				const answer = await sendSnapshot(this.revisionId, this.jobId, this.version, sent);
				this.unanswered = [];
				const theirs = snapshotOf(answer.changes ?? [], answer.edits ?? [], answer.rejected ?? []);
				const ours = answer.changedElsewhere ? lost.find((l) => sameSnapshot(l, theirs)) : sent;
				if (ours) {
					// What is stored is our own, if only the answer got lost. What was done since goes on from there.
					this.version = answer.version;
					this.stored = ours;
				} else if (!this.join(answer.version, theirs)) return false;
			}
			this.problem = '';
			this.saving = 'saved';
			if (this.storage)
				keepHistory(this.storage, this.revisionId, this.version, { steps: this.history, at: this.at });
			return true;
		} catch (e) {
			this.problem = e instanceof Error ? e.message : String(e);
			this.saving = 'failed';
			return false;
		}
	}

	/** Another window saved first: both are brought together. `false` where a person has to say. */
	private join(version: number, theirs: Snapshot): boolean {
		const cells = mergeParts(this.stored.cells, this.changes, theirs.cells, sameContent);
		const settings = mergeParts(this.stored.edits, this.edits, theirs.edits, sameContent);
		this.version = version;
		this.stored = theirs;
		const joined = {
			cells: cells.parts,
			edits: settings.parts,
			rejected: new Set([...this.now.rejected, ...theirs.rejected])
		};
		this.history = [...this.history.slice(0, this.at + 1), joined];
		this.at++;
		// The very same: an answer that got lost on its way, nothing to send again.
		if (sameSnapshot(joined, theirs)) this.stored = this.now;
		this.conflicts = [...cells.conflicts, ...settings.conflicts];
		if (this.conflicts.length === 0) return true;
		this.saving = 'conflict';
		return false;
	}

	/** Ends a conflict: what both changed stays as it is here, or becomes what it is there. */
	settle(whose: 'mine' | 'theirs'): void {
		const conflicts = this.conflicts;
		this.conflicts = [];
		if (whose === 'theirs')
			this.step((cells, edits) => {
				for (const { key, theirs, mine } of conflicts) {
					const known = theirs ?? mine;
					const into = known && 'kind' in known ? edits : cells;
					if (theirs === undefined) into.delete(key);
					else (into as Map<string, DraftChange | DraftEdit>).set(key, theirs);
				}
			});
		this.later();
	}
}
