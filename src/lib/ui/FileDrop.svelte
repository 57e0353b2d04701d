<script lang="ts">
	/**
	 * Where a file is chosen or dropped. With `name` it is a field of its form; the file that was chosen is named, and can be changed or taken
	 * back. The chooser of the browser itself is never shown.
	 */
	import Upload from '@lucide/svelte/icons/upload';
	import X from '@lucide/svelte/icons/x';
	import type { HTMLInputAttributes } from 'svelte/elements';

	interface Props {
		/** What the field is called. */
		title: string;
		/** On its button. */
		label?: string;
		hint?: string;
		name?: string;
		accept?: HTMLInputAttributes['accept'];
		capture?: HTMLInputAttributes['capture'];
		multiple?: boolean;
		required?: boolean;
		files?: FileList | null;
		onfiles?: (files: File[]) => void;
	}
	let {
		title,
		label = 'Choose a file',
		hint = '',
		name,
		accept,
		capture,
		multiple = false,
		required = false,
		files = $bindable(null),
		onfiles
	}: Props = $props();
	const id = $props.id();
	let over = $state(false);
	let input: HTMLInputElement;
	const chosen = $derived([...(files ?? [])]);

	function drop(event: DragEvent) {
		event.preventDefault();
		over = false;
		const dropped = event.dataTransfer?.files;
		if (!dropped?.length) return;
		const list = new DataTransfer();
		for (const f of multiple ? dropped : [dropped[0]!]) list.items.add(f);
		input.files = files = list.files;
		onfiles?.([...list.files]);
	}
	function clear() {
		input.value = '';
		files = null;
		onfiles?.([]);
	}
</script>

<span class="text-muted text-small" aria-hidden="true">{title}</span>
<div
	class="border-strong-line flex min-h-11 flex-wrap items-center gap-3 border border-dashed px-2.5 py-1.5 {over
		? 'bg-shade'
		: 'bg-sheet'}"
	role="presentation"
	ondragover={(e) => {
		e.preventDefault();
		over = true;
	}}
	ondragleave={() => (over = false)}
	ondrop={drop}
>
	<input
		{id}
		{name}
		{accept}
		{capture}
		{multiple}
		{required}
		type="file"
		class="sr-only"
		aria-label={title}
		bind:this={input}
		bind:files
		onchange={() => onfiles?.([...(files ?? [])])}
	/>
	<label class="button button-small" for={id} aria-hidden="true"
		><Upload size={15} aria-hidden="true" />{chosen.length ? 'Choose another' : label}</label
	>
	{#if chosen.length}
		<span class="min-w-0 flex-1 truncate text-small" title={chosen.map((f) => f.name).join(', ')}
			>{chosen.map((f) => f.name).join(', ')}</span
		>
		<button type="button" class="cursor-pointer" aria-label="Take the file back" onclick={clear}
			><X size={16} aria-hidden="true" /></button
		>
	{:else}
		<span class="text-muted text-small">{hint || 'or drop it here'}</span>
	{/if}
</div>

<style>
	/* The chooser itself is out of sight: where the focus is shows on its button. */
	input:focus-visible + label {
		outline: 2px solid var(--focus);
		outline-offset: 2px;
	}
</style>
