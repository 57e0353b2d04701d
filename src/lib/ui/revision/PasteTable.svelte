<script lang="ts">
	/** A table from the tuner's own program into a draft: by axis values, old and new before it is taken. */
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import type { CurveItem, MapItem } from '$core/calibration/document';
	import { pasteInto, type Pasted } from '$core/calibration/tables/paste-into';
	import { plural } from '$core/format';
	import { InputError } from '$core/input-error';
	import { signedText } from '../cellmap/colour';
	import type { DraftEditor } from '../grid/draft.svelte';

	let { item, editor, onclose }: { item: MapItem | CurveItem; editor: DraftEditor; onclose: () => void } =
		$props();
	let text = $state('');
	/** The table as the draft has it. */
	const now = $derived.by((): MapItem | CurveItem =>
		item.kind === 'map'
			? {
					...item,
					values: item.y.points.map((y) => item.x.points.map((x) => editor.value(item.id, { x, y })))
				}
			: { ...item, values: item.x.points.map((x) => editor.value(item.id, { x, y: 0 })) }
	);
	const read = $derived.by((): { pasted: Pasted | null; problem: string } => {
		if (text.trim() === '') return { pasted: null, problem: '' };
		try {
			return { pasted: pasteInto(now, text), problem: '' };
		} catch (e) {
			if (e instanceof InputError) return { pasted: null, problem: e.message };
			throw e;
		}
	});
	const changed = $derived((read.pasted?.cells ?? []).filter((c) => c.to !== editor.value(item.id, c)));
	function take() {
		const values = new Map(changed.map((c) => [`${c.x}|${c.y}`, c.to]));
		editor.edit(item.id, changed, (_, cell) => values.get(`${cell.x}|${cell.y}`)!);
		onclose();
	}
</script>

<section class="border-line mb-3 border-y py-2" aria-label="Paste a table">
	<Field title="A table copied from your own program, with its axes" class="block">
		<!-- svelte-ignore a11y_autofocus -->
		<textarea class="numbers w-full text-small" rows="5" bind:value={text} autofocus spellcheck="false"
		></textarea></Field
	>
	<Alert message={read.problem} class="text-text" />
	{#if read.pasted}
		<p class="text-text" role="status">
			{changed.length === 0
				? 'Nothing differs from the draft.'
				: `${plural(changed.length, 'cell')} of ${read.pasted.cells.length} would change, by ${signedText(read.pasted.greatest, 2)} at most.`}
			{read.pasted.notes.join('; ')}
		</p>
		{#if changed.length}
			<ul class="numbers text-muted my-1 max-h-28 overflow-auto text-small">
				{#each changed.slice(0, 60) as c (`${c.x}|${c.y}`)}
					<li>{c.x}{item.kind === 'map' ? ` / ${c.y}` : ''}: {editor.value(item.id, c)} → {c.to}</li>
				{/each}
			</ul>
		{/if}
	{/if}
	<div class="mt-2 flex gap-2">
		<button class="button button-main" disabled={changed.length === 0} onclick={take}
			>{read.pasted?.how === 'resampled' ? 'Lay it over' : 'Take'} {plural(changed.length, 'cell')}</button
		>
		<button class="button" onclick={onclose}>Cancel</button>
	</div>
</section>
