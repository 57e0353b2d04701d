<script lang="ts">
	import { Command, Dialog } from 'bits-ui';
	import { goto } from '$app/navigation';
	import type { Found } from '$lib/server/jobs/customers';
	import { commandScore } from './command-filter';
	import type { Commands } from '../commands.svelte';

	let { commands }: { commands: Commands } = $props();

	let text = $state('');
	let found = $state.raw<Found[]>([]);
	let timer: ReturnType<typeof setTimeout> | undefined;

	function run(action: () => void) {
		commands.open = false;
		text = '';
		found = [];
		action();
	}
	/** Jobs and customers come from the server, a moment after the last letter; an answer to older letters is dropped. */
	function look(words: string) {
		clearTimeout(timer);
		if (words.trim().length < 2) {
			found = [];
			return;
		}
		timer = setTimeout(
			() =>
				void fetch(`/api/v1/find?q=${encodeURIComponent(words)}`)
					.then((r) => (r.ok ? (r.json() as Promise<{ found: Found[] }>) : { found: [] }))
					.then((answer) => {
						if (text === words) found = answer.found;
					})
					.catch(() => (found = [])),
			120
		);
	}
</script>

<Dialog.Root bind:open={commands.open}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="bg-sheet border-strong-line fixed top-24 left-1/2 z-50 w-[520px] max-w-[92vw] -translate-x-1/2 border shadow-lg"
		>
			<Dialog.Title class="sr-only">Commands</Dialog.Title>
			<Dialog.Description class="sr-only">Type to find an action, Enter runs it</Dialog.Description>
			<Command.Root class="flex flex-col" filter={commandScore}>
				<Command.Input
					bind:value={text}
					oninput={(e) => look(e.currentTarget.value)}
					placeholder="A job, a customer, a page, an action"
					class="border-line! border-0! border-b! p-3!"
				/>
				<Command.List class="max-h-[50vh] overflow-y-auto p-1">
					<Command.Viewport>
						<Command.Empty class="text-muted p-3"
							>Nothing by that name: no job, customer, page or action.</Command.Empty
						>
						{#each found as f (`${f.kind}${f.id}`)}
							<Command.Item
								value="{f.title} {f.detail} {f.kind} {f.id}"
								onSelect={() =>
									run(() => void goto(f.kind === 'job' ? `/jobs/${f.id}` : `/customers/${f.id}`))}
								class="data-selected:bg-shade flex cursor-pointer items-baseline justify-between gap-3 px-3 py-2"
							>
								<span class="min-w-0 truncate font-semibold">{f.title}</span>
								<span class="text-muted min-w-0 truncate text-small">{f.detail}</span>
							</Command.Item>
						{/each}
						{#each commands.all as c (c.id)}
							<Command.Item
								value={c.title}
								keywords={c.also ? c.also.split(' ') : []}
								onSelect={() => run(c.run)}
								class="data-selected:bg-shade flex cursor-pointer items-center justify-between px-3 py-2"
							>
								<span>{c.title}</span>
								{#if c.key}<kbd class="numbers text-muted border-line border px-1.5">{c.key}</kbd>{/if}
							</Command.Item>
						{/each}
					</Command.Viewport>
				</Command.List>
			</Command.Root>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>

<Dialog.Root bind:open={commands.keysOpen}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="bg-sheet border-strong-line fixed top-24 left-1/2 z-50 w-[420px] max-w-[92vw] -translate-x-1/2 border p-4 shadow-lg"
		>
			<Dialog.Title class="mb-2 font-semibold">Keys of this page</Dialog.Title>
			<Dialog.Description class="text-muted mb-3">They work outside of fields. Esc closes.</Dialog.Description
			>
			<dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
				<dt class="numbers">Ctrl+K</dt>
				<dd>Command list</dd>
				<dt class="numbers">?</dt>
				<dd>This list</dd>
				{#each commands.all.filter((c) => c.key) as c (c.id)}
					<dt class="numbers">{c.key}</dt>
					<dd>{c.title}</dd>
				{/each}
			</dl>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
