import { error } from '@sveltejs/kit';
import { CURES } from '$core/practice/cures';
import { LEVELS, levelOf, sceneOf } from '$core/practice/levels';
import { SUBJECTS, SUBJECT_IDS, type SubjectId } from '$core/practice/subjects';
import { InputError } from '$core/input-error';
import { fuelStoich } from '$core/vehicle/facts';
import type { App } from '$lib/server/context';
import { field, idOf, orFail, tunerOr401 } from '$lib/server/http/http';
import {
	askForCure,
	askForLog,
	endPractice,
	judge,
	logToJudge,
	sessionById,
	whoms,
	type PracticeSession
} from '$lib/server/use-cases/practice';
import { currentRevision, revisionsOf } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

async function sessionOr404(app: App, id: string): Promise<PracticeSession> {
	return (await sessionById(app.db, idOf(id))) ?? error(404, 'There is no such practice.');
}

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const s = await sessionOr404(locals.app, params.session);
	const level = levelOf(s.level)!;
	const scene = sceneOf(level, s.seed);
	const waiting = s.endedAt ? null : await logToJudge(db, s);
	const draft = (await revisionsOf(db, s.jobId)).find((r) => r.state === 'draft');
	return {
		session: { id: s.id, jobId: s.jobId, seed: s.seed, endedAt: s.endedAt, ...s.state },
		level: {
			id: level.id,
			title: level.title,
			teaches: level.teaches,
			words: level.words,
			last: level.id === LEVELS.length
		},
		vehicle: scene.vehicle.name,
		stoich: fuelStoich(scene.vehicle),
		whoms: whoms(s),
		current: (await currentRevision(db, s.jobId)).number,
		draft: draft ? { id: draft.id, number: draft.number } : null,
		// Of the log nothing but its curves: what Tanto found in it comes after the trainee's own word.
		waiting: waiting && {
			id: waiting.log.id,
			state: waiting.log.state,
			pulls: waiting.screening?.pulls ?? [],
			channels: waiting.screening?.report.log ?? null,
			profile: waiting.screening?.profile ?? null
		},
		subjects: SUBJECTS.map(({ id, title, whom }) => ({ id, title, whom })),
		cures: CURES.map(({ id, title }) => ({ id, title }))
	};
};

const VERDICTS = ['stop', 'fix', 'watch', 'clear'] as const;

export const actions: Actions = {
	log: async ({ params, locals }) => {
		const s = await sessionOr404(locals.app, params.session);
		tunerOr401(locals);
		return orFail(async () => ({ asked: await askForLog(locals.app, s) }));
	},
	judge: async ({ params, locals, request }) => {
		const s = await sessionOr404(locals.app, params.session);
		const data = await request.formData();
		const named = data.getAll('subject').map(String);
		const verdict = VERDICTS.find((v) => v === field(data, 'verdict'));
		const entered = { verdict: field(data, 'verdict') };
		return orFail(async () => {
			if (!verdict) throw new InputError('choose a verdict', 'verdict');
			const claims = SUBJECT_IDS.filter((id) => named.includes(id)).map((subject: SubjectId) => {
				const whom = Number(field(data, `whom.${subject}`));
				return whom > 0 ? { subject, whom } : { subject };
			});
			await judge(locals.app.db, s, { verdict, claims });
			return { judged: true };
		}, entered);
	},
	cure: async ({ params, locals, request }) => {
		const s = await sessionOr404(locals.app, params.session);
		const cure = field(await request.formData(), 'cure');
		return orFail(async () => {
			await askForCure(locals.app.db, s, cure);
			return { asked: cure };
		});
	},
	end: async ({ params, locals }) => {
		const s = await sessionOr404(locals.app, params.session);
		return orFail(async () => {
			await endPractice(locals.app, s);
			return { ended: true };
		});
	}
};
