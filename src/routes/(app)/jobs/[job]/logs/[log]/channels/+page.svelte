<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { fixed } from '$core/format';
	import { enhance } from '$app/forms';
	import Undecided from '$lib/ui/log/Undecided.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const busy = $derived(data.log.state === 'received' || data.log.state === 'reading');
	const title = (id: string) => data.kinds.find((k) => k.id === id)?.title ?? id;
	const taken = $derived(new Set(data.rows.map((r) => r.channel)));
	let chosen = $state<Record<string, string>>({});
	const unitsFor = (channel: string) => {
		const q = data.kinds.find((k) => k.id === channel)?.quantity;
		return data.units.filter((u) => u.quantity === q && channel.startsWith(u.only));
	};
</script>

<svelte:head><title>Channels of {data.log.name} – Tanto</title></svelte:head>

<PageHead title={data.log.title} says={[data.log.name]} />
<Undecided questions={data.log.questions} action="?/assign" customer={data.job.customer} />
<Alert box message={messageOf(form)} class="mb-4" />
<p role="status" class="mb-3">
	{#if busy}Reading the log again with your choice …{:else if form && 'assigned' in form}“{form.assigned}” is
		remembered for {data.job.customer}.{/if}
</p>

{#if data.unmapped.length}
	<h2 class="mb-1">Not recognised</h2>
	<table class="mb-7 w-full text-left">
		<thead>
			<tr class="table-head">
				<th class="py-1 font-normal">Column</th><th class="py-1 font-normal">Unit</th><th
					class="py-1 text-right font-normal">Lowest</th
				>
				<th class="py-1 pr-4 text-right font-normal">Highest</th><th class="py-1 font-normal">Is really</th>
			</tr>
		</thead>
		<tbody>
			{#each data.unmapped as u (u.raw + u.rawUnit)}
				<tr class="border-line border-b">
					<td class="max-w-[260px] py-1.5 pr-3 break-words">{u.raw}</td><td class="numbers"
						>{u.rawUnit || '–'}</td
					>
					<td class="numbers text-right">{u.min === null ? '–' : Number(u.min?.toPrecision(5))}</td>
					<td class="numbers pr-4 text-right">{u.max === null ? '–' : Number(u.max?.toPrecision(5))}</td>
					<td class="py-1">
						<form method="POST" action="?/assign" use:enhance class="flex gap-2">
							<input type="hidden" name="name" value={u.raw} /><input
								type="hidden"
								name="rawUnit"
								value={u.rawUnit}
							/>
							<select
								name="channel"
								aria-label="Channel for {u.raw}"
								class="w-52!"
								bind:value={chosen[u.raw]}
							>
								<option value="">leave it out</option>
								{#each data.kinds as k (k.id)}<option value={k.id} disabled={taken.has(k.id)}
										>{k.title}</option
									>{/each}
							</select>
							<select name="unit" aria-label="Unit of {u.raw}" class="w-28!">
								<option value="">unit by range</option>
								{#each unitsFor(chosen[u.raw] ?? '') as unit (unit.id)}<option value={unit.id}
										>{unit.id}</option
									>{/each}
							</select>
							<button class="button" disabled={busy}>Assign</button>
						</form>
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}

<h2 class="mb-1">Recognised</h2>
<table class="w-full text-left">
	<thead>
		<tr class="table-head">
			<th class="py-1 font-normal">Channel</th><th class="py-1 font-normal">Column in the file</th><th
				class="py-1 font-normal">Unit</th
			>
			<th class="py-1 font-normal">Read in</th><th class="py-1 font-normal">What was done</th><th
				class="py-1 text-right font-normal">Rate, Hz</th
			><th class="py-1"><span class="sr-only">Change</span></th>
		</tr>
	</thead>
	<tbody>
		{#each data.rows as r (r.channel)}
			<tr class="border-line border-b">
				<td class="py-1 pr-3">{title(r.channel)}</td><td class="py-1 pr-3 break-words">{r.raw}</td>
				<td class="numbers">{r.raw_unit || '–'}{r.raw_unit && r.raw_unit !== r.unit ? ` → ${r.unit}` : ''}</td
				>
				<td class="py-1 pr-2">
					{#if unitsFor(r.channel).length > 1}
						<form method="POST" action="?/assign" use:enhance>
							<input type="hidden" name="name" value={r.raw} /><input
								type="hidden"
								name="rawUnit"
								value={r.raw_unit}
							/><input type="hidden" name="channel" value={r.channel} />
							<select
								name="unit"
								class="w-28! py-0.5!"
								aria-label="Unit that {r.raw} is read in"
								value={r.read_as}
								disabled={busy}
								onchange={(e) => e.currentTarget.form?.requestSubmit()}
							>
								{#each unitsFor(r.channel) as unit (unit.id)}<option value={unit.id}>{unit.id}</option>{/each}
							</select>
						</form>
					{:else}<span class="numbers">{r.read_as || '–'}</span>{/if}
				</td>
				<td class="py-1">{r.note || 'nothing'}{r.source === 'assigned' ? ' (assigned by hand)' : ''}</td>
				<td class="numbers text-right">{fixed(r.rate_hz, 1)}</td>
				<td class="py-1 text-right">
					<form method="POST" action="?/assign" use:enhance>
						<input type="hidden" name="name" value={r.raw} /><input
							type="hidden"
							name="rawUnit"
							value={r.raw_unit}
						/>
						<button
							class="text-muted cursor-pointer px-2 underline"
							disabled={busy}
							aria-label="Leave {r.raw} out">leave out</button
						>
					</form>
				</td>
			</tr>
		{/each}
	</tbody>
</table>
