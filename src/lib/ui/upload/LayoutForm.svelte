<script lang="ts">
	/** A file whose layout nobody recognised: its first lines, and what a person can say of them. */
	import { splitHeader } from '$core/logfile/header';
	import type { LayoutSeen } from '$core/logfile/layout-error';
	import type { LayoutHint, Separator } from '$core/logfile/layout-hint';
	import { SEPARATORS, splitLine } from '$core/logfile/sniff';

	let { seen, button, onsay }: { seen: LayoutSeen; button: string; onsay: (hint: LayoutHint) => void } =
		$props();

	const WORDS: Record<Separator, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs' };
	const lines = $derived(seen.lines ?? []);
	/** The separator that the line has most of. */
	function likely(line: string): Separator {
		return [...SEPARATORS].sort((a, b) => line.split(b).length - line.split(a).length)[0]!;
	}
	// svelte-ignore state_referenced_locally
	let headerLine = $state(seen.headerLine ?? 1);
	// svelte-ignore state_referenced_locally
	let separator = $state<Separator>(seen.separator ?? likely((seen.lines ?? [])[0] ?? ''));
	let time = $state('');
	const columns = $derived(
		lines.length === 0
			? seen.columns
			: splitLine(lines[headerLine - 1] ?? '', separator)
					.map((c) => splitHeader(c).name)
					.filter(Boolean)
	);
	const chosen = $derived(columns.includes(time) ? time : (columns[0] ?? ''));
	function say(e: SubmitEvent) {
		e.preventDefault();
		onsay(lines.length === 0 ? { time: chosen } : { headerLine, separator, time: chosen });
	}
</script>

<form onsubmit={say} class="border-line mt-3 border p-3" aria-label="How the file is laid out">
	{#if lines.length > 0}
		<p class="mb-1">These are its first lines. Which one names the columns?</p>
		<div class="border-line bg-sheet max-h-56 overflow-auto border" data-testid="first-lines">
			{#each lines as line, i (i)}
				<label class="flex items-start gap-2 px-2 {headerLine === i + 1 ? 'bg-shade' : ''}">
					<input type="radio" class="mt-1 w-auto!" bind:group={headerLine} value={i + 1} name="headerLine" />
					<span class="numbers text-small whitespace-pre">{line || ' '}</span>
				</label>
			{/each}
		</div>
	{/if}
	<div class="mt-2 flex flex-wrap items-end gap-3">
		{#if lines.length > 0}
			<label class="block"
				><span class="text-muted block text-small">Its cells are split at</span>
				<select bind:value={separator}>
					{#each SEPARATORS as s (s)}<option value={s}>{WORDS[s]}</option>{/each}
				</select></label
			>
		{/if}
		<label class="block"
			><span class="text-muted block text-small">The time is in the column</span>
			<select
				value={chosen}
				onchange={(e) => (time = e.currentTarget.value)}
				class="max-w-[260px]"
				disabled={columns.length === 0}
			>
				{#each columns as name, i (i)}<option value={name}>{name}</option>{/each}
			</select></label
		>
		<button class="button button-main" disabled={chosen === ''}>{button}</button>
	</div>
	<p class="text-muted mt-2 text-small">It is remembered for the next files of this customer.</p>
</form>
