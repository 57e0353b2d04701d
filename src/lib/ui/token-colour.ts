/** Colours of the theme for what is drawn on a canvas. */

/**
 * A colour token as the page shows it now: `rgb(…)`. A token names a colour by day and one by night; only a property that is a colour is
 * computed to the one that counts.
 */
export function tokenColour(name: string): string {
	const probe = document.createElement('span');
	probe.style.color = `var(${name})`;
	document.body.append(probe);
	const { color } = getComputedStyle(probe);
	probe.remove();
	return color;
}
