<script lang="ts">
	/** Timeslips side by side: computed from the speed of the two logs, and as the strip printed them; the best of each and the difference. */
	import { fixed } from '$core/format';
	import { enhance } from '$app/forms';
	import type { Slip, Timeslip } from '$core/performance/timeslip';
	import { convert } from '$core/units/units';
	import type { StoredSlip } from '$lib/server/logs/timeslips';
	import { signedText } from '../cellmap/colour';
	import { usePreferences } from '../preferences.svelte';
	import { clock } from '../time';

	interface Side {
		id: number;
		name: string;
		slips: readonly Timeslip[];
	}
	let {
		sides,
		stored,
		problem,
		entered
	}: {
		sides: readonly [Side, Side];
		stored: readonly StoredSlip[];
		problem: string;
		entered: Record<string, string>;
	} = $props();
	const preferences = usePreferences();
	let adding = $state(false);

	interface Row extends Slip {
		key: string;
		what: string;
		side: 0 | 1 | null;
		stored: number | null;
	}
	const rows = $derived<Row[]>([
		...sides.flatMap((s, side) =>
			s.slips.map((t): Row => ({
				...t,
				key: `${s.id} ${t.startS}`,
				what: `${s.name}, from the speed at ${clock(t.startS)}`,
				side: side as 0 | 1,
				stored: null
			}))
		),
		...stored.map((t): Row => ({
			...t,
			key: `slip ${t.id}`,
			what: t.title || 'Slip',
			side: t.logId === sides[0].id ? 0 : t.logId === sides[1].id ? 1 : null,
			stored: t.id
		}))
	]);
	const TIMES = [
		['ft60', '60 ft, s'],
		['eighth', '1/8, s'],
		['quarter', '1/4, s']
	] as const;
	/** The quickest of each side; the printed ones count like the computed. */
	const best = (side: 0 | 1, key: (typeof TIMES)[number][0]) => {
		const list = rows.flatMap((r) => (r.side === side && r[key] !== null ? [r[key]] : []));
		return list.length ? Math.min(...list) : null;
	};
	const gain = $derived(
		TIMES.map(([key]) => {
			const [a, b] = [best(0, key), best(1, key)];
			return a === null || b === null ? null : b - a;
		})
	);
	const time = (v: number | null) => (v === null ? '–' : fixed(v, 2));
	const speed = (v: number | null) =>
		v === null ? '–' : fixed(preferences.shown(v, 'km/h').value, preferences.shown(1, 'km/h').decimals);
	const unit = $derived(preferences.units.speed);
	/** Forms are kept in km/h. */
	const kmh = (text: FormDataEntryValue | null) => {
		const v = Number(String(text ?? '').replace(',', '.'));
		return String(text ?? '').trim() === '' ? '' : String(convert(v, unit, 'km/h'));
	};
</script>

<h2 class="mt-4 mb-1">Timeslips</h2>
{#if rows.length}
	<table class="w-full text-right text-text" aria-label="Timeslips">
		<thead>
			<tr class="table-head">
				<th class="py-1 text-left font-normal">Run</th>
				{#each TIMES as [key, title] (key)}<th class="pl-3 font-normal whitespace-nowrap">{title}</th>{/each}
				<th class="pl-3 font-normal">1/8, {unit}</th><th class="pl-3 font-normal">1/4, {unit}</th><th></th>
			</tr>
		</thead>
		<tbody class="numbers">
			{#each rows as r (r.key)}
				<tr class="border-line border-b">
					<td class="max-w-36 truncate py-0.5 text-left font-sans" title={r.what}
						>{r.what}{r.side === null ? '' : r.side === 0 ? ' (before)' : ' (after)'}</td
					>
					<td>{time(r.ft60)}</td><td>{time(r.eighth)}</td><td>{time(r.quarter)}</td>
					<td>{speed(r.eighthKmh)}</td><td>{speed(r.quarterKmh)}</td>
					<td class="no-print pl-2"
						>{#if r.stored !== null}<form method="POST" action="?/removeSlip" use:enhance>
								<input type="hidden" name="id" value={r.stored} /><button
									class="cursor-pointer font-sans underline"
									aria-label="Remove {r.what}">Remove</button
								>
							</form>{/if}</td
					>
				</tr>
			{/each}
		</tbody>
		{#if gain.some((g) => g !== null)}
			<tfoot class="numbers font-semibold">
				<tr>
					<td class="py-0.5 text-left font-sans">Best after against best before</td>
					{#each gain as g, i (TIMES[i]![0])}<td>{g === null ? '–' : signedText(g, 2)}</td>{/each}
					<td></td><td></td><td></td>
				</tr>
			</tfoot>
		{/if}
	</table>
{:else}
	<p class="text-muted text-text">
		Neither log starts from a standstill with its speed logged, and no slip was entered.
	</p>
{/if}
<button
	class="no-print mt-2 cursor-pointer text-text underline"
	aria-expanded={adding}
	onclick={() => (adding = !adding)}>Enter a slip</button
>
{#if adding}
	<form
		method="POST"
		action="?/addSlip"
		class="no-print mt-2 grid grid-cols-4 gap-2 text-small"
		use:enhance={({ formData }) => {
			for (const name of ['eighthKmh', 'quarterKmh']) formData.set(name, kmh(formData.get(name)));
			return async ({ update, result }) => {
				await update({ reset: result.type === 'success' });
				if (result.type === 'success') adding = false;
			};
		}}
	>
		<label class="col-span-2">Run<input name="title" placeholder="second run, 19:40" maxlength="120" /></label
		>
		<label class="col-span-2"
			>Belongs to<select name="log">
				<option value={String(sides[1].id)}>after: {sides[1].name}</option>
				<option value={String(sides[0].id)}>before: {sides[0].name}</option>
				<option value="">neither</option>
			</select></label
		>
		<label>60 ft, s<input class="numbers" name="ft60" inputmode="decimal" autocomplete="off" /></label>
		<label>1/8 mile, s<input class="numbers" name="eighth" inputmode="decimal" autocomplete="off" /></label>
		<label
			>there, {unit}<input class="numbers" name="eighthKmh" inputmode="decimal" autocomplete="off" /></label
		>
		<span></span>
		<label>1/4 mile, s<input class="numbers" name="quarter" inputmode="decimal" autocomplete="off" /></label>
		<label
			>there, {unit}<input class="numbers" name="quarterKmh" inputmode="decimal" autocomplete="off" /></label
		>
		<span class="flex items-end"><button class="button">Save slip</button></span>
	</form>
{/if}
{#if problem}<p role="alert" class="text-stop mt-1">
		{problem}{entered['title'] ? ` (${entered['title']})` : ''}
	</p>{/if}
