/** The pages of a log, and which checks each of them explains. Every page of the browser loads this: no check itself comes along. */
import type { SectionId } from './check.ts';
import type { CheckCode } from './codes.ts';

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
