/**
 * What is really in the tuner's program against what a revision says: a table or values pasted back are held against the revision by axis
 * values, at the decimals of the text. What fits an older revision is said by name: the classic mistake.
 */
import { fixed, plural } from '../../format.ts';
import { axisUnit, sameReading, turner, type AxisRef } from '../axes.ts';
import type { Calibration, CurveItem, MapItem, ScalarItem } from '../document.ts';
import { findItem } from '../lookup.ts';
import { itemTurner } from '../item-units.ts';
import { STANDARD_KPA } from '../resample.ts';
import { readPasted, turned, type PastedScalar, type PastedTable } from './block.ts';

export interface Difference {
	/** Axis values of the cell, in the units of the revision's axes; 0 where there is no such axis. */
	x: number;
	y: number;
	/** Both in the unit of the text. */
	revision: number;
	found: number;
}

export interface Verified {
	match: boolean;
	/** Cells that agree. */
	verified: number;
	differences: Difference[];
	/** The older revision that it fits; `null` on a match, or where it fits none. */
	fits: string | null;
	/** Why it can't be held against the revision, or what its decimals hide; empty otherwise. */
	why: string;
}

export interface Reading {
	/** Unit of the values, and of the axes, in the tuner's program; those of the revision when missing. `psi gauge` for a gauge. */
	units?: string | undefined;
	xUnit?: string | undefined;
	yUnit?: string | undefined;
	/** Decimals that the program holds; those of the text when missing. */
	decimals?: number | undefined;
	/** Direction of a body without axes; rising when missing. */
	rows?: 'y-up' | 'y-down' | undefined;
	transposed?: boolean | undefined;
	baroKpa?: number | undefined;
}

export interface Older {
	name: string;
	calibration: Calibration;
}

/** Half of the last digit that is seen, and a little for binary fractions. */
const within = (a: number, b: number, decimals: number) =>
	Math.abs(a - b) <= 0.5 * 10 ** -decimals + 1e-9 * Math.max(1, Math.abs(b));

const GAUGE = /gauge|\(g\)$/i;

/** An axis as the program writes it: another unit of the same, or a gauge's. */
function written(axis: AxisRef, unit: string | undefined): AxisRef {
	if (unit === undefined) return axis;
	if (GAUGE.test(unit)) return { channel: 'map', unit };
	return { ...axis, unit };
}

/** Whether points of a text are those of an axis, at the decimals of the text. */
function sameAxis(
	points: readonly number[],
	axis: MapItem['x'],
	unit: string | undefined,
	decimals: number,
	baroKpa: number
): boolean {
	if (points.length !== axis.points.length) return false;
	const ref = written(axis, unit);
	const turn = sameReading(axis, ref) ? (v: number) => v : turner(axis, ref, baroKpa);
	return turn !== null && axis.points.every((p, i) => within(points[i]!, turn(p), decimals));
}

type Placed = { values: number[][] } | { why: string };

/** The values of a text on the cells of an item, rows rising. */
function placed(t: PastedTable, item: MapItem | CurveItem, r: Reading): Placed {
	const baro = r.baroKpa ?? STANDARD_KPA;
	const rows = item.kind === 'map' ? item.values.length : 1;
	const columns = item.x.points.length;
	const fits = (p: PastedTable): boolean =>
		(p.x === null || sameAxis(p.x, item.x, r.xUnit, p.decimals.x, baro)) &&
		(p.y === null || (item.kind === 'map' && sameAxis(p.y, item.y, r.yUnit, p.decimals.y, baro))) &&
		p.values.length === rows &&
		p.values[0]!.length === columns;
	const bare = t.x === null && t.y === null;
	if (bare) {
		const body = r.transposed ? turned(t) : t;
		if (body.values.length !== rows || body.values[0]!.length !== columns)
			return {
				why: `another size: ${body.values.length} × ${body.values[0]!.length} cells pasted, the revision has ${rows} × ${columns}`
			};
		return { values: r.rows === 'y-up' ? body.values.toReversed() : body.values };
	}
	if (fits(t)) return { values: directed(t, r) };
	const other = turned(t);
	if (fits(other)) return { values: directed(other, r) };
	return { why: whyNot(t, item, r) };
}

/** Rows of a text that has points of x alone are in the direction that is said. */
function directed(t: PastedTable, r: Reading): number[][] {
	return t.y === null && t.values.length > 1 && r.rows === 'y-up' ? t.values.toReversed() : t.values;
}

function whyNot(t: PastedTable, item: MapItem | CurveItem, r: Reading): string {
	const list = (points: readonly number[] | null) =>
		points ? `${plural(points.length, 'point')} from ${points[0]} to ${points.at(-1)}` : 'none';
	const own = (axis: MapItem['x']) => `${list(axis.points)}${axisUnit(axis) ? ` ${axisUnit(axis)}` : ''}`;
	const said = [r.xUnit, r.yUnit].filter(Boolean).join(' and ');
	return `other axes: ${[t.x, t.y].filter(Boolean).map(list).join(' by ')}${said ? ` (${said})` : ''} pasted, the revision has ${own(item.x)}${item.kind === 'map' ? ` by ${own(item.y)}` : ''}`;
}

interface Held {
	match: boolean;
	verified: number;
	differences: Difference[];
	why: string;
}

/** What programs count a gauge from where nobody says: standard air, or 100 kPa. */
const GAUGES_FROM = [STANDARD_KPA, 100];

/** With every air that a gauge may be counted from: the one that fits best. */
function holdTable(t: PastedTable, item: MapItem | CurveItem, r: Reading): Held {
	const tries = (r.baroKpa === undefined ? GAUGES_FROM : [r.baroKpa]).map((baroKpa) =>
		holdBy(t, item, { ...r, baroKpa })
	);
	return tries.reduce((best, h) => (h.verified > best.verified ? h : best));
}

function holdBy(t: PastedTable, item: MapItem | CurveItem, r: Reading): Held {
	const none = (why: string): Held => ({ match: false, verified: 0, differences: [], why });
	const turn = itemTurner(item, r.units, r.baroKpa ?? STANDARD_KPA);
	if (!turn)
		return none(`the revision is in ${item.unit ?? 'no unit'}, which can't be turned into ${r.units}`);
	const on = placed(t, item, r);
	if ('why' in on) return none(on.why);
	const decimals = r.decimals ?? t.decimals.values;
	const rows = item.kind === 'map' ? item.values : [item.values];
	const differences: Difference[] = [];
	let verified = 0;
	let hidden = 0;
	rows.forEach((row, k) =>
		row.forEach((v, c) => {
			const revision = turn(v);
			const found = on.values[k]![c]!;
			if (within(found, revision, decimals)) {
				verified++;
				if (Math.abs(found - revision) > 1e-6 * Math.max(1, Math.abs(revision))) hidden++;
			} else
				differences.push({
					x: item.x.points[c]!,
					y: item.kind === 'map' ? item.y.points[k]! : 0,
					revision: Number(fixed(revision, Math.max(decimals, 6))),
					found
				});
		})
	);
	return {
		match: differences.length === 0,
		verified,
		differences,
		why: hidden
			? `${plural(hidden, 'cell')} may differ by less than the text shows: it has ${plural(decimals, 'decimal')}`
			: ''
	};
}

function holdScalar(
	list: readonly PastedScalar[],
	item: ScalarItem,
	r: Reading,
	names: readonly string[]
): Held {
	const wanted = names.map((n) => n.toLowerCase());
	const line = list.length === 1 ? list[0] : list.find((s) => wanted.includes(s.name.toLowerCase()));
	if (!line)
		return {
			match: false,
			verified: 0,
			differences: [],
			why: `none of the pasted lines is called ${names.map((n) => `"${n}"`).join(' or ')}`
		};
	const turn =
		itemTurner(item, r.units ?? (line.unit || undefined), r.baroKpa ?? STANDARD_KPA) ?? ((v: number) => v);
	const decimals = r.decimals ?? decimalsIn(line.value);
	const revision = turn(item.value);
	const match = within(line.value, revision, decimals);
	return {
		match,
		verified: match ? 1 : 0,
		differences: match ? [] : [{ x: 0, y: 0, revision, found: line.value }],
		why: ''
	};
}

/** The text as a body alone; `null` where a corner says that it isn't one. */
function bodyOf(text: string): PastedTable | null {
	const bare = readPasted(text, { none: true });
	return 'table' in bare && bare.table.x === null && bare.table.y === null ? bare.table : null;
}

const decimalsIn = (v: number): number => (String(v).split('.')[1] ?? '').length;

/**
 * @param text a table, or lines of values, as it was pasted
 * @param older revisions before this one, the newest first
 * @throws InputError where the text is no table, naming row and column
 */
export function verifyText(
	text: string,
	calibration: Calibration,
	id: string,
	reading: Reading = {},
	older: readonly Older[] = [],
	axes: { x?: string; y?: string } = {}
): Verified {
	const pasted = readPasted(text, axes);
	// What looks like an axis may be the first row of a body: both are held against the revision.
	const body = 'table' in pasted && (pasted.table.x || pasted.table.y) ? bodyOf(text) : null;
	const hold = (c: Calibration): Held => {
		const item = findItem(c, id);
		const none = (why: string): Held => ({ match: false, verified: 0, differences: [], why });
		if (!item) return none(`the revision has no "${id}"`);
		if (item.kind === 'scalar') {
			const names = [id, ...(item.title ? [item.title] : [])];
			if ('scalars' in pasted) return holdScalar(pasted.scalars, item, reading, names);
			const [only] = pasted.table.values[0]!;
			return pasted.table.values.length === 1 && pasted.table.values[0]!.length === 1
				? holdScalar([{ name: id, value: only!, unit: '' }], item, reading, names)
				: none(`"${id}" is one value; a table was pasted`);
		}
		if (item.kind === 'setting') return none(`"${id}" is a setting, not a table`);
		return 'scalars' in pasted
			? none(`"${id}" is a table; single values were pasted`)
			: [pasted.table, ...(body ? [body] : [])]
					.map((t) => holdTable(t, item, reading))
					.reduce((best, h) => (h.verified > best.verified ? h : best));
	};
	const own = hold(calibration);
	return { ...own, fits: own.match ? null : (older.find((o) => hold(o.calibration).match)?.name ?? null) };
}
