/**
 * Who may do what: one table over every request that changes something. An apprentice prepares: drafts, readings, notes. What goes to a customer, changes
 * what is judged by, answers a finding, opens or closes a link, or throws away what others made is a tuner's. The team is the owner's.
 */
import type { Role } from './accounts.ts';

const EVERYBODY: readonly string[] = [
	'/(app)/jobs/new default',
	'/(app)/jobs/[job] record',
	'/(app)/jobs/[job] note',
	'/(app)/jobs/[job]/messages note',
	'/(app)/jobs/[job]/tables keep',
	'/(app)/jobs/[job]/tables values',
	'/(app)/jobs/[job]/tables drop',
	'/(app)/jobs/[job]/tables file',
	'/(app)/jobs/[job]/tables layout',
	'/(app)/jobs/[job]/maxima keep',
	'/(app)/jobs/[job]/plugs read',
	'/(app)/jobs/[job]/plugs propose',
	'/(app)/jobs/[job]/ladder take',
	'/(app)/jobs/[job]/fuel goal',
	'/(app)/jobs/[job]/fuel stage',
	'/(app)/jobs/[job]/fuel fill',
	'/(app)/jobs/[job]/logs/[log] layout',
	'/(app)/jobs/[job]/logs/[log] propose',
	'/(app)/jobs/[job]/logs/[log] restate',
	'/(app)/jobs/[job]/logs/[log] again',
	'/(app)/jobs/[job]/logs/[log]/readiness measure',
	'/(app)/jobs/[job]/logs/[log]/readiness take',
	'/(app)/jobs/[job]/logs/[log]/channels assign',
	'/(app)/jobs/[job]/logs/[log]/sensors type',
	'/(app)/jobs/[job]/logs/[log]/sensors untype',
	'/(app)/jobs/[job]/logs/[log]/sensors conditions',
	'/(app)/jobs/[job]/logs/[log]/sensors takeOff',
	'/(app)/jobs/[job]/compare table',
	'/(app)/jobs/[job]/compare file',
	'/(app)/jobs/[job]/revisions/[rev] draft',
	'/(app)/jobs/[job]/revisions/[rev]/carry prove',
	'/(app)/jobs/[job]/revisions/[rev]/carry take',
	'/(app)/jobs/[job]/revisions/[rev]/carry round',
	'/(app)/jobs/[job]/revisions/[rev]/release detach',
	'/(app)/jobs/[job]/compare-logs addSlip',
	'/(app)/jobs/[job]/compare-logs removeSlip',
	'/(app)/jobs/[job]/vehicle default',
	'/(app)/jobs/[job]/vehicle/injectors plan',
	'/(app)/jobs/[job]/vehicle/injectors take',
	'/(app)/jobs/[job]/evidence hardware',
	'/(app)/jobs/[job]/cause bind',
	'/(app)/jobs/[job]/cause drop',
	'/(app)/practice start',
	'/(app)/practice/[session] log',
	'/(app)/practice/[session] judge',
	'/(app)/practice/[session] cure',
	'/(app)/practice/[session] end',
	'/(app)/layouts import',
	'/(app)/layouts copy',
	'/(app)/layouts drop',
	'/(app)/team password',
	'/(app)/team signOut',
	'/(app)/team everywhere',
	'/(app)/customers/[customer] save',
	'/api/v1/jobs/[job]/goal PUT',
	'/api/v1/jobs/[job]/maxima POST',
	'/api/v1/jobs/[job]/plugs POST',
	'/api/v1/jobs/[job]/logs PUT',
	'/api/v1/jobs/[job]/uploads/[...id] POST',
	'/api/v1/jobs/[job]/uploads/[...id] PATCH',
	'/api/v1/jobs/[job]/uploads/[...id] DELETE',
	'/api/v1/settings/[key] PUT',
	'/api/v1/logs/[log]/proposal POST',
	'/api/v1/logs/[log]/recorders PUT',
	'/api/v1/revisions/[rev]/changes PUT',
	// A file for a draft; one that comes after the release is asked about where it is taken in.
	'/api/v1/revisions/[rev]/attachments PUT'
];

const TUNERS: readonly string[] = [
	'/(app)/jobs/[job] message',
	'/(app)/jobs/[job] link',
	'/(app)/jobs/[job] assign',
	'/(app)/jobs/[job]/messages message',
	'/(app)/jobs/[job]/messages link',
	'/(app)/jobs/[job]/messages revoke',
	'/(app)/jobs/[job]/maxima drop',
	'/(app)/jobs/[job]/limits default',
	'/(app)/jobs/[job]/plan ask',
	'/(app)/jobs/[job]/plan keep',
	'/(app)/jobs/[job]/plan forget',
	'/(app)/jobs/[job]/advice default',
	'/(app)/jobs/[job]/summary done',
	'/(app)/jobs/[job]/summary archive',
	'/(app)/jobs/[job]/summary reopen',
	'/(app)/jobs/[job]/logs/[log] answer',
	'/(app)/jobs/[job]/logs/[log] takeBack',
	'/(app)/jobs/[job]/logs/[log] decline',
	'/(app)/jobs/[job]/logs/[log] takeOut',
	'/(app)/jobs/[job]/logs/[log] remove',
	'/(app)/jobs/[job]/logs/[log]/knock start',
	'/(app)/jobs/[job]/logs/[log]/knock step',
	'/(app)/jobs/[job]/evidence leaveOut',
	'/(app)/jobs/[job]/cause begin',
	'/(app)/jobs/[job]/revisions/[rev] withdraw',
	'/(app)/jobs/[job]/revisions/[rev] tables',
	'/(app)/jobs/[job]/revisions/[rev] discard',
	'/(app)/jobs/[job]/revisions/[rev]/release release',
	'/(app)/customers/[customer] delete',
	'/(app)/mail again',
	'/api/v1/jobs/[job]/swaps POST',
	'/api/v1/archives PUT',
	'/(app)/layouts/[layout]/kit steps',
	'/(app)/layouts/[layout]/kit remove',
	'/api/v1/layouts/[layout]/kit PUT'
];

const OWNERS: readonly string[] = [
	'/(app)/team invite',
	'/(app)/team withdraw',
	'/(app)/team remove',
	'/(app)/team reset',
	'/(app)/team offers',
	'/(app)/ways choose'
];

const LEAST: ReadonlyMap<string, Role> = new Map([
	...EVERYBODY.map((key) => [key, 'apprentice'] as const),
	...TUNERS.map((key) => [key, 'tuner'] as const),
	...OWNERS.map((key) => [key, 'owner'] as const)
]);
const RANK: Record<Role, number> = { apprentice: 0, tuner: 1, owner: 2 };

/** Everything that is in the table, for whoever walks the routes. */
export const GUARDED: ReadonlySet<string> = new Set(LEAST.keys());

/**
 * What a request does, as the table names it; `null` for one that changes nothing.
 * @param routeId of a page or an address for programs @param query of the address: it names the action of a form
 */
export function deedOf(routeId: string, method: string, query: URLSearchParams): string | null {
	if (method === 'GET' || method === 'HEAD' || method === 'OPTIONS') return null;
	if (routeId.startsWith('/api/')) return `${routeId} ${method}`;
	const action = [...query.keys()].find((key) => key.startsWith('/'));
	return `${routeId} ${action?.slice(1) ?? 'default'}`;
}

/** @returns why this is not for somebody of this role; `null` where it is. What the table doesn't know is for nobody. */
export function refusedTo(role: Role, deed: string): string | null {
	const least = LEAST.get(deed);
	if (least === undefined) return 'There is no such thing to do here.';
	if (RANK[role] >= RANK[least]) return null;
	return least === 'owner'
		? 'Only the owner does this.'
		: 'An apprentice prepares; a tuner looks at it, and does this.';
}
