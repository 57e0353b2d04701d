<script lang="ts">
	/** Whose job it is, and a form that hands it over with a note. */
	import { enhance } from '$app/forms';
	import Field from '../Field.svelte';

	let {
		tuner,
		tuners,
		me
	}: {
		tuner: { id: string; name: string } | null;
		/** Whom it can be handed to. */
		tuners: readonly { id: string; name: string }[];
		me: string;
	} = $props();
	let open = $state(false);
	/** Opens the form; for the command list. */
	export function show() {
		open = true;
		requestAnimationFrame(() => document.getElementById('hand-over-to')?.focus());
	}
</script>

{tuner ? (tuner.id === me ? 'you' : tuner.name) : 'unassigned'}
{#if tuners.length > 1 || !tuner}
	·
	<button
		class="cursor-pointer underline"
		aria-expanded={open}
		onclick={() => (open ? (open = false) : show())}>hand over</button
	>
{/if}
{#if open}
	<form
		method="POST"
		action="?/assign"
		class="mt-1 space-y-1.5"
		use:enhance={() =>
			async ({ update, result }) => {
				await update();
				if (result.type === 'success') open = false;
			}}
	>
		<Field title="To" class="block"
			><select id="hand-over-to" name="tuner" value={tuners.find((t) => t.id !== tuner?.id)?.id ?? ''}>
				{#each tuners as t (t.id)}<option value={t.id} disabled={t.id === tuner?.id}
						>{t.name}{t.id === me ? ' (you)' : ''}</option
					>{/each}
				<option value="" disabled={!tuner}>nobody</option>
			</select></Field
		>
		<Field title="Note to it" class="block"
			><textarea name="note" rows="2" maxlength="2000" placeholder="what stands, what is next"
			></textarea></Field
		>
		<button class="button">Hand over</button>
	</form>
{/if}
