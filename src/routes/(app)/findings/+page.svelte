<script lang="ts">
	/** Everything that was ever found, by what it is, how large, where and in which car: to see where else it was, and what it was in the end. */
	import { goto } from '$app/navigation';
	import { plural, fixed } from '$core/format';
	import Field from '$lib/ui/Field.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { day } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const q = $derived(data.question);
	const ANSWER: Record<string, string> = {
		accepted: 'accepted',
		'false-alarm': 'false alarm',
		resolved: 'resolved'
	};
	let form = $state<HTMLFormElement>();
	/** Each question has an address of its own, to be kept and passed on. */
	function ask() {
		if (!form) return;
		const parts = [...new FormData(form)].filter(([, v]) => typeof v === 'string' && v.trim() !== '');
		const query = new URLSearchParams(parts.map(([k, v]) => [k, String(v)])).toString();
		void goto(query ? `/findings?${query}` : '/findings', { keepFocus: true, noScroll: true });
	}
</script>

<svelte:head><title>Findings of the workshop – Tanto</title></svelte:head>

<main class="px-(--gutter) pb-6">
	<PageHead
		title="Findings of the workshop"
		says={[
			data.found.logs
				? `${plural(data.found.logs, 'log')} of ${plural(data.found.jobs, 'job')}`
				: 'nothing was found so',
			data.found.rows.length < data.found.logs && `the newest ${data.found.rows.length} are shown`
		]}
	/>
	<form
		bind:this={form}
		class="mb-4 grid grid-cols-[minmax(0,2fr)_130px_130px_150px_minmax(0,2fr)_auto] items-end gap-3"
		onsubmit={(e) => {
			e.preventDefault();
			ask();
		}}
	>
		<Field title="What">
			<select name="what" value={q.what ?? ''} onchange={ask}>
				<option value="">anything</option>
				{#each data.checks as c (c.code)}<option value={c.code}>{c.title}</option>{/each}
			</select></Field
		>
		<Field title="At least"
			><input name="least" inputmode="decimal" autocomplete="off" value={q.least ?? ''} /></Field
		>
		<Field title="From, rpm"
			><input name="rpm" inputmode="numeric" autocomplete="off" value={q.rpm ?? ''} /></Field
		>
		<Field title="Severity">
			<select name="severity" value={q.severity ?? ''} onchange={ask}>
				<option value="">all but notes</option>
				{#each ['stop', 'fix', 'watch', 'note'] as s (s)}<option value={s}>{s}</option>{/each}
			</select></Field
		>
		<Field title="Customer, job or vehicle"
			><input name="words" type="search" autocomplete="off" value={q.words ?? ''} /></Field
		>
		<button class="button button-main">Search</button>
	</form>
	{#if data.found.rows.length === 0}
		<p class="text-muted">Nothing of this kind was found in any log. Ask for less, or for anything.</p>
	{:else}
		<table class="w-full table-fixed text-left text-text">
			<thead>
				<tr class="table-head">
					<th class="py-1 font-normal">Finding</th><th class="w-24 text-right font-normal">Size</th><th
						class="w-36 text-right font-normal">At, rpm</th
					><th class="pl-6 font-normal">Job</th><th class="font-normal">Vehicle</th><th
						class="w-28 font-normal">Log of</th
					><th class="w-44 font-normal">In the end</th>
				</tr>
			</thead>
			<tbody>
				{#each data.found.rows as r, i (i)}
					<tr class="border-line border-b align-top">
						<td class="py-1.5 pr-3"
							><Mark state={r.severity} bare size={12} />
							<a class="font-semibold hover:underline" href="/jobs/{r.jobId}/logs/{r.logId}"
								>{preferences.say(r.title)}</a
							></td
						>
						<td class="numbers py-1.5 text-right"
							>{r.value === null ? '–' : preferences.text(r.value, r.unit)}</td
						>
						<td class="numbers py-1.5 text-right"
							>{r.rpm ? `${fixed(r.rpm[0], 0)}–${fixed(r.rpm[1], 0)}` : ''}</td
						>
						<td class="py-1.5 pr-3 pl-6"
							><a class="block truncate hover:underline" href="/jobs/{r.jobId}" title={r.job}>{r.job}</a>
							<span class="text-muted block text-small">{r.customer}</span></td
						>
						<td class="py-1.5 pr-3">{r.vehicle}</td>
						<td class="py-1.5 whitespace-nowrap">{day(r.at)}</td>
						<td class="py-1.5"
							>{#if r.answer}{ANSWER[r.answer.kind] ?? r.answer.kind}<span class="text-muted block text-small"
									>{r.answer.words}</span
								>{:else}<span class="text-muted">no answer</span>{/if}</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
</main>
