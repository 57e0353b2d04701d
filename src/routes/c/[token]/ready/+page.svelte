<script lang="ts">
	/** Before an event, on the phone: go or don't go by the newest log, as far as it was seen. */
	import { list, uncapital } from '$core/format';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import { levelText, READINESS_MARK } from '$lib/ui/readiness';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { refreshEvery } from '$lib/ui/refresh';
	import LocalTime from '$lib/ui/LocalTime.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const preferences = usePreferences();
	const reading = $derived(data.log !== null && ['received', 'reading'].includes(data.log.state));
	$effect(() => (reading ? refreshEvery(1500) : undefined));
	const lines = $derived(data.sheet?.lines ?? []);
	const unseen = $derived(lines.filter((l) => l.state.startsWith('not-')).map((l) => uncapital(l.item)));
	const odd = $derived(lines.some((l) => l.state === 'look'));
	const WORD = {
		go: 'fine',
		look: 'look at it',
		'no-go': "don't go",
		'not-recorded': 'not recorded',
		'not-driven': 'not driven',
		'not-stated': 'not known'
	} as const;
	/** What stands first: a person who is about to drive reads no further. */
	const verdict = $derived(
		!data.sheet
			? null
			: !data.sheet.go
				? { tone: 'stop', text: data.sheet.why }
				: unseen.length
					? {
							tone: 'watch',
							text: `Nothing is against it in what was recorded. Not seen: ${list(unseen)}.`
						}
					: odd
						? { tone: 'watch', text: 'No limit is passed, and something is not as it usually is.' }
						: { tone: 'clear', text: 'Everything on the sheet is fine.' }
	);
	const BORDER: Record<string, string> = {
		stop: 'border-stop',
		watch: 'border-watch',
		clear: 'border-clear'
	};
</script>

<svelte:head><title>Before an event – {data.vehicle}</title></svelte:head>

<h1 class="mb-2 text-figure">Before an event</h1>
{#if !data.log}
	<p>No log has come from you yet. Send one, and the sheet of it stands here a minute later.</p>
{:else if reading}
	<p role="status">Your log is being read.</p>
{:else if !data.sheet || !verdict}
	<p role="status">
		{data.log.state === 'declined'
			? 'Your tuner asked for another log: this one is not enough to judge from.'
			: 'This log could not be read: send it again, or ask your tuner.'}
	</p>
{:else}
	<p class="text-muted mb-2 text-text">By your log of <LocalTime at={data.log.at} /></p>
	{#if !data.looked}
		<p class="border-watch mb-3 border-l-4 py-1 pl-3 font-semibold">Your tuner hasn't looked yet.</p>
	{/if}
	<p class="mb-4 border-l-4 py-2 pl-3 text-lead font-semibold {BORDER[verdict.tone]}" data-testid="go">
		{verdict.text}
	</p>
	<ul>
		{#each lines as l (l.item)}
			<li class="border-line border-b py-2.5">
				<div class="flex items-baseline justify-between gap-3">
					<span class={l.state === 'no-go' ? 'text-stop font-semibold' : ''}>{l.item}</span>
					<span class="whitespace-nowrap"
						><Mark state={READINESS_MARK[l.state]} bare size={13} />
						{l.unusual ? 'not as usual' : WORD[l.state]}</span
					>
				</div>
				{#each l.levels as o (o.id)}
					<p class="text-muted text-small">
						{o.title}: <span class="text-ink">{levelText(preferences, o, o.value)}</span>{#if o.band}, usually
							{levelText(preferences, o, o.band.low)} to {levelText(preferences, o, o.band.high)}{/if}
					</p>
				{/each}
				{#if l.seen}<p class="text-muted mt-0.5 text-text">{preferences.say(l.seen)}</p>{/if}
			</li>
		{/each}
	</ul>
	<p class="text-muted mt-4 text-text">
		Computed from your log; a person decides. An engine that misfires, knocks or gets too hot is not driven
		on.
	</p>
{/if}
