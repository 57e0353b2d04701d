<script lang="ts">
	/** Stages on the way to the fuel: what is done, what is open, what would open the rest. */
	import Field from '$lib/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import type { Stage } from '$core/fuelling/stages';
	import Mark from '../findings/Mark.svelte';
	import { day } from '../time';

	let { stages }: { stages: Stage[] } = $props();
	let calling = $state<string | null>(null);
	const MARK = { done: 'pass', open: 'watch', closed: 'not-checked' } as const;
</script>

<section id="stages" aria-label="Stages" class="mt-8 max-w-[860px] scroll-mt-4">
	<h2 class="mb-1">Stages</h2>
	<ol>
		{#each stages as s (s.kind)}
			<li class="border-line border-b py-2">
				<div class="flex flex-wrap items-baseline gap-x-3">
					<Mark state={MARK[s.state]} bare />
					<span class="font-semibold {s.state === 'closed' ? 'text-muted' : ''}">{s.title}</span>
					<span class="text-muted min-w-0 flex-1 text-text"
						>{#if s.call}complete since {day(s.call.at)}, {s.call.author}: {s.call
								.words}{:else if s.state === 'open'}open. {s.why}{:else}{s.why}{/if}</span
					>
					{#if s.state === 'open'}
						<button
							class="button"
							aria-expanded={calling === s.kind}
							disabled={s.notYet !== null}
							title={s.notYet ?? ''}
							onclick={() => (calling = calling === s.kind ? null : s.kind)}>Complete</button
						>
					{/if}
				</div>
				{#if s.state === 'open'}
					<ul class="mt-1 list-disc pl-9 text-text">
						{#each s.todo as t (t)}<li>{t}</li>{/each}
					</ul>
					{#if s.notYet}<p class="text-muted mt-1 pl-5 text-small">Not done yet: {s.notYet}</p>{/if}
				{/if}
				{#if calling === s.kind}
					<form
						method="POST"
						action="?/stage"
						class="mt-2 flex items-end gap-2 pl-5"
						use:enhance={() =>
							async ({ update, result }) => {
								await update();
								if (result.type === 'success') calling = null;
							}}
					>
						<input type="hidden" name="stage" value={s.kind} />
						<Field title="What says that it is done" class="flex-1">
							<!-- svelte-ignore a11y_autofocus -->
							<input name="words" required minlength="10" maxlength="1000" autofocus /></Field
						>
						<button class="button button-main">{s.title} is done</button>
					</form>
				{/if}
			</li>
		{/each}
	</ol>
</section>
