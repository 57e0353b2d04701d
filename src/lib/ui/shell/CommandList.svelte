<script lang="ts">
	import { Command, Dialog } from 'bits-ui';
	import type { Commands } from '../commands.svelte';

	let { commands }: { commands: Commands } = $props();

	function run(action: () => void) {
		commands.open = false;
		action();
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
			<Command.Root class="flex flex-col">
				<Command.Input placeholder="What do you want to do?" class="border-line! border-0! border-b! p-3!" />
				<Command.List class="max-h-[50vh] overflow-y-auto p-1">
					<Command.Viewport>
						<Command.Empty class="text-muted p-3">No action by that name on this page.</Command.Empty>
						{#each commands.all as c (c.id)}
							<Command.Item
								value={c.title}
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
