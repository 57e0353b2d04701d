/** The sections of a job and their pages: the rail, the tabs of a section and the command list are made from this. */

export type SectionId = 'overview' | 'logs' | 'calibration' | 'diagnosis' | 'plan' | 'vehicle' | 'customer';

export interface SectionPage {
	/** Behind the address of the job. */
	path: string;
	title: string;
	/** By what else people call it, for the command list. */
	also?: string;
}

export interface JobSection {
	id: SectionId;
	title: string;
	/** The first one is where the rail leads to. */
	pages: readonly SectionPage[];
}

export const JOB_SECTIONS: readonly JobSection[] = [
	{ id: 'overview', title: 'Overview', pages: [{ path: '', title: 'Overview' }] },
	{
		id: 'logs',
		title: 'Logs',
		pages: [{ path: '/logs', title: 'Newest log' }]
	},
	{
		id: 'calibration',
		title: 'Calibration',
		pages: [
			{ path: '/revisions', title: 'Revisions', also: 'draft' },
			{ path: '/tables', title: 'Tables', also: 'paste import' },
			{ path: '/evidence', title: 'Requirement', also: 'evidence required correction' },
			{ path: '/ladder', title: 'Ladder', also: 'steps boost timing' }
		]
	},
	{
		id: 'diagnosis',
		title: 'Diagnosis',
		pages: [
			{ path: '/cause', title: 'Root cause', also: 'swap test' },
			{ path: '/cylinders', title: 'Cylinders' },
			{ path: '/plugs', title: 'Plugs' }
		]
	},
	{
		id: 'plan',
		title: 'Plan',
		pages: [
			{ path: '/plan', title: 'Drive plan', also: 'ask for a log' },
			{ path: '/fuel', title: 'Targets and fuel', also: 'goal injectors pump ethanol' }
		]
	},
	{
		id: 'vehicle',
		title: 'Vehicle',
		pages: [
			{ path: '/vehicle', title: 'Sheet', also: 'vehicle' },
			{ path: '/vehicle/injectors', title: 'Other injectors', also: 'rescale new injectors flow dead time' },
			{ path: '/limits', title: 'Limits' },
			{ path: '/maxima', title: 'Maxima', also: 'since last cleared duty knock typed numbers' },
			{ path: '/inspection', title: 'Inspection' }
		]
	},
	{
		id: 'customer',
		title: 'Customer',
		pages: [
			{ path: '/messages', title: 'Messages', also: 'note write' },
			{ path: '/advice', title: 'Send advice' },
			{ path: '/summary', title: 'Report', also: 'summary print' }
		]
	}
];

/** Pages that belong to a tab without being one. */
const WITHIN: readonly [string, string][] = [
	['/compare-logs', '/logs'],
	['/compare', '/revisions']
];

/**
 * @param rest of an address, behind that of the job: `/plugs`, `/logs/3/map`
 * @returns the section and the tab in which this page stands
 */
export function placeOf(rest: string): { section: JobSection; page: SectionPage } {
	const path = WITHIN.find(([within]) => rest.startsWith(within))?.[1] ?? rest;
	// The longest that fits: a page may stand under another one.
	const all = JOB_SECTIONS.flatMap((section) => section.pages.map((page) => ({ section, page })));
	all.sort((a, b) => b.page.path.length - a.page.path.length);
	for (const place of all)
		if (place.page.path !== '' && `${path}/`.startsWith(`${place.page.path}/`)) return place;
	const overview = JOB_SECTIONS[0]!;
	return { section: overview, page: overview.pages[0]! };
}
