<script lang="ts">
	/** A field of the build sheet in the reader's units; the form sends the document's. */
	import type { Field } from '$core/vehicle/fields';
	import { pairText } from '$core/vehicle/pair-text';
	import type { Bound } from '../Field.svelte';
	import { usePreferences } from '../preferences.svelte';
	import { documentText, fieldText } from './field-units';

	let {
		field,
		value = $bindable(),
		bound = {}
	}: {
		field: Field;
		value: string | undefined;
		/** What the field around it says of it. */
		bound?: Bound;
	} = $props();

	const preferences = usePreferences();
	/** What is being typed, in which unit: it stands as typed until the reader asks for other units. */
	let typed = $state<{ text: string; units: typeof preferences.units } | null>(null);
	const text = $derived(
		typed && typed.units === preferences.units ? typed.text : fieldText(value ?? '', field, preferences.units)
	);

	function take(entered: string) {
		typed = { text: entered, units: preferences.units };
		value = documentText(entered, field, preferences.units);
	}
</script>

<input
	{...bound}
	value={text}
	required={field.required}
	autocomplete="off"
	inputmode={field.kind === 'number' ? 'decimal' : undefined}
	placeholder={field.hint ? fieldText(field.hint, field, preferences.units) : undefined}
	oninput={(e) => take(e.currentTarget.value)}
	onpaste={(e) => {
		// A field of one line would run the rows of a pasted table into each other.
		const text = field.kind === 'pairs' ? (e.clipboardData?.getData('text/plain') ?? '') : '';
		if (!/[\t\n]/.test(text.trim())) return;
		e.preventDefault();
		take(pairText(text));
	}}
/>
<input type="hidden" name={field.path} {value} />
