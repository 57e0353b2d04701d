import { themeFrom, unitsFrom } from '$lib/server/http/preferences';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = ({ cookies }) => ({
	preferences: { units: unitsFrom(cookies), theme: themeFrom(cookies) }
});
