/** The form of a new job: fields to a vehicle document, or a vehicle document as it is. */
import { z } from 'zod';
import { parseCalibration, type Calibration } from '$core/calibration/document.ts';
import { calibrationFrom } from '$core/calibration/formats/read.ts';
import { FieldErrors, InputError } from '$core/input-error.ts';
import { faultsOf, parseJson, parseWith } from '$core/parse.ts';
import { vehicleFrom, type Vehicle } from '$core/vehicle/document.ts';
import { refuseContrarySeats } from '$core/vehicle/seats.ts';
import { vehicleFromSheet } from '$core/vehicle/sheet.ts';
import type { JobRecord, NewJob } from '$lib/server/jobs/jobs.ts';
import type { Db } from '$lib/server/db/open.ts';
import { field } from './http.ts';
import { revision } from '$lib/server/revisions/revisions.ts';
import { vehicleOfJob } from '$lib/server/jobs/vehicles.ts';

const named = (missing: string) =>
	z
		.string()
		.refine((t) => t !== '', missing)
		.refine((t) => t.length <= 200, 'at most 200 characters');
const aboutSchema = z.object({
	customer: named('the customer needs a name'),
	email: z
		.string()
		.refine(
			(t) => t === '' || z.email().safeParse(t).success,
			'this is no mail address; leave it empty or mend it'
		),
	title: named('the job needs a title')
});
const ABOUT_LABELS = { customer: 'Customer', email: 'Mail address', title: 'Job' };

/** @throws InputError also where the sheet contradicts its channels */
function vehicleIn(text: string): Vehicle {
	const vehicle = vehicleFrom(parseJson(text));
	refuseContrarySeats(vehicle);
	return vehicle;
}

/** The fields of the build sheet as texts, by path. */
export function sheetFields(data: FormData): Record<string, string> {
	const out: Record<string, string> = {};
	for (const [name, value] of data) if (typeof value === 'string') out[name] = value.trim();
	return out;
}

const RECORD_LENGTH = 8000;
const words = z.string().max(RECORD_LENGTH, `at most ${RECORD_LENGTH} characters`);
const recordSchema = z.object({ goals: words, doneBefore: words, agreed: words });

/** @throws InputError when a text is far too long */
export function recordFrom(data: FormData): JobRecord {
	return parseWith(recordSchema, {
		goals: field(data, 'goals'),
		doneBefore: field(data, 'doneBefore'),
		agreed: field(data, 'agreed')
	});
}

async function fileText(data: FormData, name: string): Promise<{ name: string; text: string } | null> {
	const file = data.get(name);
	if (!(file instanceof File) || file.size === 0) return null;
	return { name: file.name, text: await file.text() };
}

function documentFrom<T>(file: { name: string; text: string }, parse: (text: string) => T): T {
	try {
		return parse(file.text);
	} catch (e) {
		if (e instanceof InputError) throw new InputError(e.message, file.name);
		throw e;
	}
}

/** R0 before the first table: it says only how fuel is computed. */
function emptyCalibration(fuelModel: string): Calibration {
	return parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'as received',
		fuelModel: fuelModel || 'speed-density',
		items: []
	});
}

/** R0 out of an earlier job, and its vehicle where that is wanted; `null` where none is named. */
async function earlierFrom(
	data: FormData,
	db: Db
): Promise<{ calibration: Calibration; vehicle: Vehicle | null } | null> {
	const id = field(data, 'fromRevision');
	if (!id) return null;
	const from = /^\d{1,15}$/.test(id) ? await revision(db, Number(id)) : null;
	if (!from || from.state === 'draft') throw new InputError('there is no such revision to start from');
	return {
		calibration: from.calibration,
		vehicle: field(data, 'vehicleToo') === 'on' ? await vehicleOfJob(db, from.jobId) : null
	};
}

/** Who it is for, and the vehicle: what is wrong in either is told at once. */
function aboutAndVehicle(data: FormData, vehicleOf: () => Vehicle) {
	const about = {
		customer: field(data, 'customer'),
		email: field(data, 'email'),
		title: field(data, 'title')
	};
	const problems = Object.fromEntries(faultsOf(aboutSchema, about).map((f) => [f.path, f.problem]));
	try {
		const vehicle = vehicleOf();
		if (Object.keys(problems).length === 0) return { ...about, vehicle };
	} catch (e) {
		if (!(e instanceof FieldErrors) || Object.keys(problems).length === 0) throw e;
		throw new FieldErrors({ ...problems, ...e.fields }, { ...ABOUT_LABELS, ...e.labels });
	}
	throw new FieldErrors(problems, ABOUT_LABELS);
}

/** @throws FieldErrors naming every field, InputError naming the file and the place in it */
export async function newJobFrom(data: FormData, db: Db): Promise<NewJob> {
	const earlier = await earlierFrom(data, db);
	const vehicleFile = await fileText(data, 'vehicleFile');
	const from = field(data, 'calibrationFrom');
	if (from === 'job' && !earlier) throw new InputError('choose the revision that becomes R0 here');
	if (field(data, 'vehicleFrom') === 'file' && !vehicleFile && !earlier?.vehicle)
		throw new InputError('choose the file with the vehicle, or fill the vehicle in here');
	const { customer, email, title, vehicle } = aboutAndVehicle(data, () =>
		earlier?.vehicle
			? earlier.vehicle
			: vehicleFile
				? documentFrom(vehicleFile, vehicleIn)
				: vehicleFromSheet(sheetFields(data))
	);
	const calibrationFile = await fileText(data, 'calibrationFile');
	if (from === 'file' && !calibrationFile)
		throw new InputError('choose the file with the calibration, or paste its tables afterwards');
	const calibration = earlier
		? earlier.calibration
		: calibrationFile
			? documentFrom(calibrationFile, calibrationFrom)
			: emptyCalibration(field(data, 'fuelModel'));
	return { customer, email: email || null, title, vehicle, calibration, record: recordFrom(data) };
}
