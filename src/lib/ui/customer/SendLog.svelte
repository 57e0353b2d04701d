<script lang="ts">
	/** Choose a log, hear on the phone whether it will do, answer a few questions, send it. */
	import { proxy, wrap } from 'comlink';
	import { onDestroy } from 'svelte';
	import Upload from '@lucide/svelte/icons/upload';
	import type { PhoneAnswer, PhoneCheck, PhoneContext } from '$lib/workers/phone-check.worker';
	import CheckWorker from '$lib/workers/phone-check.worker?worker';
	import { size } from '../time';
	import type { LayoutHint } from '$core/logfile/layout-hint';
	import { bankCount } from '$core/vehicle/facts';
	import LayoutForm from '../upload/LayoutForm.svelte';
	import { sendFile } from '../upload/send';

	let {
		url,
		context,
		kind,
		onsent
	}: { url: string; context: PhoneContext; kind: 'drive' | 'problem'; onsent: () => void } = $props();

	const QUESTIONS = [
		['fuel', 'Which fuel is in the tank, and how full is it?'],
		['ethanol', 'Ethanol, in percent, if you know it'],
		['weather', 'What weather was it?'],
		['where', 'Where did you drive: road, track, dyno? Uphill?'],
		['odd', 'Anything odd: noises, smells, a warning lamp?']
	] as const;

	let input: HTMLInputElement;
	let file = $state<File | null>(null);
	let step = $state<'choose' | 'checking' | 'checked' | 'sending' | 'sent'>('choose');
	let share = $state(0);
	let answer = $state<PhoneAnswer | null>(null);
	/** How the file is laid out, where that had to be said. */
	let layout = $state<LayoutHint | undefined>();
	let said = $state<Record<string, string>>({});
	/** The day, and where the sensor sat: fields of the conditions of a log. */
	let day = $state<Record<string, string>>({});
	/** The one sensor of an engine with two banks: it can sit in either, and only who made the log knows. */
	const lone = $derived.by(() => {
		const own = (context.vehicle.sensors?.lambda ?? []).filter((s) => /^lambda\.b[12]$/.test(s.channel));
		return bankCount(context.vehicle) === 2 && own.length === 1 ? own[0]!.channel : null;
	});
	const bankOf = (bank: number) => context.vehicle.engine.banks?.[bank]?.[0] ?? bank + 1;
	let words = $state('');
	let moment = $state('');
	let problem = $state('');
	let picked = $state<string | null>(null);
	/** Id of the revision that was in the car; empty while nobody has said it. */
	const made = $derived(picked ?? (context.confirmed === null ? '' : String(context.confirmed)));
	let cancel = () => {};
	let worker: Worker | null = null;
	let api: ReturnType<typeof wrap<PhoneCheck>> | null = null;

	function remote() {
		worker ??= new CheckWorker();
		return (api ??= wrap<PhoneCheck>(worker));
	}
	function endWorker() {
		worker?.terminate();
		worker = null;
		api = null;
	}
	onDestroy(endWorker);

	async function take(chosen: File | undefined, hint?: LayoutHint) {
		if (!chosen) return;
		file = chosen;
		layout = hint;
		problem = '';
		answer = null;
		share = 0;
		step = 'checking';
		answer = await remote().check(
			chosen,
			$state.snapshot(context) as PhoneContext,
			hint,
			proxy((s: number) => (share = s))
		);
		if (step === 'checking') step = 'checked';
	}
	function stopChecking() {
		endWorker();
		step = 'checked';
	}
	/** Minutes and seconds, or seconds, into seconds; `null` when it is neither. */
	function secondsOf(text: string): number | null {
		const m = /^(?:(\d{1,3}):)?(\d{1,5}(?:[.,]\d+)?)$/.exec(text.trim());
		return m ? Number(m[1] ?? 0) * 60 + Number(m[2]!.replace(',', '.')) : null;
	}
	async function send() {
		if (!file) return;
		const at = moment ? secondsOf(moment) : null;
		if (moment && at === null) {
			problem = 'Write the moment as minutes and seconds, like 1:30, or as seconds.';
			return;
		}
		if (made === '') {
			problem = 'Say which file was in the car.';
			return;
		}
		problem = '';
		step = 'sending';
		share = 0;
		const answers = Object.fromEntries(Object.entries(said).filter(([, v]) => v.trim() !== ''));
		const sending = sendFile(
			url,
			file,
			{
				kind,
				words,
				revision: made,
				...(at === null ? {} : { momentS: String(at) }),
				...(layout ? { layout: JSON.stringify(layout) } : {}),
				answers: JSON.stringify(answers),
				conditions: JSON.stringify(Object.fromEntries(Object.entries(day).filter(([, v]) => v.trim() !== '')))
			},
			(s) => (share = s)
		);
		cancel = sending.cancel;
		try {
			const sent = await sending.done;
			step = 'sent';
			problem = sent.duplicate ? 'This very file was here already; it was not stored twice.' : '';
			onsent();
		} catch (e) {
			step = 'checked';
			problem = e instanceof Error ? e.message : String(e);
		}
	}
	function again() {
		step = 'choose';
		file = null;
		layout = undefined;
		answer = null;
		said = {};
		words = '';
		moment = '';
		input.value = '';
	}
</script>

<input
	bind:this={input}
	type="file"
	class="hidden"
	aria-label={kind === 'problem' ? 'Choose the recording of the problem' : 'Choose the log'}
	onchange={() => void take(input.files?.[0])}
/>

<div aria-live="polite">
	{#if step === 'choose'}
		<button
			type="button"
			class="button button-main w-full justify-center py-3! text-lead"
			onclick={() => input.click()}
		>
			<Upload size={18} aria-hidden="true" />{kind === 'problem' ? 'Choose the recording' : 'Choose the log'}
		</button>
	{:else}
		<p class="break-all">
			<strong>{file?.name}</strong>, {size(file?.size ?? 0)}
		</p>
	{/if}

	{#if step === 'checking'}
		<p class="mt-2">Looking through it, here on your phone …</p>
		<progress class="mt-1 w-full" max="1" value={share} aria-label="Looked through"></progress>
		<button type="button" class="button mt-2" onclick={stopChecking}>Don't wait for it</button>
	{/if}

	{#if step === 'checked' || step === 'sending'}
		{#if answer && !answer.ok}
			<div class="border-stop mt-3 border-l-4 py-1 pl-3">
				<p class="font-semibold">This file can't be read as a log.</p>
				<p>{answer.message}.</p>
				<p class="text-muted mt-1">
					{answer.seen
						? 'Say below how it is laid out, export it again as text (CSV), or send it as it is.'
						: 'Export it again as text (CSV), or send it as it is and say what it is.'}
				</p>
			</div>
			{#if answer.seen}
				{#key answer}<LayoutForm
						seen={answer.seen}
						button="Look through it again"
						onsay={(hint) => void take(file ?? undefined, hint)}
					/>{/key}
			{/if}
		{:else if answer}
			<div
				class="mt-3 border-l-4 py-1 pl-3 {answer.fit.willDo ? 'border-clear' : 'border-fix'}"
				data-testid="fit"
			>
				<p class="font-semibold">{answer.fit.willDo ? 'This log will do.' : 'This log may not be enough.'}</p>
				<ul class="mt-1 list-disc space-y-1 pl-5">
					{#each answer.fit.lacks as line (line)}<li>{line}</li>{/each}
				</ul>
				<p class="text-muted mt-1">In it: {answer.fit.has.join(', ')}.</p>
			</div>
			{#if answer.fit.careful}
				<p class="border-stop bg-stop-soft mt-3 border-l-4 px-3 py-2">
					Something in this log needs your tuner's eye first. Drive gently until you have an answer.
				</p>
			{/if}
		{/if}

		<div class="mt-4 space-y-3">
			{#if context.revisions.length > 1}
				<label class="block"
					><span class="text-text">Which file was in the car?</span>
					<select value={made} onchange={(e) => (picked = e.currentTarget.value)} required>
						{#if context.confirmed === null}<option value="">choose</option>{/if}
						{#each context.revisions as r (r.id)}
							<option value={String(r.id)}
								>{r.number === 0 ? 'As it came to the tuner' : `R${r.number}`}</option
							>
						{/each}
					</select></label
				>
			{/if}
			{#if kind === 'problem'}
				<label class="block"
					><span class="text-text">When did it happen? Minutes and seconds into the recording, like 1:30</span
					><input bind:value={moment} inputmode="text" autocomplete="off" /></label
				>
				<label class="block"
					><span class="text-text">What did it do? In your own words</span><textarea
						bind:value={words}
						rows="4"></textarea></label
				>
			{:else}
				<label class="block"
					><span class="text-text">How warm was it outside, in °C?</span><input
						bind:value={day['ambientC']}
						inputmode="decimal"
						maxlength="8"
						autocomplete="off"
					/></label
				>
				{#if lone}
					<label class="block"
						><span class="text-text">In which bank was the lambda sensor?</span>
						<select bind:value={day[`site.${lone}`]}>
							<option value="">where it always is</option>
							<option value="bank1">bank 1, the side of cylinder {bankOf(0)}</option>
							<option value="bank2">bank 2, the side of cylinder {bankOf(1)}</option>
						</select></label
					>
				{/if}
				{#each QUESTIONS as [id, question] (id)}
					<label class="block"
						><span class="text-text">{question}</span><input
							bind:value={said[id]}
							maxlength="400"
							autocomplete="off"
						/></label
					>
				{/each}
				<label class="block"
					><span class="text-text"
						>{answer && (!answer.ok || !answer.fit.willDo)
							? 'Why you send it all the same, and anything else'
							: 'Anything else for your tuner'}</span
					><textarea bind:value={words} rows="3"></textarea></label
				>
			{/if}
		</div>
	{/if}

	{#if problem && step !== 'sent'}<p role="alert" class="text-stop mt-3">{problem}</p>{/if}

	{#if step === 'checked'}
		<button
			type="button"
			class="button button-main mt-4 w-full justify-center py-3! text-lead"
			onclick={send}
		>
			{answer && (!answer.ok || !answer.fit.willDo) ? 'Send it all the same' : 'Send it'}
		</button>
		<button type="button" class="button mt-2 w-full justify-center py-2!" onclick={again}
			>Choose another file</button
		>
	{:else if step === 'sending'}
		<progress class="mt-4 w-full" max="1" value={share} aria-label="Sent"></progress>
		<div class="flex items-center justify-between">
			<span class="numbers">{Math.round(share * 100)} % sent</span>
			<button type="button" class="button" onclick={() => cancel()}>Cancel</button>
		</div>
	{:else if step === 'sent'}
		<p class="border-clear mt-3 border-l-4 py-1 pl-3 font-semibold">Sent. Your tuner has it.</p>
		{#if problem}<p class="mt-1">{problem}</p>{/if}
		<button type="button" class="button mt-3" onclick={again}>Send another one</button>
	{/if}
</div>
