<script lang="ts">
	import { Popover } from 'bits-ui';
	import SlidersHorizontal from '@lucide/svelte/icons/sliders-horizontal';
	import type { UnitChoice } from '$core/units/display';
	import { usePreferences, type Theme } from '../preferences.svelte';

	const preferences = usePreferences();
	const MIXTURE: [UnitChoice['mixture'], string][] = [
		['lambda', 'lambda'],
		['afr-petrol', 'AFR, petrol scale'],
		['afr-fuel', 'AFR, real fuel']
	];
	const PRESSURE: UnitChoice['pressure'][] = ['kPa', 'psi', 'bar'];
	const TEMPERATURE: UnitChoice['temperature'][] = ['°C', '°F'];
	const SPEED: UnitChoice['speed'][] = ['km/h', 'mph'];
	const POWER: [UnitChoice['power'], string][] = [
		['kW', 'kW, Nm'],
		['hp', 'hp, lb·ft']
	];
	const THEMES: [Theme, string][] = [
		['system', 'as the system'],
		['light', 'light'],
		['dark', 'dark']
	];
	const summary = $derived(
		[
			preferences.units.mixture === 'lambda' ? 'λ' : 'AFR',
			`${preferences.units.pressure}${preferences.units.gauge ? ' gauge' : ''}`,
			preferences.units.temperature,
			preferences.units.speed
		].join(', ')
	);
	const set = (part: Partial<UnitChoice>) => preferences.setUnits({ ...preferences.units, ...part });
</script>

<Popover.Root>
	<Popover.Trigger class="button min-h-7! py-0! text-small" aria-label="Units and theme: {summary}">
		<SlidersHorizontal size={15} aria-hidden="true" />{summary}
	</Popover.Trigger>
	<Popover.Portal>
		<Popover.Content
			class="bg-sheet border-strong-line z-50 w-64 border p-4 shadow-lg"
			sideOffset={6}
			align="end"
		>
			<div class="grid grid-cols-[auto_1fr] items-center gap-3">
				<label for="u-mixture">Mixture</label>
				<select
					id="u-mixture"
					value={preferences.units.mixture}
					onchange={(e) => set({ mixture: e.currentTarget.value as UnitChoice['mixture'] })}
				>
					{#each MIXTURE as [value, title] (value)}<option {value}>{title}</option>{/each}
				</select>
				<label for="u-pressure">Pressure</label>
				<select
					id="u-pressure"
					value={preferences.units.pressure}
					onchange={(e) => set({ pressure: e.currentTarget.value as UnitChoice['pressure'] })}
				>
					{#each PRESSURE as value (value)}<option>{value}</option>{/each}
				</select>
				<label for="u-gauge">Boost</label>
				<select
					id="u-gauge"
					title="Gauge: over standard air of 101.3 kPa. The barometer, fuel and oil stay as they are."
					value={preferences.units.gauge ? 'gauge' : 'absolute'}
					onchange={(e) => set({ gauge: e.currentTarget.value === 'gauge' })}
				>
					<option value="absolute">absolute</option>
					<option value="gauge">gauge</option>
				</select>
				<label for="u-temperature">Temperature</label>
				<select
					id="u-temperature"
					value={preferences.units.temperature}
					onchange={(e) => set({ temperature: e.currentTarget.value as UnitChoice['temperature'] })}
				>
					{#each TEMPERATURE as value (value)}<option>{value}</option>{/each}
				</select>
				<label for="u-speed">Speed</label>
				<select
					id="u-speed"
					value={preferences.units.speed}
					onchange={(e) => set({ speed: e.currentTarget.value as UnitChoice['speed'] })}
				>
					{#each SPEED as value (value)}<option>{value}</option>{/each}
				</select>
				<label for="u-power">Power</label>
				<select
					id="u-power"
					value={preferences.units.power}
					onchange={(e) => set({ power: e.currentTarget.value as UnitChoice['power'] })}
				>
					{#each POWER as [value, title] (value)}<option {value}>{title}</option>{/each}
				</select>
				<label for="u-theme">Theme</label>
				<select
					id="u-theme"
					value={preferences.theme}
					onchange={(e) => preferences.setTheme(e.currentTarget.value as Theme)}
				>
					{#each THEMES as [value, title] (value)}<option {value}>{title}</option>{/each}
				</select>
			</div>
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>
