<script lang="ts">
	import { enhance } from '$app/forms';
	import { CHANNELS } from '$core/channels/canonical';
	import { axisTitle } from '$core/calibration/axes';
	import { ITEMS, titleOf } from '$core/calibration/items';
	import type { TableLayout } from '$core/calibration/tables/layout';
	import { plural } from '$core/format';
	import Preview from '$lib/ui/tables/Preview.svelte';
	import { readText } from '$lib/ui/tables/read';
	import { tick } from 'svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const there = $derived(new Set(data.items.map((i) => i.id)));
	const wanted = $derived(data.layout.tables);
	let skipped = $state<string[]>([]);
	/** The next table that the layout wants; `null` once all are there. */
	const next = $derived(wanted.find((t) => !there.has(t.item) && !skipped.includes(t.item)) ?? null);
	const done = $derived(wanted.filter((t) => there.has(t.item)).length);
	let chosen = $state<string | null>(null);
	const expected = $derived(wanted.find((t) => t.item === chosen) ?? (chosen === null ? next : null));

	const MOST_TEXT = 2e6;
	let text = $state('');
	let xText = $state('');
	let yText = $state('');
	let axesOpen = $state(false);
	let sending = $state(false);
	let area = $state<HTMLTextAreaElement>();
	/** What the layout says of this table was said by a person: nothing is asked again. */
	const trusted = $derived(expected?.said === true);
	const read = $derived(readText(text, { x: xText, y: yText }, trusted ? expected : null, there));
	const best = $derived(read.guess?.items[0] ?? null);

	/** What a person said of this paste; the layout or the guess where nothing was. */
	let said = $state<Record<string, string>>({});
	const pick = (name: string, ...options: (string | undefined | null)[]) =>
		said[name] ?? options.find((o) => o !== undefined && o !== null && o !== '') ?? '';
	const item = $derived(
		pick('item', chosen, expected && (trusted || !best) ? expected.item : null, best?.item, expected?.item)
	);
	const ownName = $derived(item === 'own');
	const id = $derived(ownName ? (said['own'] ?? '').trim() : item);
	const entryKnown = $derived(trusted && expected?.item === id ? expected : null);
	const guessed = $derived(read.guess?.items.find((g) => g.item === id));
	const unit = $derived(pick('unit', entryKnown?.unit, guessed?.unit, ITEMS.find((i) => i.id === id)?.unit));
	const ref = (axis: 'x' | 'y') => {
		const known = entryKnown?.[axis];
		const guess =
			read.guess?.[axis].find((g) => axis === 'x' || g.channel !== read.guess?.x[0]?.channel) ?? null;
		return {
			channel: pick(`${axis}Channel`, known?.channel, guess?.channel, axis === 'x' ? 'rpm' : 'map'),
			unit: pick(`${axis}Unit`, known?.unit, guess?.unit)
		};
	};
	const x = $derived(ref('x'));
	const y = $derived(ref('y'));
	const axesHere = $derived<('x' | 'y')[]>(read.table?.values.length === 1 ? ['x'] : ['x', 'y']);
	const curve = $derived(read.table !== null && read.table.values.length === 1);
	const entry = $derived<TableLayout | null>(
		read.table && id
			? {
					item: id,
					title: entryKnown?.title ?? titleOf({ id }),
					...(unit ? { unit } : {}),
					decimals: entryKnown?.decimals ?? read.table.decimals.values,
					rows: entryKnown?.rows ?? read.table.orientation.rows,
					transposed: read.transposed,
					axes:
						entryKnown?.axes ??
						(read.table.x || read.table.y ? (xText || yText ? 'without' : 'with') : 'without'),
					x: { channel: x.channel, ...(x.unit ? { unit: x.unit } : {}) },
					...(curve ? {} : { y: { channel: y.channel, ...(y.unit ? { unit: y.unit } : {}) } })
				}
			: null
	);
	const needsAxes = $derived(
		read.table !== null && !there.has(id) && (read.table.x === null || (!curve && read.table.y === null))
	);
	const mapping = $derived(
		(read.scalars ?? []).map((s, n) => ({
			name: s.name,
			item:
				said[`scalar${n}`] ??
				data.layout.scalars.find((l) =>
					[l.item, l.title].some((t) => t?.toLowerCase() === s.name.toLowerCase())
				)?.item ??
				s.name,
			...(s.unit ? { unit: s.unit } : {})
		}))
	);
	const AXES = [
		'rpm',
		'map',
		'boost',
		'pressureRatio',
		'airmass',
		'tps',
		'pedal',
		'mafFrequency',
		'vbat',
		'iat',
		'ect',
		'gear',
		'cylinder',
		'ethanol'
	];
	const axisChannels = [...AXES, ...[...CHANNELS.keys()].filter((c) => !AXES.includes(c))];
	const TABLES = ITEMS.filter((i) => i.id !== 'sensor.map');
	async function again() {
		text = xText = yText = '';
		said = {};
		chosen = null;
		axesOpen = false;
		fileName = '';
		await nextFile();
		await tick();
		area?.focus();
	}
	/** Files that were chosen together: one after the other into the field. Its name says what it is where it is that of an item. */
	let waiting = $state.raw<File[]>([]);
	let fileName = $state('');
	async function nextFile() {
		const [file, ...rest] = waiting;
		if (!file) return;
		waiting = rest;
		fileName = file.name;
		const name = file.name.replace(/\.(csv|tsv|txt)$/i, '');
		const known = wanted.find((t) => t.item === name || t.title === name);
		if (known) chosen = known.item;
		else if (ITEMS.some((i) => i.id === name)) said['item'] = name;
		text = file.size > MOST_TEXT ? '' : await file.text();
		if (file.size > MOST_TEXT) fileName = `${file.name} is larger than any table`;
	}
	function keys(e: KeyboardEvent) {
		// Enter keeps what was read; a text is pasted, hardly ever typed.
		if (e.key === 'Enter' && !e.shiftKey && (entry || read.scalars) && !needsAxes) {
			e.preventDefault();
			(e.currentTarget as HTMLElement).closest('form')?.requestSubmit();
		}
	}
</script>

<svelte:head><title>Tables of {data.job.title} – Tanto</title></svelte:head>

<h1 class="mb-1">Tables from your own program</h1>
<p class="text-muted mb-4 max-w-[72ch]">
	Copy a table there, paste it here, Enter. What each is is asked once; the layout of this controller answers
	from the second job on.
</p>
{#if form && 'message' in form}<p role="alert" class="border-stop bg-stop-soft mb-3 border-l-4 px-3 py-2">
		{form.message}
	</p>{/if}
{#if form && 'title' in form && form.title}<p role="status" class="text-clear mb-3">
		{form.title} is in R{'number' in form ? form.number : 0}.
	</p>{/if}

<div class="grid gap-6 lg:grid-cols-[minmax(0,1fr)_280px]">
	<section aria-label="Paste" class="min-w-0">
		{#if data.frozen}
			<p class="border-watch mb-3 border-l-4 pl-3">
				R0 stays as it is: {data.frozen}. {#if data.place}What you paste here is added to
					<a class="underline" href="/jobs/{data.job.id}/revisions/{data.place.id}"
						>the draft R{data.place.number}</a
					>.
				{:else}To add a table, start a draft first.{/if}
			</p>
		{/if}
		{#if data.place}
			<form
				method="POST"
				action={read.scalars ? '?/values' : '?/keep'}
				use:enhance={() => {
					sending = true;
					return async ({ update, result }) => {
						await update({ reset: false });
						sending = false;
						if (result.type === 'success') await again();
					};
				}}
			>
				<label class="block"
					><span class="text-[13px]"
						>{expected
							? `Next: ${expected.title ?? titleOf({ id: expected.item })}`
							: 'Paste a table, or lines of name, value, unit'}</span
					>
					<!-- svelte-ignore a11y_autofocus -->
					<textarea
						bind:this={area}
						name="text"
						rows={read.table || read.scalars ? 3 : 9}
						class="numbers w-full text-[13px]"
						bind:value={text}
						onkeydown={keys}
						autofocus
						spellcheck="false"
						aria-invalid={read.problem !== ''}
						aria-describedby="read-problem"></textarea></label
				>
				<p id="read-problem" role="alert" class="text-stop min-h-5 text-[14px]">{read.problem}</p>
				{#if axesOpen || needsAxes || xText || yText}
					<div class="mb-2 grid grid-cols-2 gap-3">
						<label
							><span class="text-[13px]">Points of x on their own</span>
							<textarea
								name="x"
								rows="2"
								class="numbers w-full text-[13px]"
								bind:value={xText}
								spellcheck="false"></textarea></label
						>
						<label
							><span class="text-[13px]">Points of y on their own</span>
							<textarea
								name="y"
								rows="2"
								class="numbers w-full text-[13px]"
								bind:value={yText}
								spellcheck="false"></textarea></label
						>
					</div>
				{:else}
					<button
						type="button"
						class="mb-2 cursor-pointer text-[13px] underline"
						onclick={() => (axesOpen = true)}>the axes are pasted on their own</button
					>
				{/if}
				{#if read.table && entry !== undefined}
					<div class="mb-2 flex flex-wrap items-end gap-3 text-[13px]">
						<label
							>It is
							<select value={item} onchange={(e) => (said['item'] = e.currentTarget.value)} class="max-w-56">
								{#each read.guess?.items ?? [] as g (`${g.item}${g.unit}`)}
									{#if g.item !== read.guess?.items[0]?.item || g === read.guess?.items[0]}<option
											value={g.item}>{titleOf({ id: g.item })}</option
										>{/if}
								{/each}
								<optgroup label="all">
									{#each TABLES as i (i.id)}<option value={i.id}>{i.title}</option>{/each}
								</optgroup>
								<option value="own">kept under its own name …</option>
							</select></label
						>
						{#if ownName}
							<label
								>Name <input
									class="w-40!"
									value={said['own'] ?? ''}
									oninput={(e) => (said['own'] = e.currentTarget.value)}
								/></label
							>
						{/if}
						<label
							>Unit <input
								class="w-20!"
								value={unit}
								oninput={(e) => (said['unit'] = e.currentTarget.value)}
							/></label
						>
						{#each axesHere as axis (axis)}
							{@const r = axis === 'x' ? x : y}
							<label
								>{axis === 'x' ? 'Across' : 'Up'}
								<select
									value={r.channel}
									onchange={(e) => (said[`${axis}Channel`] = e.currentTarget.value)}
									class="max-w-44"
									aria-label="{axis === 'x' ? 'Across' : 'Up'} is read by"
								>
									{#each axisChannels as c (c)}<option value={c}>{axisTitle(c)}</option>{/each}
								</select></label
							>
							<label
								><span class="sr-only">Unit {axis === 'x' ? 'across' : 'up'}</span>
								<input
									class="w-20!"
									value={r.unit}
									oninput={(e) => (said[`${axis}Unit`] = e.currentTarget.value)}
									aria-label="Unit {axis === 'x' ? 'across' : 'up'}"
								/></label
							>
						{/each}
					</div>
					{#if guessed}<p class="text-muted text-[13px]">{guessed.why}.</p>{/if}
					{#if needsAxes}<p class="text-fix text-[14px]">
							It has no points of its own: paste them above, or copy the table with its axes.
						</p>{/if}
					<input type="hidden" name="entry" value={JSON.stringify(entry)} />
					<Preview table={read.table} />
					{#if read.table.notes.length}<p class="text-muted mt-1 text-[13px]">
							{read.table.notes.join('; ')}.
						</p>{/if}
				{:else if read.scalars}
					<input type="hidden" name="mapping" value={JSON.stringify(mapping)} />
					<table class="mb-2 text-[14px]">
						<tbody>
							{#each read.scalars as s, n (n)}
								<tr class="border-line border-b">
									<td class="py-1 pr-4">{s.name}</td>
									<td class="numbers pr-4 text-right">{s.value}</td><td class="text-muted pr-4">{s.unit}</td>
									<td>
										<select
											aria-label="{s.name} is"
											value={mapping[n]!.item}
											onchange={(e) => (said[`scalar${n}`] = e.currentTarget.value)}
										>
											<option value={s.name}>kept as “{s.name}”</option>
											{#each ITEMS as i (i.id)}<option value={i.id}>{i.title}</option>{/each}
										</select>
									</td>
								</tr>
							{/each}
						</tbody>
					</table>
				{/if}
				{#if data.place.draft && (entry || read.scalars)}
					<label class="mt-2 block max-w-xl"
						><span class="text-[13px]">Why it is added</span>
						<input name="reason" placeholder="Pasted from the tuner’s own program" /></label
					>
				{/if}
				<div class="mt-3 flex flex-wrap gap-2">
					<button class="button button-main" disabled={sending || needsAxes || !(entry || read.scalars)}
						>{sending ? 'Keeping it …' : 'Keep it, next'}</button
					>
					{#if expected && next}
						<button
							type="button"
							class="button"
							onclick={() => {
								skipped = [...skipped, expected.item];
								void again();
							}}>Skip {expected.title ?? titleOf({ id: expected.item })}</button
						>
					{/if}
					<a class="button" href="/jobs/{data.job.id}">Done</a>
				</div>
			</form>
			<div class="mt-6 text-[14px]">
				<label
					><span class="text-[13px]"
						>Tables as files, one each (CSV or text): they are read one after the other</span
					>
					<input
						type="file"
						multiple
						accept=".csv,.tsv,.txt"
						onchange={(e) => {
							waiting = [...(e.currentTarget.files ?? [])];
							e.currentTarget.value = '';
							void nextFile();
						}}
					/></label
				>
				{#if fileName}<p class="text-muted" role="status">
						{fileName}{waiting.length ? `, then ${plural(waiting.length, 'file')} more` : ''}
					</p>{/if}
			</div>
			<details class="mt-4 text-[14px]" hidden={data.place.draft}>
				<summary class="cursor-pointer">All of R0 from a file instead</summary>
				<form
					method="POST"
					action="?/file"
					enctype="multipart/form-data"
					use:enhance
					class="mt-2 flex items-end gap-2"
				>
					<label
						><span class="text-[13px]">tanto.calibration/1 JSON or CDF 2.0 XML: replaces what is here</span>
						<input type="file" name="file" accept=".json,.xml" required /></label
					>
					<button class="button">Replace R0</button>
				</form>
			</details>
		{/if}
	</section>
	<aside aria-label="What is there">
		<h2 class="mb-1">{data.layout.name}</h2>
		<p class="text-muted mb-2 text-[13px]" data-testid="progress">
			{done} of {plural(wanted.length, 'table')}
		</p>
		<ol class="mb-4 text-[14px]">
			{#each wanted as t (t.item)}
				<li class="border-line flex items-baseline gap-2 border-b py-0.5">
					<span aria-hidden="true" class={there.has(t.item) ? 'text-clear' : 'text-muted'}
						>{there.has(t.item) ? '✓' : '·'}</span
					>
					<button
						class="min-w-0 flex-1 cursor-pointer truncate text-left hover:underline {expected?.item === t.item
							? 'font-semibold'
							: ''}"
						onclick={() => {
							chosen = t.item;
							area?.focus();
						}}>{t.title ?? titleOf({ id: t.item })}</button
					>
					<span class="sr-only">{there.has(t.item) ? 'is there' : 'is missing'}</span>
				</li>
			{/each}
		</ol>
		<h2 class="mb-1">In R{data.place?.number ?? 0}</h2>
		{#if data.items.length === 0}<p class="text-muted text-[14px]">Nothing yet.</p>{/if}
		<ul class="mb-4 text-[14px]">
			{#each data.items as i (i.id)}
				<li class="border-line flex items-baseline gap-2 border-b py-0.5">
					<span class="min-w-0 flex-1 truncate">{i.title}</span><span class="numbers text-muted"
						>{i.size} {i.unit}</span
					>
					{#if !data.frozen}
						<form
							method="POST"
							action="?/drop"
							use:enhance={({ cancel }) => {
								if (!confirm(`Take “${i.title}” out of R0?`)) cancel();
							}}
						>
							<input type="hidden" name="item" value={i.id} />
							<button class="text-muted cursor-pointer text-[13px] underline" aria-label="Take {i.title} out"
								>out</button
							>
						</form>
					{/if}
				</li>
			{/each}
		</ul>
		<details class="text-[14px]">
			<summary class="cursor-pointer">Another layout</summary>
			<form method="POST" action="?/layout" enctype="multipart/form-data" use:enhance class="mt-2 grid gap-2">
				{#if data.kept.length}
					<select name="layout" value={String(data.layout.id ?? '')}>
						{#each data.kept.filter((k) => k.fuelModel === data.fuelModel) as k (k.id)}<option
								value={String(k.id)}>{k.name}</option
							>{/each}
					</select>
				{/if}
				<label
					><span class="text-[13px]">or a layout from a file</span><input
						type="file"
						name="file"
						accept=".json"
					/></label
				>
				<button class="button">Take it</button>
				<a class="underline" href="/layouts">All layouts</a>
			</form>
		</details>
	</aside>
</div>
