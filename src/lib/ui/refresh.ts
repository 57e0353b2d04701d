/** Keeps a page true while it is looked at. */
import { invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';

/**
 * Loads the page's data anew every so often, while it is visible and nobody is on the way to another: that would be held up each time.
 * One after the other: a load that is begun before the last one has come drops that one, and where each takes longer than the time
 * between, none ever comes. Returns what ends it, as an effect wants.
 */
export function refreshEvery(ms: number): () => void {
	let loading = false;
	const timer = setInterval(() => {
		if (loading || document.visibilityState !== 'visible' || navigating.to !== null) return;
		loading = true;
		void invalidateAll().finally(() => (loading = false));
	}, ms);
	return () => clearInterval(timer);
}
