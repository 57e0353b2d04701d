/** Keeps a page true while it is looked at. */
import { invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';

/** Loads the page's data anew every so often, while it is visible and nobody is on the way to another: that would be held up each time. Returns what ends it, as an effect wants. */
export function refreshEvery(ms: number): () => void {
	const timer = setInterval(() => {
		if (document.visibilityState === 'visible' && navigating.to === null) void invalidateAll();
	}, ms);
	return () => clearInterval(timer);
}
