/** Moments and spans for readers. */
import { fixed } from '$core/format';

const MINUTE = 60_000;

/** How long ago, in one unit: "3 h", "2 d". */
export function age(iso: string, now: number = Date.now()): string {
	const m = Math.max(0, (now - Date.parse(iso)) / MINUTE);
	if (m < 60) return `${Math.floor(m)} min`;
	if (m < 48 * 60) return `${Math.floor(m / 60)} h`;
	return `${Math.floor(m / 1440)} d`;
}

const DAY = new Intl.DateTimeFormat('en-GB', {
	day: 'numeric',
	month: 'short',
	year: 'numeric',
	timeZone: 'UTC'
});
const CLOCK = { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' } as const;
const UTC_CLOCK = new Intl.DateTimeFormat('en-GB', { ...CLOCK, timeZone: 'UTC' });

const SHORT = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });

/** Day and month, UTC. */
export const shortDay = (iso: string): string => SHORT.format(new Date(iso));
export const day = (iso: string): string => DAY.format(new Date(iso));
/** Day and time, UTC. */
export const moment = (iso: string): string => UTC_CLOCK.format(new Date(iso));
/** Day and time by the clock of this device. */
export const localMoment = (iso: string): string =>
	new Intl.DateTimeFormat('en-GB', CLOCK).format(new Date(iso));

/** Seconds as m:ss or h:mm:ss, to the full second before or to the nearest tenth. */
export function clock(s: number, tenths = false): string {
	const whole = tenths ? Math.round(s * 10) / 10 : Math.floor(s);
	const h = Math.floor(whole / 3600);
	const m = Math.floor((whole % 3600) / 60);
	const sec = fixed(whole % 60, tenths ? 1 : 0).padStart(tenths ? 4 : 2, '0');
	return h > 0 ? `${h}:${String(m).padStart(2, '0')}:${sec}` : `${m}:${sec}`;
}

export function size(bytes: number): string {
	if (bytes < 1024) return `${bytes} B`;
	if (bytes < 1 << 20) return `${Math.round(bytes / 1024)} kB`;
	return `${fixed(bytes / (1 << 20), 1)} MB`;
}
