<script lang="ts">
	/** Severity or state as shape and colour; the word stands beside it unless `bare`. */
	interface Props {
		state: string;
		bare?: boolean;
		size?: number;
		/** Another colour than that of the state. */
		tone?: string;
	}
	let { state, bare = false, size = 14, tone }: Props = $props();

	const COLOURS: Record<string, string> = {
		stop: 'text-stop',
		fix: 'text-fix',
		watch: 'text-watch',
		clear: 'text-clear',
		note: 'text-muted',
		pass: 'text-clear',
		failed: 'text-stop'
	};
	const WORDS: Record<string, string> = {
		'not-checked': 'not checked',
		received: 'waiting to be read',
		reading: 'reading',
		failed: 'not readable',
		draft: 'draft',
		released: 'released',
		baseline: 'received'
	};
	const word = $derived(WORDS[state] ?? state);
</script>

<span class="inline-flex items-center gap-1.5 whitespace-nowrap {tone ?? COLOURS[state] ?? 'text-muted'}">
	<svg width={size} height={size} viewBox="0 0 14 14" aria-hidden="true" fill="currentColor">
		{#if state === 'stop' || state === 'failed'}
			<path d="M4.2 0.5h5.6l3.7 3.7v5.6l-3.7 3.7H4.2L0.5 9.8V4.2z" />
		{:else if state === 'fix'}
			<path d="M7 0.6 13.4 7 7 13.4 0.6 7z" />
		{:else if state === 'watch'}
			<path d="M7 1.2 13.5 12.6H0.5z" fill="none" stroke="currentColor" stroke-width="1.8" />
		{:else if state === 'clear' || state === 'pass'}
			<path d="M1.6 7.4 5.4 11.2 12.6 3" fill="none" stroke="currentColor" stroke-width="2.2" />
		{:else if state === 'draft'}
			<rect
				x="1.5"
				y="1.5"
				width="11"
				height="11"
				fill="none"
				stroke="currentColor"
				stroke-width="1.6"
				stroke-dasharray="2.5 2"
			/>
		{:else if state === 'released' || state === 'baseline'}
			<rect x="1.5" y="1.5" width="11" height="11" />
		{:else if state === 'note'}
			<circle cx="7" cy="7" r="2.6" />
		{:else}
			<circle
				cx="7"
				cy="7"
				r="5.4"
				fill="none"
				stroke="currentColor"
				stroke-width="1.6"
				stroke-dasharray="2.4 2"
			/>
		{/if}
	</svg>
	<span class={bare ? 'sr-only' : 'font-semibold'}>{word}</span>
</span>
