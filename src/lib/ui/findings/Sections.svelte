<script lang="ts">
	/** The log in the order in which a practitioner reads it: each section answers its question in one line and opens to its evidence. */
	import { channelKind, CHANNELS } from '$core/channels/canonical';
	import { findingKey } from '$core/screening/types';
	import type { SectionView } from '$core/screening/sections';
	import { usePreferences } from '../preferences.svelte';
	import Mark from './Mark.svelte';

	let {
		sections,
		onfinding,
		planUrl,
		logUrl
	}: {
		sections: readonly SectionView[];
		/** Opens a finding of the report by its index. */
		onfinding: (index: number) => void;
		/** Page of the drive plan; channels are added to it. */
		planUrl: string;
		/** Page of the log. */
		logUrl: string;
	} = $props();

	/** Where each section shows what it rests on. */
	const EVIDENCE: Record<string, [path: string, title: string]> = {
		fit: ['channels', 'Channels and their readings'],
		readiness: ['readiness', 'Readiness sheet'],
		sensors: ['sensors', 'Sources side by side'],
		mixture: ['map', 'Map of the required correction'],
		banks: ['map?show=banks', 'Map of bank 2 against bank 1'],
		cylinders: ['cylinders', 'Cylinders side by side'],
		knock: ['knock', 'Episodes and proof'],
		drivetrain: ['drivetrain', 'Upshifts'],
		nitrous: ['nitrous', 'Adder by solenoid duty'],
		air: ['map?show=air', 'Map of modelled against measured air'],
		supply: ['map?show=pw.b1', 'Map of the pulse width']
	};

	const preferences = usePreferences();
	let open = $state<string[]>([]);
	const toggle = (id: string) => (open = open.includes(id) ? open.filter((o) => o !== id) : [...open, id]);
	const titleOfFinding = (id: string) =>
		sections.flatMap((s) => s.findings).find((f) => findingKey(f.finding) === id)?.finding.title ?? '';
	const titleOf = (what: string) => (CHANNELS.has(what) ? channelKind(what).title : what);
	/** All channels that checks wait for. */
	const channels = $derived([
		...new Set(sections.flatMap((s) => s.missing.map((m) => m.what)).filter((w) => CHANNELS.has(w)))
	]);
</script>

<section aria-label="The log in reading order">
	<div class="mb-1 flex flex-wrap items-baseline gap-4">
		<h2>In reading order</h2>
		{#if channels.length}
			<a class="ml-auto text-small underline" href="{planUrl}?add={channels.join(',')}"
				>Ask for all {channels.length} channels that checks wait for</a
			>
		{/if}
	</div>
	{#each sections as s (s.id)}
		{@const isOpen = open.includes(s.id)}
		<article class="border-line border-b" id="section-{s.id}">
			<button
				class="flex w-full cursor-pointer items-baseline gap-3 py-1.5 text-left"
				aria-expanded={isOpen}
				onclick={() => toggle(s.id)}
			>
				<span class="w-[104px] shrink-0"><Mark state={s.state} size={13} /></span>
				<span class="w-[150px] shrink-0 font-semibold">{s.title}</span>
				<span class="min-w-0 flex-1 {isOpen ? '' : 'truncate'}"
					><span class="sr-only">{s.question} </span>{preferences.say(s.answer)}</span
				>
				<span class="text-muted shrink-0 text-small"
					>{s.passed.length} passed{s.missing.length
						? `, ${s.missing.reduce((n, m) => n + m.titles.length, 0)} not checked`
						: ''}</span
				>
			</button>
			{#if isOpen}
				{@const evidence = EVIDENCE[s.id]}
				<div class="pb-3 pl-[116px]">
					{#if evidence}<p class="py-0.5">
							<a class="underline" href="{logUrl}/{evidence[0]}">{evidence[1]}</a>
						</p>{/if}
					{#each s.findings as { finding, index } (index)}
						<p class="py-0.5">
							<Mark state={finding.severity} bare size={12} />
							<button class="cursor-pointer underline" onclick={() => onfinding(index)}
								>{preferences.finding(finding).title}</button
							>
							{#if finding.because}<span class="text-muted"
									>· explained by: {titleOfFinding(finding.because)}.</span
								>{/if}
							<span class="text-muted">{preferences.finding(finding).summary}</span>
						</p>
					{/each}
					{#each s.passed as c (c.title)}
						<p class="py-0.5">
							<Mark state="pass" bare size={12} />
							<span>{c.title}:</span>
							<span class="text-muted">{preferences.say(c.reason)}</span>
						</p>
					{/each}
					{#each s.missing as m (m.what)}
						<p class="py-0.5">
							<Mark state="not-checked" bare size={12} />
							<span>{m.titles.join(', ')}:</span>
							<span class="text-muted">{m.reason}</span>
							{#if CHANNELS.has(m.what)}<a class="underline" href="{planUrl}?add={m.what}"
									>ask for {titleOf(m.what).toLowerCase()}</a
								>{:else}<span class="font-semibold">Missing: {m.what}</span>{/if}
						</p>
					{/each}
				</div>
			{/if}
		</article>
	{/each}
</section>
