<script lang="ts">
	/** A field of the build sheet in the reader's units; the form sends the document's. */
	import type { Field } from '$core/vehicle/fields';
	import { usePreferences } from '../preferences.svelte';
	import { documentText, fieldText } from './field-units';

	let { field, value = $bindable() }: { field: Field; value: string | undefined } = $props();

	const preferences = usePreferences();
	/** What is being typed, in which unit: it stands as typed until the reader asks for other units. */
	let typed = $state<{ text: string; units: typeof preferences.units } | null>(null);
	const text = $derived(
		typed && typed.units === preferences.units ? typed.text : fieldText(value ?? '', field, preferences.units)
	);
</script>

<input
	value={text}
	required={field.required}
	autocomplete="off"
	inputmode={field.kind === 'number' ? 'decimal' : undefined}
	placeholder={field.hint ? fieldText(field.hint, field, preferences.units) : undefined}
	oninput={(e) => {
		typed = { text: e.currentTarget.value, units: preferences.units };
		value = documentText(typed.text, field, preferences.units);
	}}
/>
<input type="hidden" name={field.path} {value} />
