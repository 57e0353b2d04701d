/** Keeps a page true while it is looked at. */
import { invalidateAll } from '$app/navigation';

/** Loads the page's data anew every so often, while it is visible. Returns what ends it, as an effect wants. */
export function refreshEvery(ms: number): () => void {
	const timer = setInterval(() => {
		if (document.visibilityState === 'visible') void invalidateAll();
	}, ms);
	return () => clearInterval(timer);
}
