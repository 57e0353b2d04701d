import { tunerOr401 } from '$lib/server/http/http';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = ({ locals }) => {
	const { name, role } = tunerOr401(locals);
	return { me: name, role };
};
