<script lang="ts">
	/** What the day of this log was like, and where its lambda sensors sat in it; a channel of the log beats what is said here. */
	import { enhance } from '$app/forms';
	import type { Conditions } from '$core/vehicle/conditions';
	import type { Vehicle } from '$core/vehicle/document';
	import { bankCount } from '$core/vehicle/facts';
	import { usualSeat } from '$core/vehicle/seats';
	import { axisTitle } from '$core/calibration/axes';
	import Field from '../Field.svelte';

	let {
		conditions,
		vehicle,
		channels,
		entered,
		saved
	}: {
		conditions: Conditions | null;
		vehicle: Vehicle;
		/** Lambda channels of the log. */
		channels: string[];
		/** What was entered and refused. */
		entered: Record<string, string> | undefined;
		saved: boolean;
	} = $props();
	const banks = $derived(bankCount(vehicle));
	const NUMBERS = [
		['ambientC', 'Air outside, °C'],
		['pressureHpa', 'Air pressure at the place, hPa'],
		['seaLevelHpa', 'or of a weather report, hPa at the sea'],
		['altitudeM', 'with the height of the place, m'],
		['ethanolPct', 'Ethanol in the tank, %']
	] as const;
	const value = (name: (typeof NUMBERS)[number][0]) => entered?.[name] ?? conditions?.[name] ?? '';
	const usual = (channel: string) =>
		vehicle.sensors?.lambda?.find((s) => s.channel === channel)?.site ?? usualSeat(channel, banks);
	const SITE: Record<string, string> = { bank1: 'bank 1', bank2: 'bank 2', collector: 'the common pipe' };
</script>

<details class="mt-6" open={entered !== undefined || saved}>
	<summary class="cursor-pointer"
		><h2 class="inline">The day, and where the sensors sat</h2>
		{#if conditions}<span class="text-muted text-small">said for this log</span>{/if}</summary
	>
	<form
		method="POST"
		action="?/conditions"
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
		class="mt-2 max-w-3xl"
	>
		<div class="grid gap-3 sm:grid-cols-3">
			{#each NUMBERS as [name, title] (name)}
				<Field {title}><input {name} value={value(name)} inputmode="decimal" autocomplete="off" /></Field>
			{/each}
		</div>
		{#if banks === 2 && channels.length}
			<div class="mt-3 grid gap-3 sm:grid-cols-3">
				{#each channels as channel (channel)}
					<Field title="{axisTitle(channel)} sat in">
						<select
							name="site.{channel}"
							value={entered?.[`site.${channel}`] ?? conditions?.sites?.[channel] ?? ''}
						>
							<option value="">{SITE[usual(channel)] ?? usual(channel)}, as usual</option>
							{#each ['bank1', 'bank2', 'collector'].filter((s) => s !== usual(channel)) as site (site)}
								<option value={site}>{SITE[site]}</option>
							{/each}
						</select>
					</Field>
				{/each}
			</div>
		{/if}
		<div class="mt-3 flex items-center gap-3">
			<button class="button">Save, and read the log again</button>
			{#if saved}<span class="text-clear text-small" role="status">saved; it is read again</span>{/if}
		</div>
	</form>
</details>
