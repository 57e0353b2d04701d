/** What a cell map is asked, and what came back: quantity, axes and filters, its view, its field, the stretches behind a cell. */
import { fixed } from '$core/format';
import type { CellAxes } from '$core/calibration/grid';
import type { GridField } from '$core/correction/grid-field';
import type { CellMap } from '$core/evidence/cells/correction-map';
import {
	openFilter,
	type CellFilter,
	type CellSpec,
	type CellStretch,
	type CellView
} from '$core/evidence/cells/view';
import { pointsFrom } from '$lib/ui/evidence/axes';
import type { useEvidence } from '$lib/ui/evidence/worker.svelte';
import type { Preferences } from '$lib/ui/preferences.svelte';
import { signedText } from './colour';

export type Show = 'value' | 'field' | 'samples' | 'scatter';

/** Cells that a field knows less of than this aren't shown. */
const SHOWN_TRUST = 0.5;

export interface MapOf {
	evidence: ReturnType<typeof useEvidence>;
	preferences: Preferences;
	durationS: number;
	stoich: number;
}

export class MapView {
	readonly #of: () => MapOf;
	quantity = $state('');
	show = $state<Show>('value');
	method = $state<'bilinear' | 'nearest'>('bilinear');
	lambda = $state('believed');
	/** Index of the axes, or `own`. */
	axesChoice = $state('0');
	own = $state({
		xChannel: 'rpm',
		x: '1000 2000 3000 4000 5000 6000 7000',
		yChannel: 'map',
		y: '20 60 100 140 180'
	});
	filter = $state<CellFilter>() as CellFilter;
	picked = $state<{ column: number; row: number } | null>(null);
	view = $state.raw<CellView | null>(null);
	field = $state.raw<GridField | null>(null);
	behind = $state.raw<CellStretch[]>([]);
	/** Counts the views that came. */
	drawn = $state(0);
	/** What the shown view was computed for: a late answer to an old question isn't shown. */
	shownSpec = $state.raw<CellSpec | null>(null);
	#asked: CellSpec | null = null;

	/** Made while a component is: its questions end with it. @param quantity the one to begin with; empty for the first */
	constructor(of: () => MapOf, quantity: string) {
		this.#of = of;
		this.quantity = quantity;
		this.filter = openFilter(of().durationS);
		$effect(() => {
			const { spec } = this;
			const { api } = this.#of().evidence;
			if (!spec || !api) return;
			this.#asked = spec;
			void api.cells(spec).then((v) => {
				if (this.#asked !== spec) return;
				this.view = v;
				this.shownSpec = spec;
				this.drawn++;
			});
		});
		$effect(() => {
			const s = this.shownSpec;
			const { api } = this.#of().evidence;
			if (!s || !this.asField || !api) return;
			this.field = null;
			void api.field(s).then((f) => {
				if (s === this.shownSpec) this.field = f;
			});
		});
		$effect(() => {
			const [s, cell] = [this.shownSpec, this.picked];
			const { api } = this.#of().evidence;
			if (!s || !cell || !api) return;
			void api.behind(s, cell.column, cell.row).then((list) => {
				if (cell === this.picked && s === this.shownSpec) this.behind = list;
			});
		});
	}

	readonly what = $derived.by(() => {
		const quantities = this.#of().evidence.about?.quantities;
		return quantities?.find((q) => q.id === this.quantity) ?? quantities?.[0] ?? null;
	});
	readonly typed = $derived.by(() => ({ x: pointsFrom(this.own.x), y: pointsFrom(this.own.y) }));
	readonly axes = $derived.by((): CellAxes | null => {
		const { about } = this.#of().evidence;
		if (!about) return null;
		if (this.axesChoice !== 'own') return about.axes[Number(this.axesChoice)]?.axes ?? null;
		const { x, y } = this.typed;
		return 'points' in x && 'points' in y
			? { xChannel: this.own.xChannel, x: x.points, yChannel: this.own.yChannel, y: y.points }
			: null;
	});
	readonly spec = $derived.by((): CellSpec | null =>
		this.what && this.axes
			? {
					quantity: this.what.id,
					axes: this.axes,
					method: this.method,
					lambda: this.lambda,
					filter: $state.snapshot(this.filter)
				}
			: null
	);
	/** Only what a table would be multiplied by has a field. */
	readonly hasField = $derived.by(() => this.what?.fuel === true);
	readonly asField = $derived.by(() => this.show === 'field' && this.hasField);
	readonly signed = $derived.by(() => (this.show === 'value' || this.asField) && this.what?.signed === true);
	readonly unit = $derived.by(() => (this.what ? this.#shown(1).unit : ''));
	readonly decimals = $derived.by(() => {
		if (this.show === 'samples') return 0;
		if (this.show !== 'value' || !this.what) return this.what?.decimals ?? 1;
		return Math.max(this.#shown(1).decimals, this.what.unit === 'λ' ? 2 : 0);
	});

	#shown(v: number) {
		const { preferences, stoich } = this.#of();
		return preferences.shown(v, this.what!.unit, stoich);
	}
	/** A value of the quantity in the reader's unit. */
	scaled(v: number): number {
		return this.#shown(v).value;
	}
	text(v: number): string {
		return this.signed ? signedText(v) : fixed(v, this.decimals);
	}

	/** The view as rows, in the reader's units. */
	readonly rows = $derived.by((): CellMap | null => {
		const { view, shownSpec, what } = this;
		if (!view || !shownSpec || !what) return null;
		const { x, y } = shownSpec.axes;
		const of = (flat: Float64Array, change = (v: number) => v) =>
			y.map((_, r) =>
				x.map((__, c) => {
					const v = flat[r * x.length + c]!;
					return Number.isFinite(v) ? change(v) : null;
				})
			);
		const to2 = (v: number | null) => (v === null ? null : Number(fixed(v, 2)));
		const samples = of(view.n).map((row) => row.map((v) => Math.round((v ?? 0) * 10) / 10));
		if (this.asField) {
			const { field } = this;
			return (
				field && {
					percent: field.percent.map((row, r) =>
						row.map((v, c) => (field.trust[r]![c]! >= SHOWN_TRUST ? v : null))
					),
					samples,
					se: field.sd.map((row) => row.map((v) => Number(fixed(v, 2))))
				}
			);
		}
		const percent =
			this.show === 'samples'
				? of(view.n).map((row) => row.map((v) => (v !== null && v > 0 ? v : null)))
				: this.show === 'scatter'
					? of(view.spread)
					: of(view.values, (v) => this.scaled(v));
		return { percent, samples, se: of(view.se).map((row) => row.map(to2)) };
	});
	readonly extent = $derived.by(() => {
		const all = this.rows?.percent.flat().filter((v): v is number => v !== null) ?? [];
		return { low: Math.min(...all), high: Math.max(...all) };
	});

	readonly filtered = $derived.by(() => {
		const { filter } = this;
		return (
			filter.kinds.length > 0 ||
			filter.withUnusable ||
			filter.gear !== 0 ||
			filter.fromS > 0 ||
			filter.toS < this.#of().durationS ||
			filter.coolantMinC !== null ||
			filter.intakeMinC !== null ||
			filter.intakeMaxC !== null
		);
	});
	openFilters(): void {
		this.filter = openFilter(this.#of().durationS);
	}
	toggleKind(kind: CellFilter['kinds'][number]): void {
		const { kinds } = this.filter;
		this.filter.kinds = kinds.includes(kind) ? kinds.filter((k) => k !== kind) : [...kinds, kind];
	}

	/** The rows as a spreadsheet takes them; empty while there are none. */
	asTable(): string {
		const { rows, shownSpec } = this;
		if (!rows || !shownSpec) return '';
		const lines = [
			['', ...shownSpec.axes.x],
			...shownSpec.axes.y.map((y, r) => [
				y,
				...rows.percent[r]!.map((v) => (v === null ? '' : Number(fixed(v, 3))))
			])
		];
		return lines.map((l) => l.join('\t')).join('\n');
	}
}
