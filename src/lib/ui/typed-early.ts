/** What is typed or ticked before the page's scripts have come stays. */
import { onMount } from 'svelte';

type Field = HTMLInputElement | HTMLTextAreaElement;
const KINDS = 'input:not([type=file], [type=hidden], [type=submit]), textarea';
const ticked = (f: Field): f is HTMLInputElement => f.type === 'checkbox' || f.type === 'radio';

/**
 * To be called once, while the outermost layout is made: taking over the page writes the server's values into its
 * fields, over what somebody on a slow line has typed meanwhile. That is put back, and told as typing.
 */
export function keepTypedEarly(): void {
	if (typeof document === 'undefined') return;
	const early = [...document.querySelectorAll<Field>(KINDS)]
		.filter((f) => (ticked(f) ? f.checked !== f.defaultChecked : f.value !== f.defaultValue))
		.map((field) => ({ field, value: field.value, checked: ticked(field) && field.checked }));
	onMount(() => {
		for (const { field, value, checked } of early) {
			if (ticked(field)) {
				// Of a group the one that was chosen speaks for all.
				if (field.checked === checked || (field.type === 'radio' && !checked)) continue;
				field.checked = checked;
			} else {
				if (field.value === value) continue;
				field.value = value;
			}
			field.dispatchEvent(new Event('input', { bubbles: true }));
			field.dispatchEvent(new Event('change', { bubbles: true }));
		}
	});
}
