<script lang="ts">
	/** Values from a file into a draft: one table as CSV, or a whole calibration that was worked on elsewhere. What differs becomes a change. */
	import { plural } from '$core/format';
	import type { Calibration, Item } from '$core/calibration/document';
	import { isTable, tableFromCsv } from '$core/calibration/formats/csv';
	import { takenOver } from '$core/revising/edits';
	import type { DraftEditor } from '../grid/draft.svelte';

	let { parent, item, editor }: { parent: Calibration; item: Item; editor: DraftEditor } = $props();
	let problem = $state('');
	let said = $state('');
	let input = $state<HTMLInputElement>();

	/** Asks for the file. */
	export function choose(): void {
		input?.click();
	}

	async function read(file: File) {
		problem = '';
		said = '';
		try {
			const text = await file.text();
			const own = parent.items.find((i) => i.id === item.id);
			const csv = /\.(csv|tsv|txt)$/i.test(file.name);
			if (csv && !isTable(own)) throw new Error('pick a table first: a CSV holds one table');
			// Readers of other programs' files are loaded when somebody has one.
			const { calibrationFrom } = await import('$core/calibration/formats/read');
			const other =
				csv && isTable(own) ? { ...parent, items: [tableFromCsv(own, text)] } : calibrationFrom(text);
			const reason = `Taken over from ${file.name}`;
			const taken = takenOver(parent, other, reason);
			const left = csv ? [] : taken.left;
			editor.takeOver(taken, new Set(other.items.map((i) => i.id)));
			const axes = taken.edits.filter((e) => e.kind === 'axes').length;
			const added = taken.edits.filter((e) => e.kind === 'added').length;
			const settings = taken.edits.length - axes - added;
			said =
				[
					taken.changes.length ? `${taken.changes.length} cells differ` : '',
					axes ? `${plural(axes, 'table')} on other axes` : '',
					added ? `${plural(added, 'item')} added` : '',
					settings ? `${plural(settings, 'setting')} differ` : ''
				]
					.filter(Boolean)
					.join(', ') || 'Nothing in it differs from the revision before';
			if (left.length)
				said += `. Left as it is: ${left.slice(0, 5).join('; ')}${left.length > 5 ? ` and ${left.length - 5} more` : ''}`;
		} catch (e) {
			problem = `${file.name}: ${e instanceof Error ? e.message : String(e)}`;
		}
	}
</script>

<input
	bind:this={input}
	type="file"
	class="hidden"
	accept=".csv,.tsv,.txt,.json,.xml,.cdf,.cdfx"
	aria-label="Take over values from a file"
	onchange={() => {
		const file = input?.files?.[0];
		if (file) void read(file);
		if (input) input.value = '';
	}}
/>
{#if said}<p role="status" class="mb-2">{said}.</p>{/if}
{#if problem}<p role="alert" class="text-stop mb-2">{problem}. Nothing was taken over.</p>{/if}
