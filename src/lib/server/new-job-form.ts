/** The form that takes a job on: fields to a vehicle document, or a vehicle document as it is. */
import { z } from 'zod';
import { parseCalibration, type Calibration } from '../../core/calibration/document.ts';
import { InputError } from '../../core/input-error.ts';
import { parseJson, parseWith } from '../../core/parse.ts';
import { parseVehicle, type Vehicle } from '../../core/vehicle.ts';
import type { NewJob } from './jobs.ts';
import { field } from './http.ts';

const about = z.object({
	customer: z.string().min(1, 'the customer needs a name').max(200),
	email: z.union([z.literal(''), z.email('this is no mail address')]),
	title: z.string().min(1, 'the job needs a title').max(200)
});

function number(data: FormData, name: string, label: string): number | undefined {
	const text = field(data, name);
	if (text === '') return undefined;
	const v = Number(text.replace(',', '.'));
	if (!Number.isFinite(v)) throw new InputError(`"${text}" is not a number`, label);
	return v;
}

/** Drops what was left empty, so that a document only says what is known. */
function known<T extends Record<string, unknown>>(part: T): T | undefined {
	const entries = Object.entries(part).filter(([, v]) => v !== undefined && v !== '');
	return entries.length ? (Object.fromEntries(entries) as T) : undefined;
}

function gears(data: FormData): number[] | undefined {
	const text = field(data, 'gears');
	if (!text) return undefined;
	return text
		.split(/[\s;]+/)
		.filter(Boolean)
		.map((g) => {
			const v = Number(g.replace(',', '.'));
			if (!(v > 0))
				throw new InputError(`"${g}" is not a gear ratio; write them like 3.4 2.1 1.45`, 'Gear ratios');
			return v;
		});
}

function vehicleFromFields(data: FormData): Vehicle {
	return parseVehicle({
		schema: 'tanto.vehicle/1',
		name: field(data, 'vehicleName'),
		engine: known({
			layout: field(data, 'layout'),
			cylinders: number(data, 'cylinders', 'Cylinders'),
			displacementL: number(data, 'displacementL', 'Displacement'),
			compressionRatio: number(data, 'compressionRatio', 'Compression'),
			injection: field(data, 'injection'),
			aspiration: field(data, 'aspiration'),
			idleRpm: number(data, 'idleRpm', 'Idle speed'),
			revLimitRpm: number(data, 'revLimitRpm', 'Rev limit')
		}),
		controller: known({
			hardware: field(data, 'hardware'),
			software: field(data, 'software'),
			learnedTrimAtFullLoad: field(data, 'learnedTrim')
		}),
		transmission: known({
			gears: gears(data),
			finalDrive: number(data, 'finalDrive', 'Final drive'),
			tyreCircumferenceM: number(data, 'tyre', 'Tyre circumference')
		}),
		fuel: known({
			name: field(data, 'fuelName'),
			ethanolPct: number(data, 'ethanolPct', 'Ethanol'),
			octaneRon: number(data, 'octaneRon', 'Octane')
		}),
		injectors: known({
			flowCcMin: number(data, 'flowCcMin', 'Injector flow'),
			ratedPressureKpa: number(data, 'ratedPressureKpa', 'Rated pressure'),
			basePressureKpa: number(data, 'basePressureKpa', 'Base pressure'),
			injectionsPerCycle: number(data, 'injectionsPerCycle', 'Injections per cycle'),
			pressureReference: field(data, 'pressureReference'),
			windowDeg: number(data, 'windowDeg', 'Injection window')
		})
	});
}

async function fileText(data: FormData, name: string): Promise<{ name: string; text: string } | null> {
	const file = data.get(name);
	if (!(file instanceof File) || file.size === 0) return null;
	return { name: file.name, text: await file.text() };
}

async function documentFrom<T>(
	file: { name: string; text: string },
	parse: (input: unknown) => T
): Promise<T> {
	try {
		return parse(parseJson(file.text));
	} catch (e) {
		if (e instanceof InputError) throw new InputError(e.message, file.name);
		throw e;
	}
}

/** @throws InputError naming the field, or the file and the place in it */
export async function newJobFrom(data: FormData): Promise<NewJob> {
	const { customer, email, title } = parseWith(about, {
		customer: field(data, 'customer'),
		email: field(data, 'email'),
		title: field(data, 'title')
	});
	const vehicleFile = await fileText(data, 'vehicleFile');
	const vehicle = vehicleFile ? await documentFrom(vehicleFile, parseVehicle) : vehicleFromFields(data);
	const calibrationFile = await fileText(data, 'calibrationFile');
	if (!calibrationFile)
		throw new InputError(
			'the calibration that is in the car now is missing; it becomes R0',
			'Baseline calibration'
		);
	const calibration: Calibration = await documentFrom(calibrationFile, parseCalibration);
	return { customer, email: email || null, title, vehicle, calibration };
}
