/** A table on its way in: what was pasted, what it is read as, and what a person said of it. */
import { ITEMS, titleOf } from '$core/calibration/items';
import type { TableLayout } from '$core/calibration/tables/layout';
import { readText } from './read';

export interface Wanted {
	/** Tables that the layout of the controller names, in its order. */
	tables: readonly TableLayout[];
	scalars: readonly { item: string; title?: string | undefined }[];
	/** Items that are there already. */
	there: ReadonlySet<string>;
}

const MOST_TEXT = 2e6;

export class Paste {
	readonly #wanted: () => Wanted;
	text = $state('');
	xText = $state('');
	yText = $state('');
	axesOpen = $state(false);
	/** What a person said of this paste; the layout or the guess stands where nothing was. */
	said = $state<Record<string, string>>({});
	/** A table that was chosen out of turn. */
	chosen = $state<string | null>(null);
	#skipped = $state<string[]>([]);
	/** Files that were chosen together: one after the other into the field. */
	waiting = $state.raw<File[]>([]);
	fileName = $state('');

	constructor(wanted: () => Wanted) {
		this.#wanted = wanted;
	}

	/** The next table that the layout wants; `null` once all are there. */
	readonly next = $derived.by(() => {
		const { tables, there } = this.#wanted();
		return tables.find((t) => !there.has(t.item) && !this.#skipped.includes(t.item)) ?? null;
	});
	readonly expected = $derived.by(
		() =>
			this.#wanted().tables.find((t) => t.item === this.chosen) ?? (this.chosen === null ? this.next : null)
	);
	/** What the layout says of this table was said by a person: nothing is asked again. */
	readonly #trusted = $derived.by(() => this.expected?.said === true);
	readonly read = $derived.by(() =>
		readText(
			this.text,
			{ x: this.xText, y: this.yText },
			this.#trusted ? this.expected : null,
			this.#wanted().there
		)
	);

	#pick(name: string, ...options: (string | undefined | null)[]): string {
		return this.said[name] ?? options.find((o) => o !== undefined && o !== null && o !== '') ?? '';
	}
	/** What it is: an item's id, or `own` for one kept under a name of its own. */
	readonly item = $derived.by(() => {
		const best = this.read.guess?.items[0];
		const { expected } = this;
		return this.#pick(
			'item',
			this.chosen,
			expected && (this.#trusted || !best) ? expected.item : null,
			best?.item,
			expected?.item
		);
	});
	readonly ownName = $derived.by(() => this.item === 'own');
	readonly id = $derived.by(() => (this.ownName ? (this.said['own'] ?? '').trim() : this.item));
	readonly #known = $derived.by(() =>
		this.#trusted && this.expected?.item === this.id ? this.expected : null
	);
	readonly guessed = $derived.by(() => this.read.guess?.items.find((g) => g.item === this.id));
	readonly unit = $derived.by(() =>
		this.#pick('unit', this.#known?.unit, this.guessed?.unit, ITEMS.find((i) => i.id === this.id)?.unit)
	);
	readonly x = $derived.by(() => this.#axis('x'));
	readonly y = $derived.by(() => this.#axis('y'));

	#axis(axis: 'x' | 'y'): { channel: string; unit: string } {
		const known = this.#known?.[axis];
		const { guess } = this.read;
		const best = guess?.[axis].find((g) => axis === 'x' || g.channel !== guess.x[0]?.channel);
		return {
			channel: this.#pick(`${axis}Channel`, known?.channel, best?.channel, axis === 'x' ? 'rpm' : 'map'),
			unit: this.#pick(`${axis}Unit`, known?.unit, best?.unit)
		};
	}

	readonly curve = $derived.by(() => this.read.table?.values.length === 1);
	/** What is kept of it as the layout; `null` while it isn't known what it is. */
	readonly entry = $derived.by((): TableLayout | null => {
		const { read, id, unit, x, y } = this;
		if (!read.table || !id) return null;
		const known = this.#known;
		const pastedAxes =
			read.table.x || read.table.y ? (this.xText || this.yText ? 'without' : 'with') : 'without';
		return {
			item: id,
			title: known?.title ?? titleOf({ id }),
			...(unit ? { unit } : {}),
			decimals: known?.decimals ?? read.table.decimals.values,
			rows: known?.rows ?? read.table.orientation.rows,
			transposed: read.transposed,
			axes: known?.axes ?? pastedAxes,
			x: { channel: x.channel, ...(x.unit ? { unit: x.unit } : {}) },
			...(this.curve ? {} : { y: { channel: y.channel, ...(y.unit ? { unit: y.unit } : {}) } })
		};
	});
	readonly needsAxes = $derived.by(() => {
		const { table } = this.read;
		return (
			table !== null &&
			!this.#wanted().there.has(this.id) &&
			(table.x === null || (!this.curve && table.y === null))
		);
	});
	/** Lines of name, value, unit: which item each is. */
	readonly mapping = $derived.by(() =>
		(this.read.scalars ?? []).map((s, n) => ({
			name: s.name,
			item:
				this.said[`scalar${n}`] ??
				this.#wanted().scalars.find((l) =>
					[l.item, l.title].some((t) => t?.toLowerCase() === s.name.toLowerCase())
				)?.item ??
				s.name,
			...(s.unit ? { unit: s.unit } : {})
		}))
	);
	readonly ready = $derived.by(() => (this.entry !== null || this.read.scalars !== null) && !this.needsAxes);

	/** Empty for the next one, with the next file in it where there is one. */
	async again(): Promise<void> {
		this.text = this.xText = this.yText = '';
		this.said = {};
		this.chosen = null;
		this.axesOpen = false;
		this.fileName = '';
		await this.nextFile();
	}

	skip(item: string): void {
		this.#skipped = [...this.#skipped, item];
	}

	/** The name of a file says what it is where it is that of an item. */
	async nextFile(): Promise<void> {
		const [file, ...rest] = this.waiting;
		if (!file) return;
		this.waiting = rest;
		this.fileName = file.name;
		const name = file.name.replace(/\.(csv|tsv|txt)$/i, '');
		const known = this.#wanted().tables.find((t) => t.item === name || t.title === name);
		if (known) this.chosen = known.item;
		else if (ITEMS.some((i) => i.id === name)) this.said['item'] = name;
		if (file.size > MOST_TEXT) {
			this.text = '';
			this.fileName = `${file.name} is larger than any table`;
		} else this.text = await file.text();
	}
}
