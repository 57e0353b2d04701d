import { error } from '@sveltejs/kit';
import type { PageServerLoad } from './$types';

/** For whoever builds the interface: in the demo alone. */
export const load: PageServerLoad = ({ locals }) => {
	if (!locals.app.demo) error(404, 'There is no such page.');
};
