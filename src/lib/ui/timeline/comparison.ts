/** Two beads of the string set against each other. */
import type { TimelineEvent } from '$lib/server/jobs/timeline-event';

type Bead = Pick<TimelineEvent, 'kind' | 'id' | 'state'>;

const UNREAD: readonly string[] = ['failed', 'received', 'reading'];

export const isComparable = ({ kind, state }: Bead): boolean =>
	kind === 'revision' || (kind === 'log' && !UNREAD.includes(state));

/**
 * Where two beads are compared: two revisions cell by cell, two logs pull by pull; of a log and a revision what the one would have been
 * with the other. Of what the car came with there is nothing to replay: the log itself answers.
 */
export function comparisonOf(jobId: number, one: Bead, other: Bead): string {
	const [a, b] = one.id <= other.id ? [one, other] : [other, one];
	if (one.kind === other.kind)
		return `/jobs/${jobId}/${one.kind === 'log' ? 'compare-logs' : 'compare'}?a=${a.id}&b=${b.id}`;
	const [log, revision] = one.kind === 'log' ? [one, other] : [other, one];
	return revision.state === 'baseline'
		? `/jobs/${jobId}/logs/${log.id}`
		: `/jobs/${jobId}/revisions/${revision.id}/replay?log=${log.id}`;
}
