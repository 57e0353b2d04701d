<script lang="ts">
	/** The proof protocol of a job: what was compared, what it says, and which step this log may stand for. */
	import Alert from '$lib/ui/Alert.svelte';
	import { fixed } from '$core/format';
	import { enhance } from '$app/forms';
	import type { KnockEntry } from '$core/evidence/knock/knock-view';
	import { fallText, monitorWords, PROOF_STEPS, STEP_TITLES, stepNeeds } from '$core/evidence/knock/proof';
	import type { Proof } from '$lib/server/jobs/knock-proofs';
	import Mark from '../findings/Mark.svelte';
	import { usePreferences } from '../preferences.svelte';
	import UnitField from '../vehicle/UnitField.svelte';

	let {
		proofs,
		worst,
		form
	}: {
		proofs: Proof[];
		/** Where a new proof would look. */
		worst: KnockEntry | null;
		form: unknown;
	} = $props();
	const preferences = usePreferences();
	const MARK = { real: 'stop', false: 'clear', unclear: 'fix', open: 'not-checked' } as const;
	const WORD = {
		real: 'Real knock',
		false: 'Proved false',
		unclear: 'Unclear, treated as real',
		open: 'Not decided yet'
	} as const;
	const problem = $derived(
		form !== null && typeof form === 'object' && 'message' in form ? String(form.message) : ''
	);
	const around = (v: number | null | undefined, by: number, step: number, sign: number) =>
		v === null || v === undefined ? '' : String(Math.round((v + sign * by) / step) * step);
</script>

<section class="mt-6" aria-label="Proof">
	<h2 class="mb-1">Proof, real or false</h2>
	<p class="text-muted mb-2 max-w-[80ch] text-text">
		The same test again and again in one region: baseline, mixture verified, timing 2° back or richer, octane
		up at a third to a quarter of a tank, then the baseline again; three pulls each. It falls: real. Only what
		certainly stays is false, and only then may sensitivity come down, 5 % at a time. The sensors are never
		switched off.
	</p>
	<Alert message={problem} class="mb-2" />
	{#each proofs as p (p.id)}
		{@const base = p.steps.find((x) => x.step === 'baseline')}
		<article class="border-line mb-3 border-b pb-3">
			<p data-testid="proof">
				<Mark state={MARK[p.verdict.verdict]} bare size={13} />
				<strong>{WORD[p.verdict.verdict]}</strong>: {preferences.say(p.verdict.because)}.
				<span class="text-muted"
					>Region <span class="numbers"
						>{p.region.rpm[0]}–{p.region.rpm[1]} rpm, {preferences.text(p.region.mapKpa[0], 'kPa abs')} to {preferences.text(
							p.region.mapKpa[1],
							'kPa abs'
						)}</span
					></span
				>
			</p>
			<table class="mt-1 text-right text-text">
				<thead>
					<tr class="text-muted text-small">
						<th class="pr-6 text-left font-normal">Step</th><th class="pr-6 text-left font-normal">Log</th><th
							class="px-2 font-normal">Retard, ° mean</th
						><th class="px-2 font-normal">Fall, % (95 %)</th><th class="px-2 font-normal">Loaded, s</th><th
							class="px-2 font-normal">Pulls</th
						><th class="px-2 font-normal">Intake, {preferences.units.temperature}</th><th
							class="px-2 font-normal">Monitor</th
						><th class="pl-4 text-left font-normal"></th>
					</tr>
				</thead>
				<tbody>
					{#each PROOF_STEPS as step (step)}
						{@const s = p.steps.find((x) => x.step === step)}
						{@const judged = p.verdict.steps.find((x) => x.step === step)}
						<tr>
							<td class="pr-6 text-left">{STEP_TITLES[step]}</td>
							{#if s}
								<td class="max-w-[220px] truncate pr-6 text-left" title={s.logName}>{s.logName}</td>
								<td class="numbers px-2"
									>{Number.isFinite(s.measure.meanRetardDeg) ? fixed(s.measure.meanRetardDeg, 2) : '–'}</td
								>
								<td class="numbers px-2">{judged?.fall ? fallText(judged.fall) : '–'}</td>
								<td class="numbers px-2">{fixed(s.measure.secondsLoaded, 1)}</td>
								<td class="numbers px-2">{s.measure.perPullDeg.length}</td>
								<td class="numbers px-2"
									>{Number.isFinite(s.measure.intakeC)
										? fixed(preferences.shown(s.measure.intakeC, '°C').value, 0)
										: '–'}</td
								>
								<td class="px-2 text-small whitespace-nowrap">{monitorWords(s.measure)}</td>
								<td class="pl-4 text-left text-small"
									>{judged?.void ? `void: ${preferences.say(judged.void)}` : ''}</td
								>
							{:else}
								<td colspan="7" class="text-left">
									<form method="POST" action="?/step" use:enhance>
										<input type="hidden" name="proof" value={p.id} />
										<input type="hidden" name="step" value={step} />
										<button class="cursor-pointer text-small underline">this log is it</button>
										{#if base}<span class="text-muted text-small"
												>needs {preferences.say(stepNeeds(base.measure))}</span
											>{/if}
									</form>
								</td>
							{/if}
						</tr>
					{/each}
				</tbody>
			</table>
		</article>
	{/each}
	<form
		method="POST"
		action="?/start"
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
		class="flex flex-wrap items-center gap-3 text-small"
	>
		{#each [['rpmFrom', 'rpm from', -1], ['rpmTo', 'to', 1]] as const as [name, word, sign] (name)}
			<label class="flex items-center gap-1.5"
				>{word}<input
					class="numbers w-20!"
					{name}
					value={around(worst?.rpm, 500, 100, sign)}
					inputmode="decimal"
					required
					autocomplete="off"
				/></label
			>
		{/each}
		{#each [['kpaFrom', `${preferences.units.pressure} from`, -1], ['kpaTo', 'to', 1]] as const as [name, word, sign] (name)}
			<label class="numbers flex w-36 items-center gap-1.5 font-sans"
				><span class="whitespace-nowrap">{word}</span><UnitField
					field={{ path: name, label: word, kind: 'number', unit: 'kPa', required: true }}
					value={around(worst?.mapKpa, 15, 5, sign)}
				/></label
			>
		{/each}
		<button class="button">Begin a proof with this log as its baseline</button>
	</form>
</section>
