<script lang="ts">
	/** Practice: levels to choose from, each with what it teaches, and what was played so far. */
	import { enhance } from '$app/forms';
	import Alert from '$lib/ui/Alert.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	let starting = $state<number | null>(null);
	const ofLevel = (level: number) => data.sessions.filter((s) => s.level === level);
</script>

<svelte:head><title>Practice – Tanto</title></svelte:head>

<main class="page">
	<PageHead
		title="Practice"
		says={[
			'a stand-in vehicle is the customer',
			'your own verdict first, then Tanto’s, then the truth',
			'nothing of it counts as work'
		]}
	/>
	<Alert box message={messageOf(form)} class="mb-4" />
	<ol>
		{#each data.levels as l (l.id)}
			{@const played = ofLevel(l.id)}
			<li class="border-line grid grid-cols-[40px_minmax(0,1fr)_220px_auto] items-center gap-4 border-b py-3">
				<span class="text-muted text-figure numbers">{l.id}</span>
				<div>
					<h2 class="name">{l.title}</h2>
					<p class="text-muted">{l.teaches}.</p>
				</div>
				<ul class="text-small">
					{#each played.slice(0, 3) as s (s.id)}
						<li class="flex items-center gap-1.5">
							<Mark state={s.won === null ? 'not-checked' : s.won ? 'pass' : 'fix'} bare size={11} />
							<a class="underline" href="/practice/{s.id}"
								>{s.won === null ? 'in play' : s.won ? 'won' : 'ended'}, seed {s.seed}</a
							><span class="text-muted">{moment(s.createdAt)}</span>
						</li>
					{:else}<li class="text-muted">not played yet</li>{/each}
				</ul>
				<form
					method="POST"
					action="?/start"
					class="flex items-center gap-2"
					use:enhance={() => {
						starting = l.id;
						return async ({ update }) => {
							await update({ reset: false });
							starting = null;
						};
					}}
				>
					<input type="hidden" name="level" value={l.id} />
					<input
						name="seed"
						class="w-24!"
						inputmode="numeric"
						autocomplete="off"
						placeholder="any seed"
						aria-label="Seed of level {l.id}: the same one makes the same car"
					/>
					<button
						class="button {l.id === 1 && data.sessions.length === 0 ? 'button-main' : ''}"
						disabled={starting !== null}>{starting === l.id ? 'Making the car …' : 'Play'}</button
					>
				</form>
			</li>
		{/each}
	</ol>
</main>

<style>
	.page {
		max-width: 1280px;
		margin: 0 auto;
		padding: 0 var(--gutter) 32px;
	}
	.name {
		font-size: 16px;
		font-variant-caps: normal;
		letter-spacing: 0;
		color: var(--ink);
	}
</style>
