/** The tabs of a page: those of the log where it shows one, else those of its section. */
import { LOG_PAGES } from '$core/screening/log-pages';
import type { Severity } from '$core/screening/types';
import { placeOf } from './sections';

export interface Tab {
	href: string;
	title: string;
	here: boolean;
	/** The worst that was found on that page. */
	state?: Severity | 'clear';
}

export interface Tabs {
	label: string;
	pages: Tab[];
}

interface Params {
	job?: string | undefined;
	log?: string | undefined;
}

interface Data {
	job?: { vehicle?: { nitrous?: unknown } };
	tabs?: { verdict: Severity | 'clear'; pages: Partial<Record<string, Severity>> } | null;
}

function logTabs(pathname: string, base: string, { job, tabs }: Data): Tab[] {
	// Where nitrous isn't part of the vehicle, its page is only in the way.
	const nitrous = job?.vehicle?.nitrous !== undefined || pathname === `${base}/nitrous`;
	const verdict: Tab = {
		href: base,
		title: 'Verdict',
		here: pathname === base,
		...(tabs ? { state: tabs.verdict } : {})
	};
	return [
		verdict,
		...LOG_PAGES.filter((p) => nitrous || p.path !== '/nitrous').map(({ path, title }): Tab => {
			const state = tabs?.pages[path];
			return { href: base + path, title, here: pathname === base + path, ...(state ? { state } : {}) };
		})
	];
}

/** @returns null where a page has no neighbours */
export function tabsOf(pathname: string, params: Params, data: Data): Tabs | null {
	if (!params.job) return null;
	const job = `/jobs/${params.job}`;
	if (params.log)
		return { label: 'Pages of the log', pages: logTabs(pathname, `${job}/logs/${params.log}`, data) };
	const { section, page } = placeOf(pathname.slice(job.length));
	if (section.pages.length < 2) return null;
	return {
		label: section.title,
		pages: section.pages.map((p) => ({ href: job + p.path, title: p.title, here: p === page }))
	};
}
