/** Between the fields of a form and the vehicle document. What the form doesn't know of a document stays as it is. */
import { refuseContrarySeats } from './seats.ts';
import { pairText } from './pair-text.ts';
import { FieldErrors, InputError } from '../input-error.ts';
import { faultsOf } from '../parse.ts';
import { parseVehicle, vehicleSchema, type Vehicle } from './document.ts';
import { FIELDS, SENSOR_ROWS, type Field } from './fields.ts';
import { tyreCircumferenceM } from './tyre.ts';

type Tree = Record<string, unknown>;

function numberOf(text: string): number {
	const v = Number(text.replace(',', '.'));
	if (text === '' || !Number.isFinite(v)) throw new InputError(`"${text}" is not a number`);
	return v;
}

const parts = (text: string) => text.split(/[\s;]+/).filter(Boolean);

function valueOf(field: Field, text: string): unknown {
	switch (field.kind) {
		case 'number':
			return numberOf(text);
		case 'tyre':
			return tyreCircumferenceM(text) ?? numberOf(text);
		case 'numbers':
			return parts(text).map(numberOf);
		case 'groups':
			return text.split('/').map((g) => parts(g.replaceAll(',', ' ')).map(numberOf));
		case 'pairs':
			return parts(pairText(text)).map((t) => {
				const [a, b, more] = t.split(':');
				if (b === undefined || more !== undefined)
					throw new InputError(`"${t}" is no pair; write them ${field.hint}`);
				return [numberOf(a!), numberOf(b)];
			});
		case 'words':
			return text
				.split(/[,;]+/)
				.map((t) => t.trim())
				.filter(Boolean);
		case 'choice':
			if (!field.choices!.some(([value]) => value === text))
				throw new InputError(`"${text}" is none of ${field.choices!.map((c) => c[1]).join(', ')}`);
			return text;
		case 'text':
			return text;
	}
}

const LABELS = Object.fromEntries(FIELDS.map((f) => [f.path, f.label]));

function textOf(field: Field, value: unknown): string {
	if (value === undefined || value === null) return '';
	switch (field.kind) {
		case 'numbers':
			return (value as number[]).join(' ');
		case 'groups':
			return (value as number[][]).map((g) => g.join(' ')).join(' / ');
		case 'pairs':
			return (value as number[][]).map((p) => p.join(':')).join(' ');
		case 'words':
			return (value as string[]).join(', ');
		default:
			return String(value as string | number);
	}
}

function get(tree: Tree, path: string): unknown {
	return path.split('.').reduce<unknown>((at, key) => (at as Tree | undefined)?.[key], tree);
}

function set(tree: Tree, path: string, value: unknown): void {
	const keys = path.split('.');
	const last = keys.pop()!;
	let at = tree;
	for (const key of keys) at = (at[key] ??= {}) as Tree;
	if (value === undefined) delete at[last];
	else at[last] = value;
}

/** Parts of the document that only hold what the form asks: dropped when nothing is left in them. */
function prune(tree: Tree): void {
	for (const [key, value] of Object.entries(tree))
		if (
			typeof value === 'object' &&
			value !== null &&
			!Array.isArray(value) &&
			Object.keys(value).length === 0
		)
			delete tree[key];
}

function sensorsFrom(fields: Readonly<Record<string, string>>): Tree[] {
	const rows: Tree[] = [];
	for (let i = 0; i < SENSOR_ROWS; i++) {
		const at = (key: string) => fields[`sensor.${i}.${key}`] ?? '';
		if (!at('channel')) continue;
		rows.push({
			channel: at('channel'),
			kind: at('kind'),
			site: at('site'),
			...(at('compensated') ? { pressureCompensated: at('compensated') === 'yes' } : {})
		});
	}
	return rows;
}

/**
 * The vehicle that a filled-in form describes.
 * @param fields text by path; sensors as `sensor.N.channel`, `.kind`, `.site`, `.compensated`
 * @param base document to start from: what the form doesn't ask is kept
 * @throws FieldErrors naming every field that can't be read or can't be so, by its path; InputError where sensors contradict each other
 */
export function vehicleFromSheet(
	fields: Readonly<Record<string, string>>,
	base: Vehicle | null = null
): Vehicle {
	const tree = JSON.parse(JSON.stringify(base ?? {})) as Tree;
	tree['schema'] = 'tanto.vehicle/1';
	const problems: Record<string, string> = {};
	for (const field of FIELDS) {
		const text = (fields[field.path] ?? '').trim();
		set(tree, field.path, undefined);
		try {
			if (text === '' && field.required) throw new InputError('is needed');
			set(tree, field.path, text === '' ? undefined : valueOf(field, text));
		} catch (e) {
			if (!(e instanceof InputError)) throw e;
			problems[field.path] = e.message;
		}
	}
	const lambda = sensorsFrom(fields);
	set(tree, 'sensors.lambda', lambda.length ? lambda : undefined);
	prune(tree);
	// What could be read but can't be so is told together with what couldn't be read.
	for (const { path, problem } of faultsOf(vehicleSchema, tree)) {
		const field = FIELDS.find((f) => path === f.path || path.startsWith(`${f.path}[`));
		if (field) problems[field.path] ??= problem;
	}
	if (Object.keys(problems).length > 0) throw new FieldErrors(problems, LABELS);
	const vehicle = parseVehicle(tree);
	refuseContrarySeats(vehicle);
	return vehicle;
}

/** The fields of a vehicle as texts, by path. */
export function sheetOf(vehicle: Vehicle): Record<string, string> {
	const out: Record<string, string> = {};
	for (const field of FIELDS) out[field.path] = textOf(field, get(vehicle, field.path));
	(vehicle.sensors?.lambda ?? []).slice(0, SENSOR_ROWS).forEach((s, i) => {
		out[`sensor.${i}.channel`] = s.channel;
		out[`sensor.${i}.kind`] = s.kind;
		out[`sensor.${i}.site`] = s.site;
		out[`sensor.${i}.compensated`] =
			s.pressureCompensated === undefined ? '' : s.pressureCompensated ? 'yes' : 'no';
	});
	return out;
}
