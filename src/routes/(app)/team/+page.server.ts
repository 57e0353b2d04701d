import { error, redirect } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { addressFrom, changeFrom } from '$lib/server/http/account-form';
import { changePassword, resetToken } from '$lib/server/auth/passwords';
import { removeTuner, signOut, signOutEverywhere, tuners } from '$lib/server/auth/accounts';
import { invite, openInvitations, withdrawInvitation } from '$lib/server/auth/invitations';
import { field, orFail, tunerOr401 } from '$lib/server/http/http';
import { saveWorkshopSetting, workshopSetting } from '$lib/server/jobs/workshop';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => ({
	me: tunerOr401(locals),
	tuners: await tuners(locals.app.db),
	invitations: await openInvitations(locals.app.db),
	offersTables: await workshopSetting(locals.app.db, 'offersTables')
});

function owner(locals: App.Locals) {
	const tuner = tunerOr401(locals);
	if (tuner.role !== 'owner') error(403, 'Only the owner invites and removes tuners.');
	return tuner;
}

export const actions: Actions = {
	invite: async ({ request, locals, url }) => {
		const me = owner(locals);
		const data = await request.formData();
		return orFail(
			async () => {
				const email = addressFrom(data);
				const role = field(data, 'role') === 'apprentice' ? 'apprentice' : 'tuner';
				const token = await invite(locals.app.db, email, me.id, role);
				const link = `${url.origin}/join/${token}`;
				await locals.app.mailer.put(locals.app.db, {
					jobId: null,
					to: email,
					subject: 'Your account at Tanto',
					body: `${me.name} invites you to work with Tanto.\n\nMake your account here, within seven days:\n${link}\n`
				});
				locals.app.mailer.wake();
				return { invited: email, link, mailed: locals.app.mailer.off === null };
			},
			{ email: field(data, 'email') }
		);
	},
	/** What a release offers the customer, where nobody says otherwise. */
	offers: async ({ request, locals }) => {
		owner(locals);
		const tables = field(await request.formData(), 'tables') === 'on';
		await saveWorkshopSetting(locals.app.db, 'offersTables', tables);
		return { saved: true };
	},
	/** Another password for oneself. */
	password: async ({ request, cookies, locals }) => {
		const data = await request.formData();
		return orFail(async () => {
			await changePassword(locals.app.auth, request, cookies, changeFrom(data));
			return { passwordChanged: true };
		});
	},
	/** A link with which a tuner who forgot the password sets a new one. */
	reset: async ({ request, locals, url }) => {
		const { db, auth } = locals.app;
		const id = field(await request.formData(), 'id');
		return orFail(async () => {
			const tuner = (await tuners(db)).find((t) => t.id === id);
			const token = tuner && (await resetToken(auth, tuner.email));
			if (!token) throw new InputError('there is no such tuner any more');
			return { resetFor: tuner.name, resetLink: `${url.origin}/reset/${token}` };
		});
	},
	withdraw: async ({ request, locals }) => {
		owner(locals);
		await withdrawInvitation(locals.app.db, Number(field(await request.formData(), 'id')));
	},
	remove: async ({ request, locals }) => {
		owner(locals);
		await removeTuner(locals.app.db, field(await request.formData(), 'id'));
	},
	signOut: async ({ request, cookies, locals }) => {
		await signOut(locals.app.auth, request, cookies);
		redirect(303, '/sign-in');
	},
	everywhere: async ({ request, cookies, locals }) => {
		await signOutEverywhere(locals.app.db, tunerOr401(locals).id);
		await signOut(locals.app.auth, request, cookies);
		redirect(303, '/sign-in');
	}
};
