<script lang="ts">
	import type { Snippet } from 'svelte';
	import { plural } from '$core/format';
	import { enhance } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import { refreshEvery } from '$lib/ui/refresh';
	import Download from '@lucide/svelte/icons/download';
	import SendLog from '$lib/ui/customer/SendLog.svelte';
	import LocalTime from '$lib/ui/LocalTime.svelte';
	import { day, size } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const reading = $derived(data.sent.some((s) => s.state === 'received' || s.state === 'reading'));
	$effect(() => refreshEvery(reading ? 1500 : 15_000));
	/** The tuner has it: nothing to do but wait. */
	const waiting = $derived(
		data.waitingOn === 'tuner' && data.sent[0] !== undefined && data.sent[0].state !== 'failed'
	);
	const newest = $derived(data.messages[0]);
	/** The last word of the tuner was to do something about the car. */
	const advice = $derived(
		newest?.kind === 'to-customer' && newest.advice && newest.advice !== 'log' ? newest.advice : null
	);
	/** What was just sent keeps its place open, with what is said to it. */
	let sentNow = $state(false);
	/** The one thing to do next; the rest is folded, and found by its name. */
	const next = $derived(
		advice
			? 'advice'
			: data.revision.released && !data.revision.installed
				? 'file'
				: data.done || waiting
					? 'nothing'
					: data.inspection.open > 0 && !data.revision.released && data.sent.length === 0
						? 'inspection'
						: data.plan || data.sent.length === 0
							? 'drive'
							: 'send'
	);
	const CAUTIONS = [
		'Full throttle only on a closed course, or where it stays within the law: straight, dry and empty.',
		'Nobody looks at the screen while driving. A passenger reads it, or you park first. Strap the laptop down.',
		'Lift at once on a misfire, pinging, a lean warning or high temperature. Let it rest, and send what you have.',
		'An engine that misfired is not driven hard again until the cause is found.',
		'Knock sensors stay connected and switched on.'
	];
	const STATE: Record<string, string> = {
		received: 'arrived',
		reading: 'being read',
		screened: 'arrived and read',
		failed: 'arrived, but could not be read',
		declined: 'not enough to judge from; your tuner asked for another one'
	};
	const ADVICE: Record<string, string> = {
		repair: 'Have this put right',
		part: 'This part first',
		fuel: 'Another fuel',
		other: 'Do this first'
	};
</script>

{#if newest?.kind === 'to-customer' && advice}
	<section class="mb-7" aria-label="Advice from your tuner">
		<h2>Next: {ADVICE[advice]}</h2>
		<p class="mt-1 break-words whitespace-pre-line">{newest.body}</p>
		<p class="text-muted mt-1 text-text">{newest.author}, <LocalTime at={newest.at} /></p>
		<p class="mt-2">When it is done, write below, or send the next log.</p>
	</section>
{:else if newest?.kind === 'to-customer'}
	<section class="border-ink mb-7 border-l-4 pl-3" aria-label="Message from your tuner">
		<p class="text-muted text-text">{newest.author}, <LocalTime at={newest.at} /></p>
		<p class="break-words whitespace-pre-line">{newest.body}</p>
	</section>
{/if}

{#if data.done}
	<section class="border-clear mb-7 border-l-4 pl-3" role="status">
		<p class="font-semibold">Your tune is done.</p>
		<p class="break-words whitespace-pre-line">{data.done.words}</p>
		<p class="text-muted mt-1 text-text">
			Should something come up, it stands below: a problem, a log, a word to your tuner.
		</p>
	</section>
{:else if waiting}
	<p class="border-clear mb-7 border-l-4 py-1 pl-3" role="status">
		Your tuner has your log and looks at it.{next === 'nothing' ? ' There is nothing to do for you now.' : ''}
	</p>
{/if}

{#if data.withdrawn}
	<section class="border-stop bg-stop-soft mb-7 border-l-4 px-3 py-2" role="alert">
		<p class="font-semibold">Don't drive on R{data.withdrawn.number}</p>
		<p>Your tuner took it back: {data.withdrawn.reason}</p>
		<p>
			{data.revision.released
				? `Put R${data.revision.number} back into the car.`
				: 'Put the file back that was in the car at the beginning, or park it until you hear from your tuner.'}
		</p>
	</section>
{/if}

{#snippet part(key: string, title: string, body: Snippet, open = false)}
	{@const main = next === key}
	<details class="border-line mb-2 border-t pt-2 {main ? 'mb-7' : ''}" open={main || open}>
		<summary class="cursor-pointer py-1 {main ? '' : 'text-lead'}"
			><h2 class="inline {main ? 'text-ink!' : ''}">{main ? `Next: ${title}` : title}</h2></summary
		>
		<div class="pb-3">{@render body()}</div>
	</details>
{/snippet}

{#snippet fileBody()}
	<p class="mt-1 mb-2">
		{data.withdrawn ? 'The file to go back to is' : 'Your new file is'}
		<strong>R{data.revision.number}</strong>, from {day(data.revision.at)}.
	</p>
	{#each data.files as f (f.id)}
		<a
			class="button button-main mb-2 w-full justify-center py-3! whitespace-normal!"
			href="{data.base}/files/{f.id}"
			download
		>
			<Download size={18} aria-hidden="true" /><span class="break-all">{f.name}</span>, {size(f.bytes)}
		</a>
		<p class="text-muted mb-3 text-text break-words">
			Only for controller {f.hardware}, software {f.software}. Check both before you flash.{#if f.later}
				Added <LocalTime at={f.at} />.{/if}
			<span class="numbers block break-all">sha-256 {f.sha256}</span>
		</p>
	{/each}
	{#if data.givesTables}
		<a
			class="button w-full justify-center py-3! {data.files.length ? '' : 'button-main'}"
			href="{data.base}/calibration"
			download
		>
			<Download size={18} aria-hidden="true" />Tables of R{data.revision.number}, in plain numbers
		</a>
	{:else if data.files.length === 0}
		<p class="mb-2">There is nothing to download here: your tuner brings the file to you another way.</p>
	{/if}
	{#if data.revision.installed}
		<p class="text-clear mt-2" role="status">You said that R{data.revision.number} is in the car.</p>
	{:else}
		<form method="POST" action="?/installed" use:enhance class="mt-2">
			<input type="hidden" name="revision" value={data.revision.id} />
			<button class="button w-full justify-center py-3!">R{data.revision.number} is in the car now</button>
		</form>
	{/if}
	<h3 class="mt-4 font-semibold">What changed</h3>
	<p class="mt-1 whitespace-pre-line">
		{newest?.kind === 'to-customer' && data.revision.notes && newest.body.includes(data.revision.notes)
			? 'It stands in the message above.'
			: data.revision.notes || 'Your tuner left no notes.'}
	</p>
{/snippet}

{#snippet inspectionBody()}
	<p class="mt-1 mb-2">
		Before the first log, with the phone in your hand. {data.inspection.all} things, some with a photo.
	</p>
	<a
		class="button {next === 'inspection' ? 'button-main' : ''} w-full justify-center py-3!"
		href="{data.base}/inspection"
		>{data.inspection.open === data.inspection.all
			? 'Begin'
			: data.inspection.open === 0
				? 'See your answers'
				: `Go on: ${data.inspection.open} left`}</a
	>
{/snippet}

{#snippet driveBody()}
	{#if data.plan}
		<p class="mt-1 mb-2"><strong>{data.plan.title}.</strong> {data.plan.purpose}</p>
		<a
			class="button w-full justify-center py-3! {next === 'drive' ? 'button-main' : ''}"
			href="{data.base}/plan">Open the {plural(data.plan.steps, 'step')}</a
		>
	{:else}
		<p class="mt-1">
			Engine warm. Idle for half a minute, cruise gently, accelerate a little, then with half throttle. Full
			throttle only when your tuner asks for it.
		</p>
	{/if}
	<details class="mt-3">
		<summary class="cursor-pointer py-1 font-semibold">Before you drive</summary>
		<ul class="mt-1 list-disc space-y-1.5 pl-5">
			{#each CAUTIONS as c (c)}<li>{c}</li>{/each}
		</ul>
	</details>
{/snippet}

{#snippet sendBody()}
	<p class="mt-1 mb-3">As a text file (CSV), packed or not. It is looked through here before it is sent.</p>
	<SendLog
		url="{data.base}/uploads"
		context={data.context}
		kind="drive"
		onsent={() => {
			sentNow = true;
			void invalidateAll();
		}}
	/>
	{#if data.sent.length}
		<ul class="mt-4">
			{#each data.sent as s (s.id)}
				<li class="border-line border-b py-1.5">
					<span class="break-all">{s.name}</span>
					<span class="text-muted block text-text"><LocalTime at={s.at} /> · {STATE[s.state] ?? s.state}</span
					>
					{#if s.message}<span class="text-stop block text-text">{s.message}</span>{/if}
				</li>
			{/each}
		</ul>
	{/if}
{/snippet}

{#snippet problemBody()}
	<p class="mt-1 mb-2">Record it while it happens, a minute is enough; or just say what it did.</p>
	<a class="button w-full justify-center py-3!" href="{data.base}/problem">Report a problem</a>
{/snippet}

{#snippet readyBody()}
	<p class="mb-2">
		Your last log against what the car stands, and against how it usually is. Record one before an event, and
		send it.
	</p>
	<a class="button w-full justify-center py-3!" href="{data.base}/ready">Go or don't go</a>
{/snippet}

{#snippet plugsBody()}
	<p class="mt-1 mb-2">
		Engine off straight after the pass, plugs out in order, one photo of each from the side.
	</p>
	<a class="button w-full justify-center py-3!" href="{data.base}/plugs">Photograph the plugs</a>
{/snippet}

{#snippet storyBody()}
	<ol class="mt-2">
		{#each data.story as line (line.at + line.says)}
			<li class="relative pb-3 pl-5 last:pb-0">
				<span
					aria-hidden="true"
					class="border-line absolute top-2 bottom-[-0.5rem] left-[5px] border-l {line === data.story.at(-1)
						? 'hidden'
						: ''}"
				></span>
				<span
					aria-hidden="true"
					class="border-ink absolute top-[6px] left-0 size-[11px] rounded-full border-2 {line.by === 'you'
						? 'bg-paper'
						: 'bg-ink'}"
				></span>
				<span class="text-muted block text-text"
					><LocalTime at={line.at} /> · {line.by === 'you' ? 'you' : 'your tuner'}</span
				>
				<span class="break-words">{line.says}</span>
			</li>
		{/each}
	</ol>
{/snippet}

{#snippet writeBody()}
	<form method="POST" action="?/write" use:enhance class="mt-1">
		<textarea name="body" rows="3" maxlength="8000" aria-label="Message to your tuner"
			>{form && 'entered' in form ? (form.entered?.['body'] ?? '') : ''}</textarea
		>
		<button class="button mt-1 w-full justify-center py-2!">Send the message</button>
		{#if form && 'message' in form}<p role="alert" class="text-stop mt-1">{form.message}</p>
		{:else if form && 'written' in form}<p role="status" class="mt-1">Your tuner has it.</p>{/if}
	</form>
	{#each data.messages as m (m.id)}
		<article class="border-line mt-3 border-t pt-2">
			<p class="text-muted text-text">
				{m.kind === 'from-customer' ? 'You' : m.author}, <LocalTime at={m.at} />
			</p>
			<p class="break-words whitespace-pre-line">{m.body}</p>
		</article>
	{/each}
{/snippet}

{#if data.revision.released}{@render part(
		'file',
		'Put this into the car',
		fileBody,
		form !== null && 'confirmed' in form
	)}{/if}
{#if next === 'inspection'}{@render part('inspection', 'Inspection', inspectionBody)}{/if}
{@render part('drive', 'Drive and record', driveBody)}
{@render part('send', 'Send the log', sendBody, next === 'drive' || sentNow)}
{@render part('problem', 'Something is wrong with it', problemBody, waiting)}
{#if next !== 'inspection'}{@render part('inspection', 'Inspection', inspectionBody)}{/if}
{#if data.sent.length}{@render part('ready', 'Before an event', readyBody)}{/if}
{@render part('plugs', 'Photos of the spark plugs', plugsBody)}
{#if data.story.length > 1}{@render part('story', 'What happened so far', storyBody)}{/if}
{@render part('write', 'Write to your tuner', writeBody, form !== null || newest?.kind === 'from-customer')}
