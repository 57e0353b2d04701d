/** The calibration as a document: `tanto.calibration/1`. Unknown items and keys are carried faithfully. */
import { z } from 'zod';
import { InputError } from '../input-error.ts';
import { parseWith } from '../parse.ts';

const finite = z.number();
const common = {
	id: z.string().min(1).max(200),
	title: z.string().optional(),
	group: z.string().optional(),
	unit: z.string().optional(),
	min: finite.optional(),
	max: finite.optional(),
	decimals: z.number().int().min(0).max(8).optional()
};

export const axisSchema = z.looseObject({
	channel: z.string(),
	unit: z.string().optional(),
	points: z.array(finite)
});

export const scalarSchema = z.looseObject({ ...common, kind: z.literal('scalar'), value: finite });
export const settingSchema = z.looseObject({
	...common,
	kind: z.literal('setting'),
	value: z.union([z.string(), finite, z.boolean()])
});
export const curveSchema = z.looseObject({
	...common,
	kind: z.literal('curve'),
	x: axisSchema,
	values: z.array(finite)
});
export const mapSchema = z.looseObject({
	...common,
	kind: z.literal('map'),
	x: axisSchema,
	y: axisSchema,
	/** One row per y point, one value per x point. */
	values: z.array(z.array(finite))
});
export const itemSchema = z.discriminatedUnion('kind', [scalarSchema, settingSchema, curveSchema, mapSchema]);

export const blendSchema = z.looseObject({
	item: z.string(),
	channel: z.string(),
	points: z.array(finite),
	members: z.array(z.string())
});

export const calibrationSchema = z.looseObject({
	schema: z.literal('tanto.calibration/1'),
	name: z.string().min(1).max(200),
	vehicle: z.string().optional(),
	fuelModel: z.enum(['pulse-width', 'speed-density', 'maf']),
	items: z.array(itemSchema).max(5000),
	blends: z.array(blendSchema).optional()
});

export type Axis = z.infer<typeof axisSchema>;
export type ScalarItem = z.infer<typeof scalarSchema>;
export type SettingItem = z.infer<typeof settingSchema>;
export type CurveItem = z.infer<typeof curveSchema>;
export type MapItem = z.infer<typeof mapSchema>;
export type Item = z.infer<typeof itemSchema>;
export type Calibration = z.infer<typeof calibrationSchema>;
export type FuelModel = Calibration['fuelModel'];

function checkAxis(axis: Axis, where: string): void {
	if (axis.points.length === 0) throw new InputError('the axis has no points', where);
	for (let i = 1; i < axis.points.length; i++) {
		if (!(axis.points[i]! > axis.points[i - 1]!))
			throw new InputError(
				`axis points have to rise: ${axis.points[i]} comes after ${axis.points[i - 1]}`,
				`${where}[${i}]`
			);
	}
}

/** @throws InputError naming the JSON path of the first fault: shape, axis order, size of tables, doubled ids */
export function parseCalibration(input: unknown): Calibration {
	const calibration = parseWith(calibrationSchema, input);
	const seen = new Set<string>();
	calibration.items.forEach((item, i) => {
		const at = `items[${i}]`;
		if (seen.has(item.id)) throw new InputError(`the item "${item.id}" stands twice`, `${at}.id`);
		seen.add(item.id);
		if (item.kind === 'curve') {
			checkAxis(item.x, `${at}.x.points`);
			if (item.values.length !== item.x.points.length)
				throw new InputError(
					`${item.id} has ${item.values.length} values for ${item.x.points.length} points`,
					`${at}.values`
				);
		} else if (item.kind === 'map') {
			checkAxis(item.x, `${at}.x.points`);
			checkAxis(item.y, `${at}.y.points`);
			if (item.values.length !== item.y.points.length)
				throw new InputError(
					`${item.id} has ${item.values.length} rows for ${item.y.points.length} y points`,
					`${at}.values`
				);
			item.values.forEach((row, r) => {
				if (row.length !== item.x.points.length)
					throw new InputError(
						`row ${r} of ${item.id} has ${row.length} values for ${item.x.points.length} x points`,
						`${at}.values[${r}]`
					);
			});
		}
	});
	calibration.blends?.forEach((b, i) => {
		checkAxis({ channel: b.channel, points: b.points }, `blends[${i}].points`);
		if (b.members.length !== b.points.length)
			throw new InputError(
				`${b.members.length} members for ${b.points.length} points`,
				`blends[${i}].members`
			);
		b.members.forEach((m, k) => {
			if (!seen.has(m)) throw new InputError(`no item is called "${m}"`, `blends[${i}].members[${k}]`);
		});
	});
	return calibration;
}
