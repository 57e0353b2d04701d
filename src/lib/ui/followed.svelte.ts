/** A link that was followed is arrived at, also when the page loads its data anew meanwhile. */
import { goto } from '$app/navigation';
import { navigating } from '$app/state';

/**
 * To be called once, while the outermost layout is made. SvelteKit drops a navigation under way as soon as
 * data are loaded anew (a refresh by the clock, the answer to a form): the click would be swallowed. Where no other
 * navigation has taken over, the dropped one is taken up again.
 */
export function followLinks(): void {
	$effect(() => {
		const { to, type, complete } = navigating;
		if (to === null || complete === null) return;
		complete.catch(async () => {
			// A navigation that took over is announced a moment later.
			await new Promise((r) => setTimeout(r));
			if (navigating.complete === complete) await goto(to.url, { replaceState: type === 'popstate' });
		});
	});
}
