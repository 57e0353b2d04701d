<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { CHANNELS } from '$core/channels/canonical';
	import { fixed, plural } from '$core/format';
	import { convert } from '$core/units/units';
	import { joinedPlans } from '$core/planning/own-plan';
	import { planFrom, usualStep, type TemplateId } from '$core/planning/templates';
	import { MANOEUVRES, type LogRequest, type Manoeuvre } from '$core/request';
	import ConfirmButton from '$lib/ui/ConfirmButton.svelte';
	import { usePreferences } from '$lib/ui/preferences.svelte';
	import { moment } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const preferences = usePreferences();
	let sending = $state(false);
	/** The tuner's own changes to what the template gave; a new choice begins anew. */
	let edited = $state<LogRequest | null>(null);
	const plan = $derived(edited ?? data.plan);
	const channels = $derived(
		(plan.channels ?? []).map((c) => (typeof c === 'string' ? { id: c, why: '', minRateHz: 0 } : c))
	);
	const titleOf = (id: string) => CHANNELS.get(id)?.title ?? id;
	const free = $derived(
		[...CHANNELS.values()].filter((c) => c.id !== 'time' && !channels.some((h) => h.id === c.id))
	);

	function choose(change: { template?: string; own?: string; cap?: string; gears?: number[] }) {
		const cap = change.cap ?? (data.cap === null ? '' : String(data.cap));
		const gears = change.gears ?? data.gears;
		const own = change.template ? null : (change.own ?? data.own);
		const query = [
			own
				? `own=${encodeURIComponent(own)}`
				: `template=${change.template ?? data.template ?? data.templates[0]!.id}`,
			...(cap ? [`cap=${encodeURIComponent(cap)}`] : []),
			...(gears.length ? [`gears=${gears.join(',')}`] : [])
		];
		edited = null;
		void goto(`?${query.join('&')}`, { keepFocus: true, noScroll: true, replaceState: true });
	}
	function edit(change: (p: LogRequest) => void) {
		const next = structuredClone($state.snapshot(plan)) as LogRequest;
		change(next);
		edited = next;
	}
	const options = $derived({
		speedCapKmh: data.cap,
		...(data.gears.length ? { gears: data.gears } : {})
	});
	function addStep(kind: Manoeuvre['kind']) {
		const step = usualStep(kind, data.job.vehicle, options);
		edit((p) => (p.manoeuvres = [...(p.manoeuvres ?? []), structuredClone(step)]));
	}
	/** The steps of another plan behind those that stand here. */
	function join(which: string) {
		const other = which.startsWith('own:')
			? data.joins[which.slice(4)]
			: planFrom(which as TemplateId, data.job.vehicle, options);
		if (other) edited = joinedPlans($state.snapshot(plan) as LogRequest, other);
	}
	function move(i: number, by: number) {
		edit((p) => {
			const [step] = p.manoeuvres!.splice(i, 1);
			p.manoeuvres!.splice(i + by, 0, step!);
		});
	}
	let keeping = $state('');
	/** The plan couldn't be kept: said where that was asked for. */
	const notKept = $derived(form && 'entered' in form && form.entered && 'name' in form.entered);
	const chosenGears = $derived(data.gears.length ? data.gears : data.advice.pulls);
	function toggle(gear: number) {
		const next = chosenGears.includes(gear) ? chosenGears.filter((g) => g !== gear) : [...chosenGears, gear];
		choose({ gears: next.sort((a, b) => a - b) });
	}
	const hasPull = $derived((plan.manoeuvres ?? []).some((m) => m.kind === 'pull'));
	const KIND: Record<string, string> = {
		idle: 'Idle',
		cruise: 'Cruise',
		light: 'Light acceleration',
		medium: 'Medium acceleration',
		pull: 'Full throttle',
		start: 'Start',
		symptom: 'The problem'
	};
	const speed = (kmh: number) => preferences.shown(kmh, 'km/h', 14.7);
</script>

<svelte:head><title>Drive plan of {data.job.title} – Tanto</title></svelte:head>

<PageHead
	title="Drive plan"
	says={[
		data.current
			? `last sent ${moment(data.current.at)} UTC: ${data.current.plan.title ?? 'a drive plan'}`
			: 'nothing was asked for yet'
	]}
/>
{#if data.added}<p role="status" class="border-watch mb-4 border-l-4 px-3 py-1">
		{data.added === 1 ? 'One channel' : `${data.added} channels`} that checks wait for {data.added === 1
			? 'is'
			: 'are'} asked for below. Look it over and send it.
	</p>{/if}
<Alert box message={notKept ? '' : messageOf(form)} class="mb-4" />

<div class="grid grid-cols-[250px_minmax(0,1fr)] items-start gap-8">
	<div>
		<fieldset>
			<legend class="mb-1">Template</legend>
			{#if data.byWay}<p class="text-muted text-small mb-1">
					First of a job by the workshop’s <a class="underline" href="/ways">ways of working</a>.
				</p>{/if}
			{#each data.templates as t (t.id)}
				<label class="border-line flex gap-2 border-b py-1 {data.template === t.id ? 'bg-shade' : ''}">
					<input
						type="radio"
						name="template-choice"
						checked={data.template === t.id}
						onchange={() => choose({ template: t.id })}
					/>
					<span
						><span class="font-semibold">{t.title}</span><br /><span class="text-muted text-small"
							>{t.when}</span
						></span
					>
				</label>
			{/each}
		</fieldset>
		{#if data.ownPlans.length}
			<fieldset class="mt-4">
				<legend class="mb-1">The workshop’s own</legend>
				{#each data.ownPlans as p (p.name)}
					<div
						class="border-line flex items-start gap-2 border-b py-1 {data.own === p.name ? 'bg-shade' : ''}"
					>
						<label class="flex min-w-0 flex-1 gap-2">
							<input
								type="radio"
								name="template-choice"
								checked={data.own === p.name}
								onchange={() => choose({ own: p.name })}
							/>
							<span class="min-w-0 break-words"
								><span class="font-semibold">{p.name}</span><br /><span class="text-muted text-small"
									>{plural(p.steps, 'step')}</span
								></span
							>
						</label>
						<form method="POST" action="?/forget" use:enhance>
							<input type="hidden" name="name" value={p.name} />
							<ConfirmButton
								text="×"
								class="button button-small"
								label="Remove the plan {p.name}"
								question="Remove “{p.name}”?"
								consequence="It is no longer offered. Plans that were sent stay as they are."
								action="Remove"
							/>
						</form>
					</div>
				{/each}
			</fieldset>
		{/if}
	</div>
	<div>
		{#if hasPull}
			<section class="border-line mb-5 border-b pb-4">
				<div class="mb-2 flex items-end gap-4">
					<h2>Gears for full throttle, road speed at the limiter</h2>
					<label class="ml-auto flex items-center gap-2 text-small"
						>never faster than
						<input
							class="numbers w-20!"
							inputmode="decimal"
							value={data.cap === null ? '' : fixed(preferences.shown(data.cap, 'km/h').value, 0)}
							onchange={(e) => {
								const typed = Number(e.currentTarget.value.replace(',', '.'));
								choose({
									cap: typed > 0 ? fixed(convert(typed, preferences.units.speed, 'km/h'), 1) : ''
								});
							}}
						/>
						{preferences.units.speed}</label
					>
				</div>
				{#if data.advice.lines.length}
					<div class="flex flex-wrap gap-x-2 gap-y-2">
						{#each data.advice.lines as l (l.gear)}
							<label
								class="border-line flex min-w-[100px] flex-col border px-2 py-1 {chosenGears.includes(l.gear)
									? 'bg-shade border-ink'
									: ''}"
							>
								<span class="flex items-center gap-1.5"
									><input
										type="checkbox"
										checked={chosenGears.includes(l.gear)}
										onchange={() => toggle(l.gear)}
									/>Gear {l.gear}{l.gear === data.advice.recommended ? ', best' : ''}</span
								>
								<span class="numbers text-muted"
									>{l.limiterKmh === null
										? 'speed not known'
										: `${Math.round(speed(l.limiterKmh).value)} ${speed(l.limiterKmh).unit}`}</span
								>
								{#if l.cappedRpm}<span class="text-fix text-small"
										>to {Math.round(l.cappedRpm / 50) * 50} rpm</span
									>{/if}
							</label>
						{/each}
					</div>
				{/if}
				{#if data.advice.remark}<p class="text-fix mt-2">{data.advice.remark}</p>{/if}
			</section>
		{/if}

		<h2 class="mb-1">What to drive, in this order</h2>
		<p class="text-muted mb-2">{plan.purpose}</p>
		<ol class="mb-2">
			{#each plan.manoeuvres ?? [] as m, i (i)}
				<li class="border-line grid grid-cols-[130px_minmax(0,1fr)_auto] gap-3 border-b py-2">
					<span class="font-semibold">{i + 1}. {KIND[m.kind]}</span>
					<div>
						<textarea
							aria-label="Words for step {i + 1}"
							rows={(m.how?.length ?? 0) > 160 ? 3 : 2}
							value={m.how ?? ''}
							onchange={(e) => {
								const how = e.currentTarget.value;
								edit((p) => (p.manoeuvres![i]!.how = how));
							}}></textarea>
						<span class="text-muted text-small">done: {m.doneWhen}</span>
					</div>
					<div class="flex gap-1 self-start">
						<button
							type="button"
							class="button button-small"
							aria-label="Move step {i + 1} up"
							disabled={i === 0}
							onclick={() => move(i, -1)}>↑</button
						>
						<button
							type="button"
							class="button button-small"
							aria-label="Move step {i + 1} down"
							disabled={i + 1 === plan.manoeuvres?.length}
							onclick={() => move(i, 1)}>↓</button
						>
						<button
							type="button"
							class="button button-small"
							aria-label="Take step {i + 1} out"
							onclick={() => edit((p) => p.manoeuvres!.splice(i, 1))}>Remove</button
						>
					</div>
				</li>
			{/each}
		</ol>
		<div class="mb-5 flex flex-wrap gap-3">
			<select
				aria-label="Add a step"
				class="w-52!"
				value=""
				onchange={(e) => {
					const kind = e.currentTarget.value;
					if (kind) addStep(kind as Manoeuvre['kind']);
					e.currentTarget.value = '';
				}}
			>
				<option value="">add a step …</option>
				{#each MANOEUVRES as kind (kind)}<option value={kind}>{KIND[kind]}</option>{/each}
			</select>
			<select
				aria-label="Join another plan"
				class="w-64!"
				value=""
				onchange={(e) => {
					if (e.currentTarget.value) join(e.currentTarget.value);
					e.currentTarget.value = '';
				}}
			>
				<option value="">join another plan …</option>
				{#each data.templates.filter((t) => t.id !== data.template) as t (t.id)}<option value={t.id}
						>{t.title}</option
					>{/each}
				{#each data.ownPlans.filter((p) => p.name !== data.own) as p (p.name)}<option value="own:{p.name}"
						>{p.name}</option
					>{/each}
			</select>
		</div>
		<h2 class="mb-1">What to record</h2>
		<p class="text-muted text-small mb-2">
			{#if data.kit.layoutId === null}How to set the recording up isn’t kept for this controller yet: it is
				kept with the layout of its tables.
			{:else if data.kit.steps || data.kit.files}With it go {plural(data.kit.steps, 'step')} and {plural(
					data.kit.files,
					'file'
				)} of the controller’s <a class="underline" href="/layouts/{data.kit.layoutId}/kit">recording kit</a>.
			{:else}No <a class="underline" href="/layouts/{data.kit.layoutId}/kit">recording kit</a> for this controller
				yet.{/if}
		</p>
		<ul class="mb-2 flex flex-wrap gap-1.5">
			{#each channels as c, i (c.id)}
				<li class="border-line flex items-center gap-1.5 border px-2 py-0.5" title={c.why}>
					{titleOf(c.id)}{#if c.minRateHz}<span class="numbers text-muted">{c.minRateHz} Hz</span>{/if}
					<button
						type="button"
						class="text-muted hover:text-ink cursor-pointer"
						aria-label="Don't ask for {titleOf(c.id)}"
						onclick={() => edit((p) => p.channels!.splice(i, 1))}>×</button
					>
				</li>
			{/each}
		</ul>
		<select
			aria-label="Ask for another channel"
			class="mb-5 w-60!"
			value=""
			onchange={(e) => {
				const id = e.currentTarget.value;
				if (id) edit((p) => (p.channels = [...(p.channels ?? []), { id, minRateHz: 10 }]));
				e.currentTarget.value = '';
			}}
		>
			<option value="">another channel …</option>
			{#each free as c (c.id)}<option value={c.id}>{c.title}</option>{/each}
		</select>

		<form
			method="POST"
			action="?/ask"
			use:enhance={() => {
				sending = true;
				return async ({ update }) => {
					await update({ reset: false });
					sending = false;
				};
			}}
		>
			<input type="hidden" name="plan" value={JSON.stringify(plan)} />
			<input
				type="hidden"
				name="template"
				value={data.own ? 'own' : (data.template ?? data.current?.template ?? '')}
			/>
			<Field title="A few words to go with it" class="block"
				><textarea name="words" rows="2">{form?.entered?.['words'] ?? ''}</textarea></Field
			>
			<div class="mt-3 flex items-center gap-3">
				<button class="button button-main" disabled={sending}
					>{sending ? 'Sending …' : 'Ask for this log'}</button
				>
				<span class="text-muted text-small"
					>{data.job.email
						? `mailed to ${data.job.email}, and on the page of the customer`
						: 'shown on the page of the customer; no mail address is known'}</span
				>
			</div>
		</form>
		<form
			method="POST"
			action="?/keep"
			class="border-line mt-6 flex flex-wrap items-end gap-3 border-t pt-3"
			use:enhance={() =>
				async ({ result, update }) => {
					await update({ reset: false });
					if (result.type === 'success') keeping = '';
				}}
		>
			<input type="hidden" name="plan" value={JSON.stringify(plan)} />
			<input type="hidden" name="cap" value={data.cap ?? ''} />
			<input type="hidden" name="gears" value={data.gears.join(',')} />
			<Field title="Keep this plan for other vehicles, as" class="w-72"
				><input name="name" bind:value={keeping} maxlength="80" autocomplete="off" /></Field
			>
			<button class="button" disabled={keeping.trim().length < 2}>Keep plan</button>
			<span class="text-muted text-small max-w-md"
				>Steps, their order and your words; gears, engine speeds and channels come from each vehicle.</span
			>
		</form>
		{#if notKept}<Alert message={messageOf(form)} class="mt-2" />{/if}
		{#if form && 'kept' in form}<p role="status" class="mt-2">
				“{form.kept}” is kept with the workshop’s own plans.
			</p>{/if}
	</div>
</div>
