/** The condition of the server in lines that say what to do. */
import { fixed, plural } from '$core/format';

export interface ShownCondition {
	disk: { free: number; database: number; files: number; fileCount: number };
	backup: { at: string; missing: number } | null;
	mails: { waiting: number; failed: number; off: boolean };
	logs: Record<string, number>;
	outdated: number;
}

export interface ConditionLine {
	title: string;
	state: 'clear' | 'watch' | 'fix' | 'note';
	text: string;
	advice: string;
}

const GB = 1 << 30;
const DAY_MS = 86_400_000;
/** A log of a gigabyte takes three times its size. Own choice. */
const LITTLE_ROOM = 10 * GB;
const HARDLY_ROOM = 2 * GB;
/** A nightly backup that failed twice. */
const OLD_BACKUP_DAYS = 2;

/** @param bytes @returns in the unit that has one to three digits before its point */
export function sizeText(bytes: number): string {
	if (bytes >= GB) return `${fixed(bytes / GB, 1)} GB`;
	return bytes >= 1 << 20 ? `${fixed(bytes / (1 << 20), 0)} MB` : `${fixed(bytes / 1024, 0)} kB`;
}

function backupLine({ backup }: ShownCondition, now: number): ConditionLine {
	const title = 'Last good backup';
	const advice = 'docs/operation.md has the timer for every night; npm run backup -- FOLDER makes one now.';
	if (!backup) return { title, state: 'fix', text: 'none was made of this folder', advice };
	const days = (now - Date.parse(backup.at)) / DAY_MS;
	const when = days < 1 ? 'within the last day' : `${plural(Math.floor(days), 'day')} ago`;
	if (backup.missing)
		return {
			title,
			state: 'fix',
			text: `${when}, without ${plural(backup.missing, 'file')} that ${backup.missing === 1 ? 'was' : 'were'} missing here already`,
			advice: 'The backup names them. Look for them in older backups.'
		};
	return days > OLD_BACKUP_DAYS
		? { title, state: 'fix', text: when, advice }
		: { title, state: 'clear', text: when, advice: '' };
}

/** @param now milliseconds since 1970 */
export function conditionLines(c: ShownCondition, now: number): ConditionLine[] {
	const { free } = c.disk;
	const waiting = (c.logs['received'] ?? 0) + (c.logs['reading'] ?? 0);
	const failed = c.logs['failed'] ?? 0;
	return [
		{
			title: 'Room on the disk',
			state: free < HARDLY_ROOM ? 'fix' : free < LITTLE_ROOM ? 'watch' : 'clear',
			text: `${sizeText(free)} free`,
			advice:
				free < LITTLE_ROOM
					? 'A log takes three times its size; make room, or move the folder to a larger disk.'
					: ''
		},
		backupLine(c, now),
		{
			title: 'Archive',
			state: 'note',
			text: `${sizeText(c.disk.database)} of database, ${sizeText(c.disk.files)} in ${plural(c.disk.fileCount, 'file')}`,
			advice: ''
		},
		{
			title: 'Mail',
			state: c.mails.failed ? 'watch' : c.mails.off ? 'note' : 'clear',
			text: c.mails.off
				? 'off: no mail server is set'
				: `${c.mails.waiting} waiting, ${c.mails.failed} did not go out`,
			advice: c.mails.failed && !c.mails.off ? 'The Mail page names them and sends them again.' : ''
		},
		{
			title: 'Work that waits',
			state: 'note',
			text: `${plural(waiting, 'log')} to read, ${plural(c.outdated, 'log')} to screen anew with today’s checks`,
			advice: ''
		},
		{
			title: 'Logs not read',
			state: 'note',
			text: failed ? `${plural(failed, 'log')} could not be read; each says why on its page` : 'none',
			advice: ''
		}
	];
}
