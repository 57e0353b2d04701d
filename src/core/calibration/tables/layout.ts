/**
 * How a controller's tables look in the tuner's own program: `tanto.layout/1`. What was said once is known from the second job on: items, units,
 * decimals, directions, what is copied with a table.
 */
import { z } from 'zod';
import { InputError } from '../../input-error.ts';
import { parseWith } from '../../parse.ts';
import { CANONICAL_UNIT } from '../../units/units.ts';
import type { CurveItem, FuelModel, MapItem } from '../document.ts';
import { itemKind } from '../items.ts';

const axis = z.looseObject({ channel: z.string().min(1).max(60), unit: z.string().max(30).optional() });

export const tableLayoutSchema = z.looseObject({
	item: z.string().min(1).max(200),
	/** As the tuner's program calls it. */
	title: z.string().max(200).optional(),
	unit: z.string().max(30).optional(),
	decimals: z.number().int().min(0).max(8).optional(),
	/** `y-up`: the first row has the highest y. */
	rows: z.enum(['y-up', 'y-down']).default('y-down'),
	/** x runs down the rows. */
	transposed: z.boolean().default(false),
	axes: z.enum(['with', 'without']).default('with'),
	x: axis,
	/** Absent for a curve. */
	y: axis.nullish(),
	/** A person pasted it like this; what a starter supposes is asked again. */
	said: z.boolean().optional()
});

export const scalarLayoutSchema = z.looseObject({
	item: z.string().min(1).max(200),
	title: z.string().max(200).optional(),
	unit: z.string().max(30).optional(),
	decimals: z.number().int().min(0).max(8).optional()
});

export const layoutSchema = z.looseObject({
	schema: z.literal('tanto.layout/1'),
	name: z.string().min(1).max(200),
	controller: z
		.looseObject({ hardware: z.string().max(120).optional(), software: z.string().max(120).optional() })
		.optional(),
	fuelModel: z.enum(['pulse-width', 'speed-density', 'maf']),
	tables: z.array(tableLayoutSchema).max(500).default([]),
	scalars: z.array(scalarLayoutSchema).max(500).default([])
});

export type Layout = z.infer<typeof layoutSchema>;
export type TableLayout = z.infer<typeof tableLayoutSchema>;
export type ScalarLayout = z.infer<typeof scalarLayoutSchema>;

/** @throws InputError naming the JSON path of the first fault, and items that stand twice */
export function parseLayout(input: unknown): Layout {
	const layout = parseWith(layoutSchema, input);
	const seen = new Set<string>();
	for (const [list, entries] of [
		['tables', layout.tables],
		['scalars', layout.scalars]
	] as const)
		entries.forEach((e, i) => {
			if (seen.has(e.item)) throw new InputError(`"${e.item}" stands twice`, `${list}[${i}].item`);
			seen.add(e.item);
		});
	return layout;
}

const rpm = { channel: 'rpm', unit: CANONICAL_UNIT.engineSpeed };
const map = { channel: 'map', unit: CANONICAL_UNIT.pressure };
const table = (item: string, more: Partial<TableLayout> = {}): TableLayout => ({
	item,
	unit: itemKind(item)?.unit ?? '',
	decimals: itemKind(item)?.decimals ?? 2,
	rows: 'y-down',
	transposed: false,
	axes: 'with',
	x: rpm,
	y: map,
	...more
});
const curve = (item: string, channel: string, unit: string) => table(item, { x: { channel, unit }, y: null });
const scalar = (item: string): ScalarLayout => ({
	item,
	unit: itemKind(item)?.unit ?? '',
	decimals: itemKind(item)?.decimals ?? 2
});

const COMMON = [table('lambda.target'), table('spark.table')];
const MODELS: Readonly<Record<FuelModel, { name: string; tables: TableLayout[]; scalars: ScalarLayout[] }>> =
	{
		'speed-density': {
			name: 'Starter: fuel by filling of the cylinder',
			tables: [table('fuel.table'), ...COMMON, curve('injector.deadTime', 'vbat', 'V')],
			scalars: [scalar('injector.flow'), scalar('fuel.trim'), scalar('limit.rpm')]
		},
		'pulse-width': {
			name: 'Starter: fuel by pulse',
			tables: [table('fuel.table'), ...COMMON],
			scalars: [scalar('fuel.referencePulse'), scalar('fuel.trim'), scalar('limit.rpm')]
		},
		maf: {
			name: 'Starter: fuel by air meter',
			tables: [curve('maf.curve', 'mafFrequency', 'Hz'), ...COMMON, curve('injector.deadTime', 'vbat', 'V')],
			scalars: [scalar('injector.flow'), scalar('fuel.trim'), scalar('limit.rpm')]
		}
	};

/** A list of what a calibration of this model usually has, for a controller that nobody has described yet. */
export const starterLayout = (fuelModel: FuelModel): Layout => ({
	schema: 'tanto.layout/1',
	fuelModel,
	...MODELS[fuelModel]
});

/** How a table is written that no layout knows: as it stands in its calibration. */
export const asItStands = (item: MapItem | CurveItem): TableLayout => ({
	item: item.id,
	...(item.title ? { title: item.title } : {}),
	...(item.unit ? { unit: item.unit } : {}),
	...(item.decimals === undefined ? {} : { decimals: item.decimals }),
	rows: 'y-up',
	transposed: false,
	axes: 'with',
	x: item.x,
	...(item.kind === 'map' ? { y: item.y } : {})
});
