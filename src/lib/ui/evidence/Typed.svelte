<script lang="ts">
	/** Readings from a film or a sheet, typed in beside the log and set against it. */
	import Field from '$lib/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import { fixed } from '$core/format';
	import { TYPED_UNITS, type TypedKind } from '$core/evidence/typed-units';
	import type { TypedRecord } from '$lib/server/logs/typed-readings';
	import { signedText } from '../cellmap/colour';
	import Mark from '../findings/Mark.svelte';
	import { usePreferences } from '../preferences.svelte';
	import { moment } from '../time';

	let { typed, stoich }: { typed: TypedRecord[]; stoich: number } = $props();
	const preferences = usePreferences();
	let open = $state(false);
	let kind = $state<TypedKind>('mixture');
	const KINDS: [TypedKind, string][] = [
		['mixture', 'Mixture of a gauge or a dyno'],
		['timing', 'Timing light'],
		['power', 'Power of a dyno'],
		['torque', 'Torque of a dyno'],
		['maxima', 'Maxima since they were cleared']
	];
	const nameOf = (k: TypedKind) => KINDS.find(([id]) => id === k)?.[1] ?? k;
	const MARK = { agrees: 'pass', differs: 'fix', shown: 'note' } as const;
	/** A mixture in the reader's units; the rest as it was typed. */
	const value = (r: TypedRecord, v: number | null) => {
		if (v === null) return '–';
		if (r.reading.kind !== 'mixture') return fixed(v, 1);
		const s = preferences.shown(v, 'λ', stoich);
		return fixed(s.value, s.decimals);
	};
	const unit = (r: TypedRecord) =>
		r.reading.kind === 'mixture' ? preferences.shown(1, 'λ', stoich).unit : r.reading.unit;
	const by = (r: TypedRecord) => (r.reading.kind === 'mixture' ? '%' : '°');
</script>

<section class="mt-6 max-w-[760px]" aria-label="Typed readings">
	<h2 class="mb-1">Read off a film or a sheet</h2>
	{#each typed as r (r.id)}
		<div class="border-line border-b py-2">
			<p>
				<Mark state={r.answer.severity ?? MARK[r.answer.state]} bare size={12} />
				<span class="font-semibold">{nameOf(r.reading.kind)}</span>, {r.reading.source}:
				{preferences.say(r.answer.words)}
				<span class="text-muted text-small">{r.author}, {moment(r.at)} UTC</span>
			</p>
			{#if r.reading.words}<p class="numbers text-text whitespace-pre-line">{r.reading.words}</p>{/if}
			{#if r.answer.rows.length}
				<table class="numbers mt-1 text-right text-text">
					<thead>
						<tr class="table-head">
							<th class="pr-6 text-left font-normal">rpm</th><th class="w-[110px] font-normal"
								>Typed, {unit(r)}</th
							><th class="w-[110px] font-normal">In the log</th><th class="w-[110px] font-normal"
								>Off, {by(r)}</th
							>
						</tr>
					</thead>
					<tbody>
						{#each r.answer.rows as row (row.rpm)}
							<tr class="border-line border-b {row.differs ? 'text-fix font-semibold' : ''}">
								<td class="text-left">{row.rpm}</td><td>{value(r, row.typed)}</td><td
									>{r.reading.kind === 'power' || r.reading.kind === 'torque'
										? '–'
										: value(r, row.logged)}</td
								><td>{row.off === null ? '–' : signedText(row.off)}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			{/if}
			<form method="POST" action="?/untype" use:enhance class="no-print">
				<input type="hidden" name="reading" value={r.id} />
				<button class="text-muted cursor-pointer text-small underline">Remove</button>
			</form>
		</div>
	{:else}
		<p class="text-muted text-text">
			Nothing is typed in. A gauge that was filmed, a dyno sheet or a timing light is a witness of its own.
		</p>
	{/each}
	{#if open}
		<form
			method="POST"
			action="?/type"
			class="mt-2 grid grid-cols-[1fr_1fr_110px] gap-2"
			use:enhance={() =>
				async ({ update, result }) => {
					await update({ reset: result.type === 'success' });
					if (result.type === 'success') open = false;
				}}
		>
			<Field title="What was read"
				><select name="kind" bind:value={kind}
					>{#each KINDS as [id, title] (id)}<option value={id}>{title}</option>{/each}</select
				></Field
			>
			<Field title="Where"
				><input
					name="source"
					required
					minlength="3"
					maxlength="200"
					placeholder="film of the gauge on the pillar"
				/></Field
			>
			<Field title="In"
				><select name="unit"
					>{#each TYPED_UNITS[kind] as u (u)}<option value={u}>{u || 'words'}</option>{/each}</select
				></Field
			>
			<Field
				title={kind === 'maxima' ? 'What it shows, a line each' : 'Engine speed and value, a line each'}
				class="col-span-3"
				><textarea
					name="values"
					class="numbers"
					rows="5"
					required
					placeholder={kind === 'maxima'
						? 'duty 94 %\ncoolant 104 °C'
						: kind === 'timing'
							? '3000 14'
							: '3000 12.8\n4000 12.4'}></textarea></Field
			>
			<div class="col-span-3 flex gap-2">
				<button class="button button-main">Set it beside the log</button>
				<button type="button" class="button" onclick={() => (open = false)}>Cancel</button>
			</div>
		</form>
	{:else}
		<button class="button no-print mt-2" onclick={() => (open = true)}>Type in a reading</button>
	{/if}
</section>
