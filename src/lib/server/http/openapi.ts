/** What programs may ask of the server under `/api/v1/`: one description, generated from the schemas that the routes validate with. */
import { z } from 'zod';
import { OUT_FORMATS } from '$core/logfile/write.ts';

import {
	DOCUMENTS,
	ref,
	jsonOf,
	bytes,
	refused,
	query,
	text,
	number,
	choice,
	object,
	type Operation,
	type Shape
} from './openapi-shapes.ts';

const span = [
	query('from', number, 'Seconds of the log.', true),
	query('to', number, 'Seconds of the log.', true)
];
const channels = query('channels', text, 'Canonical ids, comma between, at most 40.', true);
const upload: Operation = {
	summary: 'A piece of a log under the tus protocol 1.0.0, so that a broken connection is taken up again.',
	answer: { description: 'As tus says.' }
};

/** Every route, by its path under `/api/v1` and its method. */
const PATHS: Record<string, Record<string, Operation>> = {
	'/openapi.json': {
		get: { summary: 'This description.', answer: jsonOf({ type: 'object' }, 'OpenAPI 3.1.') }
	},
	'/jobs/{job}/swaps': {
		get: {
			summary: 'Swap tests of a job with their answers, oldest first.',
			answer: jsonOf(object({ swaps: { type: 'array', items: { type: 'object' } } }), 'The tests.')
		},
		post: {
			summary: 'Begins a swap test; the next log of the job answers it.',
			body: jsonOf(object({ swap: ref('Swap'), before: number }), 'The test, and the log before it.'),
			answer: jsonOf(object({ id: number }), 'Its number.'),
			status: 201
		}
	},
	'/jobs/{job}/plugs': {
		get: {
			summary: 'Readings of plugs, the newest first, and what the newest asks for.',
			answer: jsonOf(
				object({
					readings: { type: 'array', items: object({ plugs: ref('Plugs') }) },
					answer: { type: ['object', 'null'] }
				}),
				'Readings and answer.'
			)
		},
		post: {
			summary: 'Keeps a reading of plugs.',
			body: jsonOf(
				object({ plugs: ref('Plugs'), revision: number }),
				'The reading, what was in the car, and (optional) a log of the same session as `log`.'
			),
			answer: jsonOf(object({ id: number }), 'Its number.'),
			status: 201
		}
	},
	'/jobs/{job}/maxima': {
		get: {
			summary: 'Maxima typed without a log, the newest first, each against its limit.',
			answer: jsonOf(
				object({ readings: { type: 'array', items: object({ reading: ref('Maxima') }) } }),
				'Readings.'
			)
		},
		post: {
			summary: 'Keeps a reading of maxima.',
			body: jsonOf(
				object({ maxima: ref('Maxima'), revision: number }),
				'The reading, and what was in the car.'
			),
			answer: jsonOf(object({ id: number }), 'Its number.'),
			status: 201
		}
	},
	'/jobs/{job}/goal': {
		get: {
			summary: 'What the job is to reach, in numbers.',
			answer: jsonOf(ref('Goal'), 'The goal.')
		},
		put: {
			summary: 'Replaces the goal.',
			body: jsonOf(ref('Goal'), 'The goal.'),
			answer: jsonOf(ref('Goal'), 'The goal as it is kept.')
		}
	},
	'/jobs/{job}/ladder': {
		get: {
			summary: 'The next step towards the goal, with its gates; no changes while one of them is closed.',
			answer: jsonOf({ type: 'object' }, 'Rung, gates, changes, end.')
		}
	},
	'/jobs/{job}/fuel-plan': {
		get: {
			summary: 'How far injectors and pump go for the goal of the job.',
			parameters: [query('log', number, 'A log to plan from; from figures when missing.')],
			answer: jsonOf({ type: 'object' }, 'The plan.')
		}
	},
	'/jobs/{job}/requirement': {
		get: {
			summary: 'What the engine wants of the fuel table, by all logs of the job that still speak.',
			parameters: [
				query('revision', number, 'The revision whose table is meant; the current one when missing.'),
				query('format', choice('json', 'csv'), 'CSV: one line a cell, with its standard deviation.')
			],
			answer: jsonOf(
				object({
					requirement: { anyOf: [ref('Requirement'), { type: 'null' }] },
					next: { type: 'array', items: { type: 'object' } },
					logIds: { type: 'array', items: number }
				}),
				'The requirement, the drives that would settle most, and the logs that were asked.'
			)
		}
	},
	'/jobs/{job}/logs': {
		put: {
			summary: 'Receives a log; it is read and screened at once. The same bytes twice are one log.',
			parameters: [query('name', text, 'Name of the file.', true)],
			body: bytes('The file as it is.'),
			answer: jsonOf(object({ id: number, state: text }), 'Received.'),
			status: 201
		}
	},
	'/jobs/{job}/archive': {
		get: {
			summary:
				'The whole job as one ZIP that another Tanto takes in: record, logs as received, photos, closed files.',
			answer: bytes('The archive.', 'application/zip')
		}
	},
	'/layouts/{layout}/kit': {
		put: {
			summary:
				'Adds a file to the recording kit of a controller: a channel set, a gauge layout, a picture. One of the same name is replaced.',
			parameters: [query('name', text, 'Name of the file.', true)],
			body: bytes('The file as it is.'),
			answer: jsonOf(object({ sha256: text, bytes: number }), 'Kept.'),
			status: 201
		}
	},
	'/archives': {
		put: {
			summary:
				'Takes a job in out of the archive of another Tanto, all of it or none; its logs are read anew.',
			body: bytes('The archive.', 'application/zip'),
			answer: jsonOf(object({ job: number }), 'Number of the job here.'),
			status: 201
		}
	},
	'/jobs/{job}/uploads/{id}': { post: upload, patch: upload, head: upload, delete: upload },
	'/diagnosis': {
		get: {
			summary: 'How the server is, without anything of customers: versions, counts, sizes. The owner’s.',
			answer: jsonOf({ type: 'object' }, 'tanto.diagnosis/1')
		}
	},
	'/settings/{key}': {
		put: {
			summary: 'Keeps a setting of who is signed in.',
			body: { content: { 'application/json': { schema: {} } } },
			answer: jsonOf(object({ saved: text }), 'Kept.')
		}
	},
	'/logs/{log}': {
		get: {
			summary: 'State of a log and, once it is screened, its report.',
			answer: jsonOf(
				object({
					state: choice('received', 'reading', 'screened', 'failed'),
					progress: number,
					message: { type: ['string', 'null'] },
					report: { anyOf: [ref('Report'), { type: 'null' }] }
				}),
				'The log.'
			)
		}
	},
	'/logs/{log}/columns': {
		get: {
			summary: 'All columns as stored, for looking into the log in a browser.',
			answer: bytes('Packed columns.')
		}
	},
	'/logs/{log}/export': {
		get: {
			summary: 'The log, or a span of it, with canonical channels.',
			parameters: [
				query('format', choice(...Object.keys(OUT_FORMATS)), 'Form of the file.', true),
				query('from', number, 'Seconds; 0 when missing.'),
				query('to', number, 'Seconds; the end when missing.'),
				query('units', choice('mine', 'canonical'), 'The reader’s units, or canonical ones.')
			],
			answer: bytes('The file.')
		}
	},
	'/logs/{log}/proposal': {
		post: {
			summary: 'What the log proposes for the next revision; nothing is stored.',
			body: { content: { 'application/json': { schema: ref('Strategy') } } },
			answer: jsonOf(ref('Proposal'), 'The proposal.')
		}
	},
	'/logs/{log}/pulls/{pull}': {
		get: {
			summary: 'Curves of one pull over engine speed, counted from 0.',
			answer: jsonOf({ type: 'object' }, 'Curves by name.')
		}
	},
	'/logs/{log}/stats': {
		get: {
			summary: 'Lowest, mean and highest of channels between two moments.',
			parameters: [channels, ...span],
			answer: jsonOf({ type: 'object' }, 'By channel.')
		}
	},
	'/logs/{log}/trace': {
		get: {
			summary: 'Channels between two moments, thinned to minimum and maximum of buckets.',
			parameters: [
				channels,
				...span,
				query('points', { type: 'integer', minimum: 10, maximum: 4000 }, 'Buckets.', true)
			],
			answer: jsonOf({ type: 'object' }, 'By channel.')
		}
	},
	'/find': {
		get: {
			summary: 'Jobs and customers by any of their words.',
			parameters: [query('q', text, 'Words; every one has to stand somewhere.', true)],
			answer: jsonOf(object({ found: { type: 'array', items: { type: 'object' } } }), 'At most twelve.')
		}
	},
	'/customers/{customer}/record': {
		get: {
			summary: 'Everything of a customer as one ZIP.',
			parameters: [],
			answer: bytes('record.json, the logs as they were received, photos, closed files.')
		}
	},
	'/logs/{log}/recorders': {
		put: {
			summary: 'Joins the file of a second recorder to a log, aligned by engine speed, else road speed.',
			parameters: [query('name', text, 'Name of the file.', true)],
			body: bytes('The file as the instrument wrote it, at most 64 MB.'),
			answer: jsonOf(
				object({
					offsetS: number,
					offsetSe: number,
					rate: number,
					rateSe: number,
					correlation: number,
					overlapS: number,
					shared: choice('rpm', 'speed'),
					channels: { type: 'array', items: text }
				}),
				'Joined; the log is read again with it.'
			),
			status: 201
		}
	},
	'/revisions/{rev}/attachments': {
		put: {
			summary: 'Attaches a closed file to a draft, or to a released revision: then the customer is told.',
			parameters: [
				query('name', text, 'Name of the file.', true),
				query('hardware', text, 'Controller it is for.', true),
				query('software', text, 'Software it is for.', true),
				query('confirmed', text, '1: it holds what the tables say; needed after the release.')
			],
			body: bytes('The file as it is; never read into.'),
			answer: jsonOf(object({ sha256: text, bytes: number, id: number }), 'Attached.'),
			status: 201
		}
	},
	'/revisions/{rev}/calibration': {
		get: {
			summary: 'The calibration, or its tables.',
			parameters: [
				query('format', choice('json', 'cdf', 'csv'), 'json when missing.'),
				query('item', text, 'One table, for csv.')
			],
			answer: jsonOf(ref('Calibration'), 'As JSON; CDF 2.0 XML or CSV by `format`.')
		}
	},
	'/revisions/{rev}/changes': {
		put: {
			summary:
				'Replaces the changes of a draft. Names the version that they were made on; 409 with what is stored when another save came first.',
			body: { content: { 'application/json': { schema: ref('DraftBody') } } },
			answer: jsonOf(object({ version: number }), 'Stored, as this version.')
		}
	},
	'/revisions/{rev}/compare': {
		get: {
			summary: 'This revision against another one, of any job.',
			parameters: [query('with', number, 'Number of the other revision in the database.', true)],
			answer: jsonOf(ref('Comparison'), 'From the other one to this.')
		}
	},
	'/revisions/{rev}/replay': {
		get: {
			summary: 'A log of the job as it would have been with this revision.',
			parameters: [query('log', number, 'The newest one made with its parent when missing.')],
			answer: jsonOf(ref('Replay'), 'The replay.')
		}
	},
	'/revisions/{rev}/report': {
		get: {
			summary: 'What changed against another revision, line by line.',
			parameters: [query('from', number, 'The other revision.', true)],
			answer: bytes('CSV.', 'text/csv')
		}
	}
};

function operation(path: string, { summary, parameters = [], body, answer, status = 200 }: Operation): Shape {
	const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
		name,
		in: 'path',
		required: true,
		schema: text
	}));
	return {
		summary,
		parameters: [...inPath, ...parameters],
		...(body ? { requestBody: { required: true, ...body } } : {}),
		responses: {
			[status]: answer,
			400: refused,
			401: jsonOf({ type: 'object' }, 'Nobody is signed in.'),
			404: jsonOf({ type: 'object' }, 'There is no such thing.')
		}
	};
}

export function openApi(): Shape {
	return {
		openapi: '3.1.0',
		info: {
			title: 'Tanto',
			version: '1',
			description:
				'The same computations as the pages and the commands. Sign in at /sign-in first: the session cookie is what lets in. Numbers are in canonical units.'
		},
		servers: [{ url: '/api/v1' }],
		paths: Object.fromEntries(
			Object.entries(PATHS).map(([path, methods]) => [
				path,
				Object.fromEntries(Object.entries(methods).map(([m, o]) => [m, operation(path, o)]))
			])
		),
		components: {
			schemas: Object.fromEntries(
				Object.entries(DOCUMENTS).map(([name, schema]) => {
					const { $schema, ...rest } = z.toJSONSchema(schema as z.ZodType, { io: 'input' });
					void $schema;
					return [name, rest];
				})
			)
		}
	};
}
