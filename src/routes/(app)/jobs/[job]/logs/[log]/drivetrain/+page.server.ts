import { evidencePage } from '$lib/server/http/evidence-page';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ params, locals }) => evidencePage(locals.app, params, '/drivetrain');
