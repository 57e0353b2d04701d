/** Reader's choices out of cookies; anything odd is the default. */
import type { Cookies } from '@sveltejs/kit';
import { z } from 'zod';
import { DEFAULT_UNITS, type UnitChoice } from '$core/units/display.ts';

const unitsSchema = z.object({
	mixture: z.enum(['lambda', 'afr-petrol', 'afr-fuel']),
	pressure: z.enum(['kPa', 'psi', 'bar']),
	temperature: z.enum(['°C', '°F']),
	speed: z.enum(['km/h', 'mph']),
	power: z.enum(['kW', 'hp']).default('kW'),
	// Choices that were stored before there was a gauge form have none.
	gauge: z.boolean().default(false)
});

export function unitsFrom(cookies: Cookies): UnitChoice {
	try {
		return unitsSchema.parse(JSON.parse(cookies.get('units') ?? ''));
	} catch {
		return { ...DEFAULT_UNITS };
	}
}

export function themeFrom(cookies: Cookies): 'system' | 'light' | 'dark' {
	const theme = cookies.get('theme');
	return theme === 'dark' || theme === 'light' ? theme : 'system';
}

/** On which kinds of pages the rail of a job is folded to its icons; the draft opens so. */
export function collapsedFrom(cookies: Cookies): { draft: boolean; page: boolean } {
	const chosen = cookies.get('rail') ?? '';
	return { draft: !chosen.includes('draft-open'), page: chosen.includes('page-folded') };
}
