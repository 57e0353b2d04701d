import { tunerOr401 } from '$lib/server/http';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = ({ locals }) => ({ me: tunerOr401(locals).name });
