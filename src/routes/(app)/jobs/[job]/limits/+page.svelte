<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { fixed, plural } from '$core/format';
	import { enhance } from '$app/forms';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	let search = $state('');
	const was = (name: string) => (form && 'entered' in form ? form.entered?.[name] : undefined);
	type Row = (typeof data.groups)[number]['rows'][number];
	const words = $derived(search.toLowerCase().split(/\s+/).filter(Boolean));
	const fits = (title: string, row: Row) => {
		const text = [title, row.what, ...row.limits.map((l) => `${l.meaning} ${l.unit}`)]
			.join(' ')
			.toLowerCase();
		return words.every((w) => text.includes(w));
	};
	const isOwn = (row: Row) => row.limits.some((l) => l.own !== null);
	/** Own values first, then everything as a log is read. A row that a search leaves out stays in the form. */
	const shown = $derived([
		...(data.own
			? [
					{
						title: 'Of this vehicle',
						rows: data.groups.flatMap((g) => g.rows.filter((r) => isOwn(r)))
					}
				]
			: []),
		...data.groups.map((g) => ({ title: g.title, rows: g.rows.filter((r) => !isOwn(r)) }))
	]);
	/** What a limit is in the reader's units, where those are others. */
	const inReaders = (value: number, unit: string) => {
		const s = preferences.shown(value, unit);
		return s.unit === unit ? '' : `${fixed(s.value, s.decimals)} ${s.unit}`;
	};
</script>

<svelte:head><title>Limits of {data.job.title} – Tanto</title></svelte:head>

{#snippet actions()}
	<input
		type="search"
		class="w-72!"
		placeholder="duty, knock, coolant …"
		aria-label="Search the limits"
		autocomplete="off"
		bind:value={search}
	/>
{/snippet}
<PageHead
	title="Limits"
	says={[data.own === 0 ? 'all at their defaults' : `${plural(data.own, 'is', 'are')} this vehicle's own`]}
	{actions}
/>
<p class="text-muted mb-4 max-w-prose">
	What the checks judge by. A vehicle may have its own; an emptied field takes the default again. Every
	screening keeps the limits that it was made with.
</p>
<Alert box message={messageOf(form)} class="mb-4" />
{#if form && 'saved' in form}<p role="status" class="border-clear mb-4 border-l-4 px-3 py-2">
		Saved. The logs of this vehicle are screened again with these limits.
	</p>{/if}
<form
	method="POST"
	use:enhance={() =>
		async ({ update }) =>
			update({ reset: false })}
	class="max-w-[980px]"
>
	{#each shown as g (g.title)}
		{@const any = g.rows.some((r) => fits(g.title, r))}
		<section aria-label={g.title} hidden={!any} class="mb-4">
			<h2 class="mb-0.5">{g.title}</h2>
			<table class="w-full table-fixed text-left">
				<colgroup
					><col /><col class="w-[140px]" /><col class="w-[140px]" /><col class="w-[140px]" /><col
						class="w-[64px]"
					/><col class="w-[120px]" /></colgroup
				>
				<thead class="sr-only"
					><tr><th>Meaning</th><th>watch</th><th>fix</th><th>stop</th><th>Unit</th><th>Source</th></tr></thead
				>
				<tbody>
					{#each g.rows as row (row.what)}
						<tr class="border-line border-b {isOwn(row) ? 'bg-shade' : ''}" hidden={!fits(g.title, row)}>
							<td class="py-1 pr-3 text-text"
								>{row.what}{#if isOwn(row)}<span class="text-fix ml-2 text-small font-semibold">changed</span
									>{/if}</td
							>
							{#each ['watch', 'fix', 'stop'] as level (level)}
								{@const l = row.limits.find(
									(x) => x.level === level || (x.level === null && level === 'fix')
								)}
								<td class="py-1 pr-2">
									{#if l}<label class="flex items-center gap-1.5"
											><span class="text-muted w-9 shrink-0 text-right text-note"
												>{l.level ?? ''}<span class="sr-only">: {l.meaning}</span></span
											><input
												name={l.name}
												class="numbers h-7! px-1.5! py-0!"
												inputmode="decimal"
												autocomplete="off"
												placeholder={String(l.value)}
												title="default {l.value} {l.unit}{inReaders(l.own ?? l.value, l.unit)
													? `; ${l.own ?? l.value} ${l.unit} is ${inReaders(l.own ?? l.value, l.unit)}`
													: ''}"
												value={was(l.name) ?? l.own ?? ''}
											/></label
										>{/if}
								</td>
							{/each}
							<td class="numbers text-small">{row.limits[0]?.unit}</td>
							<td class="text-muted text-small"
								>{row.limits.some((l) => l.source !== 'own choice') ? 'common practice' : 'own choice'}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		</section>
	{/each}
	{#if !shown.some((g) => g.rows.some((r) => fits(g.title, r)))}<p class="text-muted">
			No limit is called “{search}”.
		</p>{/if}
	<button class="button button-main mt-2">Save the limits</button>
</form>
