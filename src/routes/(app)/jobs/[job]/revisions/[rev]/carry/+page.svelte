<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { plural } from '$core/format';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	let copied = $state<string[]>([]);
	let proving = $state<string | null>(null);
	let failed = $state('');
	const changed = $derived(data.lines.filter((l) => l.changed));
	const anchors = $derived(data.lines.filter((l) => !l.changed));
	const proved = $derived(data.lines.filter((l) => l.proof?.result.match && !l.proof.stale).length);
	/** The next that wasn't copied yet: one key after the other. */
	const next = $derived(changed.find((l) => !copied.includes(l.item)) ?? null);
	async function copy(line: (typeof data.lines)[number]) {
		try {
			await navigator.clipboard.writeText(line.text);
			copied = [...copied, line.item];
			failed = '';
		} catch {
			failed = 'The browser did not let it be copied: select the text below and copy it by hand.';
		}
	}
	const stateOf = (line: (typeof data.lines)[number]) =>
		!line.proof
			? { word: 'not proved', tone: 'text-muted' }
			: line.proof.stale
				? { word: 'changed since, or another file: prove it again', tone: 'text-fix' }
				: line.proof.result.match
					? { word: `verified, ${plural(line.proof.result.verified, 'cell')}`, tone: 'text-clear' }
					: { word: 'differs', tone: 'text-stop' };
</script>

<svelte:head><title>Copy R{data.rev.number} to your program – Tanto</title></svelte:head>

<PageHead title="Copy R{data.rev.number} to your program" />
<p class="text-muted mb-4 max-w-[72ch]">
	As your own program wants it ({data.layoutName}). Copy each table there and save. Then close the file, open
	the one that you attach, copy the tables out of it and paste them back here: an open window proves nothing
	about a file.
</p>
<Alert message={messageOf(form)} class="mb-3" />
{#if form && 'taken' in form}<p role="status" class="text-clear mb-3">
		{plural(form.taken ?? 0, 'cell')} of the draft now as in the file. Paste it back once more, so that it is proved.
	</p>{/if}
<Alert message={failed} class="mb-3" />
<p class="mb-3 flex flex-wrap items-center gap-3">
	<span data-testid="proved"><span class="numbers">{proved}</span> of {data.lines.length} proved</span>
	{#if next}<button class="button button-main" onclick={() => void copy(next)}>Copy {next.title}</button>{/if}
	<a
		class="button"
		href="/jobs/{data.job.id}/revisions/{data.rev.id}{data.rev.state === 'draft' ? '/release' : ''}"
		>{data.rev.state === 'draft' ? 'Review release' : `R${data.rev.number}`}</a
	>
	{#if data.attachments.length === 0}<span class="text-fix text-text">No closed file is attached yet.</span
		>{/if}
</p>

{#snippet lines(list: typeof data.lines)}
	{#each list as line (line.item)}
		{@const state = stateOf(line)}
		<li class="border-line border-b py-2" data-item={line.item}>
			<div class="flex flex-wrap items-baseline gap-x-3">
				<span class="min-w-0 flex-1 font-semibold">{line.title}</span>
				{#if copied.includes(line.item)}<span class="text-clear text-small">✓ copied</span>{/if}
				<span class="{state.tone} text-text">{state.word}</span>
				{#if line.problem}<span class="text-stop text-text">{line.problem}</span>
				{:else if line.kind === 'scalar'}<output class="numbers text-title"
						>{line.text.split('\t').slice(1).join(' ')}</output
					>
				{:else}<button class="button" onclick={() => void copy(line)}>Copy</button>{/if}
				<button
					class="button"
					aria-expanded={proving === line.item}
					onclick={() => (proving = proving === line.item ? null : line.item)}>Paste back</button
				>
			</div>
			{#if line.finer > 0 && data.rev.state === 'draft'}
				<form
					method="POST"
					action="?/round"
					use:enhance
					class="text-fix mt-1 flex items-center gap-2 text-text"
				>
					<input type="hidden" name="item" value={line.item} />
					{plural(line.finer, 'cell')} finer than the program holds:
					<button class="cursor-pointer underline">what it holds becomes the revision’s</button>
				</form>
			{/if}
			{#if proving === line.item}
				<form
					method="POST"
					action="?/prove"
					class="mt-2"
					use:enhance={() =>
						async ({ update, result }) => {
							await update({ reset: true });
							if (result.type === 'success') proving = null;
						}}
				>
					<input type="hidden" name="item" value={line.item} />
					<Field title="Out of the file that is attached, reopened">
						<!-- svelte-ignore a11y_autofocus -->
						<textarea
							name="text"
							rows="4"
							class="numbers w-full text-small"
							required
							autofocus
							spellcheck="false"></textarea></Field
					>
					<button class="button button-main mt-1">Hold it against R{data.rev.number}</button>
				</form>
			{/if}
			{#if line.proof && !line.proof.stale}
				{@const r = line.proof.result}
				<p class="text-muted mt-1 text-small">
					{line.proof.author}, {moment(line.proof.at)}{r.why ? `. ${r.why}` : ''}{#if r.fits}. <span
							class="text-stop">It is the table of {r.fits}: the file is an older one.</span
						>{/if}
				</p>
				{#if r.differences.length}
					<table class="numbers mt-1 text-right text-small" aria-label="What differs in {line.title}">
						<thead class="text-muted"
							><tr
								><th class="px-2 font-normal">at</th><th class="px-2 font-normal">R{data.rev.number}</th><th
									class="px-2 font-normal">found</th
								></tr
							></thead
						>
						<tbody>
							{#each r.differences.slice(0, 30) as d (`${d.x}|${d.y}`)}
								<tr
									><td class="px-2">{d.x}{d.y ? ` / ${d.y}` : ''}</td><td class="px-2">{d.revision}</td><td
										class="px-2">{d.found}</td
									></tr
								>
							{/each}
						</tbody>
					</table>
					{#if r.differences.length > 30}<p class="text-muted text-small">
							and {r.differences.length - 30} more
						</p>{/if}
					<p class="mt-1 text-small">
						Mend it in your program and paste it back again{data.rev.state === 'draft'
							? ', or take what is really there into the draft:'
							: '.'}
					</p>
					{#if data.rev.state === 'draft'}
						<form
							method="POST"
							action="?/take"
							use:enhance
							class="mt-1 flex max-w-xl items-center gap-2 text-text"
						>
							<input type="hidden" name="item" value={line.item} />
							<input
								name="reason"
								required
								maxlength="500"
								aria-label="Why what is in the file is taken over"
								placeholder="why it is taken over"
							/>
							<button class="button">Take {plural(r.differences.length, 'cell')} over</button>
						</form>
					{/if}
				{/if}
			{/if}
		</li>
	{/each}
{/snippet}

<section aria-label="Changed" class="mb-6">
	<h2 class="mb-1">Changed{data.parentNumber === null ? '' : ` since R${data.parentNumber}`}</h2>
	{#if changed.length === 0}<p class="text-muted">Nothing differs.</p>{/if}
	<ul>{@render lines(changed)}</ul>
</section>
{#if anchors.length}
	<section aria-label="As they were">
		<h2 class="mb-1">As they were</h2>
		<p class="text-muted mb-1 text-text">Unchanged: pasted back, they show that it is the right file.</p>
		<ul>{@render lines(anchors)}</ul>
	</section>
{/if}
