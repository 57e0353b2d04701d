/**
 * A calibration as ASAM CDF 2.0 XML, the published exchange standard for calibration values, and back. Structure (MSRSW, SW-SYSTEMS,
 * SW-INSTANCE-TREE, SW-INSTANCE with SW-VALUE-CONT and SW-AXIS-CONTS) from memory of the standard. What it has no element for (axis
 * channels, limits, decimals, unknown keys) is carried in special data groups (SDG) of our own, so that a round trip loses nothing;
 * other tools may ignore them.
 */
import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import { InputError } from '../../input-error.ts';
import { parseCalibration, type Axis, type Calibration, type FuelModel, type Item } from '../document.ts';

const GROUP = 'tanto';
const DATE = '@_GID';

type Json = Record<string, unknown>;

const CATEGORY = { scalar: 'VALUE', curve: 'CURVE', map: 'MAP' } as const;

/** Keys of an item that CDF has its own elements for. */
const OWN = new Set(['kind', 'value', 'values', 'x', 'y']);

function shortName(id: string, taken: Set<string>): string {
	const base = id.replace(/[^A-Za-z0-9_.]/g, '_').replace(/^(?=[^A-Za-z_])/, '_');
	let name = base;
	for (let n = 2; taken.has(name); n++) name = `${base}_${n}`;
	taken.add(name);
	return name;
}

function axisCont(axis: Axis, index: number): Json {
	return {
		CATEGORY: 'STD_AXIS',
		'UNIT-DISPLAY-NAME': axis.unit ?? '',
		'SW-AXIS-INDEX': index,
		'SW-VALUES-PHYS': { V: axis.points.map(String) }
	};
}

function without(value: Json, keys: ReadonlySet<string>): Json {
	return Object.fromEntries(Object.entries(value).filter(([k]) => !keys.has(k)));
}

function instance(item: Item, taken: Set<string>): Json {
	const axes = item.kind === 'map' ? [item.x, item.y] : item.kind === 'curve' ? [item.x] : [];
	const value =
		item.kind === 'map'
			? {
					'SW-ARRAYSIZE': { V: [item.y.points.length, item.x.points.length].map(String) },
					'SW-VALUES-PHYS': {
						VG: item.values.map((row, r) => ({ LABEL: String(item.y.points[r]), V: row.map(String) }))
					}
				}
			: item.kind === 'curve'
				? {
						'SW-ARRAYSIZE': { V: [String(item.values.length)] },
						'SW-VALUES-PHYS': { V: item.values.map(String) }
					}
				: {
						'SW-VALUES-PHYS':
							typeof item.value === 'number' ? { V: [String(item.value)] } : { VT: [String(item.value)] }
					};
	const about = {
		...without(item, OWN),
		kind: item.kind,
		...(item.kind === 'setting' ? { valueType: typeof item.value } : {}),
		...(axes.length ? { axes: axes.map((a) => without(a, new Set(['points']))) } : {})
	};
	return {
		'SHORT-NAME': shortName(item.id, taken),
		...(item.title === undefined ? {} : { 'LONG-NAME': item.title }),
		'DISPLAY-NAME': item.id,
		CATEGORY:
			item.kind === 'setting'
				? typeof item.value === 'number'
					? 'VALUE'
					: typeof item.value === 'boolean'
						? 'BOOLEAN'
						: 'ASCII'
				: CATEGORY[item.kind],
		...(item.group === undefined ? {} : { 'SW-FEATURE-REF': item.group }),
		'SW-VALUE-CONT': { 'UNIT-DISPLAY-NAME': item.unit ?? '', ...value },
		...(axes.length ? { 'SW-AXIS-CONTS': { 'SW-AXIS-CONT': axes.map((a, i) => axisCont(a, i + 1)) } } : {}),
		SDGS: { SDG: { [DATE]: GROUP, SD: { [DATE]: 'item', '#text': JSON.stringify(about) } } }
	};
}

/** The calibration as CDF 2.0 XML text. */
export function toCdf(calibration: Calibration): string {
	const taken = new Set<string>();
	const { items, ...rest } = calibration;
	const builder = new XMLBuilder({
		ignoreAttributes: false,
		format: true,
		indentBy: '\t',
		suppressEmptyNode: true
	});
	const body: unknown = builder.build({
		MSRSW: {
			'SHORT-NAME': shortName(calibration.name, new Set()),
			CATEGORY: 'CDF20',
			'SW-SYSTEMS': {
				'SW-SYSTEM': {
					'SHORT-NAME': shortName(calibration.vehicle ?? calibration.name, new Set()),
					'SW-INSTANCE-SPEC': {
						'SW-INSTANCE-TREE': {
							'SHORT-NAME': 'calibration',
							CATEGORY: 'NO_VCD',
							'SW-INSTANCE': items.map((i) => instance(i, taken))
						}
					},
					SDGS: { SDG: { [DATE]: GROUP, SD: { [DATE]: 'calibration', '#text': JSON.stringify(rest) } } }
				}
			}
		}
	});
	return `<?xml version="1.0" encoding="UTF-8"?>\n${String(body)}`;
}

const listOf = (v: unknown): unknown[] =>
	Array.isArray(v) ? (v as unknown[]) : v === undefined || v === '' ? [] : [v];
const record = (v: unknown): Json =>
	typeof v === 'object' && v !== null && !Array.isArray(v) ? (v as Json) : {};
const textOf = (v: unknown): string =>
	typeof v === 'string' ? v : typeof v === 'object' && v !== null ? textOf((v as Json)['#text'] ?? '') : '';

/** Our own data of an element, `null` where there is none. */
function ownData(element: Json, what: string): Json | null {
	for (const sdg of listOf(record(element['SDGS'])['SDG']))
		if (record(sdg)[DATE] === GROUP)
			for (const sd of listOf(record(sdg)['SD']))
				if (record(sd)[DATE] === what) return record(JSON.parse(textOf(sd)));
	return null;
}

function numbers(list: unknown[], where: string): number[] {
	return list.map((v) => {
		const n = Number(textOf(v));
		if (textOf(v).trim() === '' || !Number.isFinite(n))
			throw new InputError(`"${textOf(v)}" is not a number`, where);
		return n;
	});
}

/** The channel of an axis of which only the unit is known. */
function channelOf(unit: string): string {
	const u = unit.toLowerCase();
	if (u === 'rpm' || u === '1/min') return 'rpm';
	if (u === 'kpa' || u === 'hpa' || u === 'mbar') return 'map';
	if (u === 'hz') return 'mafFrequency';
	return u === 'v' ? 'vbat' : 'axis';
}

function axesFrom(element: Json, about: Json | null, name: string): Axis[] {
	const conts = listOf(record(element['SW-AXIS-CONTS'])['SW-AXIS-CONT']).map(record);
	conts.sort((a, b) => Number(textOf(a['SW-AXIS-INDEX'])) - Number(textOf(b['SW-AXIS-INDEX'])));
	return conts.map((cont, i) => {
		const values = record(cont['SW-VALUES-PHYS']);
		const points = numbers(listOf(values['V']), `axis ${i + 1} of ${name}`);
		const own = listOf(about?.['axes'])[i];
		const unit = textOf(cont['UNIT-DISPLAY-NAME']);
		return own
			? ({ ...record(own), points } as Axis)
			: { channel: channelOf(unit), ...(unit ? { unit } : {}), points };
	});
}

function itemFrom(element: Json): unknown {
	const about = ownData(element, 'item');
	const name = textOf(element['DISPLAY-NAME']) || textOf(element['SHORT-NAME']);
	const cont = record(element['SW-VALUE-CONT']);
	const phys = record(cont['SW-VALUES-PHYS']);
	const unit = textOf(cont['UNIT-DISPLAY-NAME']);
	const title = textOf(element['LONG-NAME']);
	const base = about
		? without(about, new Set(['axes', 'valueType', 'kind']))
		: { id: name, ...(title ? { title } : {}), ...(unit ? { unit } : {}) };
	const category = textOf(element['CATEGORY']);
	const axes = axesFrom(element, about, name);
	if (axes.length === 2) {
		const [x, y] = axes as [Axis, Axis];
		const rows = listOf(phys['VG']).map((vg) => numbers(listOf(record(vg)['V']), name));
		// Some tools write one group per x point: told by the sizes.
		const turned =
			rows.length === x.points.length &&
			rows[0]?.length === y.points.length &&
			rows.length !== rows[0].length;
		return {
			...base,
			kind: 'map',
			x,
			y,
			values: turned ? y.points.map((_, r) => rows.map((row) => row[r]!)) : rows
		};
	}
	if (axes.length === 1)
		return { ...base, kind: 'curve', x: axes[0], values: numbers(listOf(phys['V']), name) };
	if (axes.length > 2) throw new InputError(`tables of ${axes.length} axes are not known`, name);
	const text = listOf(phys['VT'])[0];
	if (text !== undefined) {
		const value = textOf(text);
		const isBoolean = about?.['valueType'] === 'boolean' || (about === null && category === 'BOOLEAN');
		return { ...base, kind: 'setting', value: isBoolean ? value === 'true' : value };
	}
	const [value] = numbers(listOf(phys['V']), name);
	if (value === undefined) throw new InputError('there is no value', name);
	return { ...base, kind: about?.['kind'] === 'setting' ? 'setting' : 'scalar', value };
}

/** The fuel model of a calibration that doesn't say: by the items that only one of them has. */
function fuelModelOf(ids: ReadonlySet<string>): FuelModel {
	if (ids.has('fuel.referencePulse')) return 'pulse-width';
	return ids.has('maf.curve') ? 'maf' : 'speed-density';
}

/** No tag of a calibration is nearly as long; the parser's work grows with the square of a tag's attributes. */
const LONGEST_TAG = 20_000;
const LONGEST_WORDS = 160;

/** @throws InputError naming the line of a tag that is longer than any calibration has */
function refuseLongTags(text: string): void {
	for (let at = text.indexOf('<'); at >= 0; at = text.indexOf('<', at + 1)) {
		if (!/[A-Za-z_]/.test(text[at + 1] ?? '')) continue;
		let quote = '';
		let end = at + 1;
		for (; end < text.length && end - at <= LONGEST_TAG; end++) {
			const c = text[end]!;
			if (quote) quote = c === quote ? '' : quote;
			else if (c === '"' || c === "'") quote = c;
			else if (c === '>') break;
		}
		if (end - at > LONGEST_TAG)
			throw new InputError(
				`a tag is longer than ${LONGEST_TAG / 1000} kB: this is no calibration`,
				`line ${text.slice(0, at).split('\n').length}`
			);
		at = end;
	}
}

/** The parsed document. @throws InputError on what can't be parsed, in short */
function parsedXml(text: string): Json {
	const parser = new XMLParser({
		ignoreAttributes: false,
		parseTagValue: false,
		parseAttributeValue: false,
		trimValues: true
	});
	try {
		return parser.parse(text) as Json;
	} catch {
		throw new InputError('it is nested deeper, or made of more parts, than any calibration', 'the XML');
	}
}

/**
 * The calibration out of CDF 2.0 XML. Entities that a document defines itself are refused.
 * @throws InputError naming line and column of broken XML, or the item with a fault
 */
export function fromCdf(text: string): Calibration {
	if (/<!ENTITY/i.test(text))
		throw new InputError('documents that define entities of their own are not read', 'the XML');
	refuseLongTags(text);
	const valid = XMLValidator.validate(text);
	if (valid !== true)
		throw new InputError(
			`not valid XML: ${valid.err.msg.slice(0, LONGEST_WORDS)}`,
			`line ${valid.err.line}, column ${valid.err.col}`
		);
	const root = record(parsedXml(text)['MSRSW']);
	if (textOf(root['CATEGORY']) !== 'CDF20')
		throw new InputError(
			'this is no CDF 2.0 document: MSRSW with the category CDF20 was expected',
			'the XML'
		);
	const systems = listOf(record(root['SW-SYSTEMS'])['SW-SYSTEM']).map(record);
	if (systems.length === 0) throw new InputError('there is no SW-SYSTEM in it', 'the XML');
	const instances = systems.flatMap((s) =>
		listOf(record(s['SW-INSTANCE-SPEC'])['SW-INSTANCE-TREE']).flatMap((tree) =>
			listOf(record(tree)['SW-INSTANCE']).map(record)
		)
	);
	const items = instances.map(itemFrom);
	const own = ownData(systems[0]!, 'calibration');
	const ids = new Set(items.map((i) => String((i as Json)['id'])));
	return parseCalibration(
		own
			? { ...own, items }
			: {
					schema: 'tanto.calibration/1',
					name: textOf(root['SHORT-NAME']) || 'calibration',
					fuelModel: fuelModelOf(ids),
					items
				}
	);
}
