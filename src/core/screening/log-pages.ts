/** The pages of a log, and which checks each of them explains: for its tabs, and for what stands at its top. */
import type { SectionId } from './check.ts';
import { checkOf, type CheckCode } from './codes.ts';
import { SEVERITIES, type Severity } from './types.ts';

export interface LogPage {
	/** Behind the address of the log. */
	path: string;
	title: string;
	sections: readonly SectionId[];
	/** Single checks beside those of the sections. */
	also?: readonly CheckCode[];
}

export const LOG_PAGES = [
	{ path: '/map', title: 'Map', sections: ['mixture', 'banks'] },
	{ path: '/knock', title: 'Knock', sections: ['knock'], also: ['cyl.knock'] },
	{ path: '/sensors', title: 'Sensors', sections: ['sensors'], also: ['log.sensor'] },
	{ path: '/cylinders', title: 'Cylinders', sections: ['cylinders'], also: ['misfire'] },
	{ path: '/drivetrain', title: 'Drivetrain', sections: ['drivetrain'] },
	{ path: '/delivered', title: 'Delivered', sections: ['supply', 'air'] },
	{ path: '/nitrous', title: 'Nitrous', sections: ['nitrous'] },
	{ path: '/readiness', title: 'Readiness', sections: ['readiness'] },
	{ path: '/channels', title: 'Channels', sections: [], also: ['log.channels', 'log.units'] }
] as const satisfies readonly LogPage[];

export type LogPagePath = (typeof LOG_PAGES)[number]['path'];

export function logPage(path: LogPagePath): LogPage {
	return LOG_PAGES.find((page) => page.path === path)!;
}

/** The worst of the findings that each page explains, by its path; pages without one, or with notes only, are missing. */
export function worstByPage(
	findings: readonly { code: string; severity: Severity }[]
): Partial<Record<LogPagePath, Severity>> {
	const worst: Partial<Record<LogPagePath, Severity>> = {};
	for (const page of LOG_PAGES as readonly (LogPage & { path: LogPagePath })[]) {
		const about = findings.filter(
			({ code }) =>
				page.also?.some((c) => c === code) || page.sections.some((s) => checkOf(code)?.section === s)
		);
		const found = SEVERITIES.find((s) => s !== 'note' && about.some((f) => f.severity === s));
		if (found) worst[page.path] = found;
	}
	return worst;
}
