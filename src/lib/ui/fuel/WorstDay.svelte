<script lang="ts">
	/** The worst day of a plan: how cold, and how dense its air is, said as pressure, altitude or density altitude. */
	import { DENSITY_BY, type GoalFields } from '../goal-form';

	type Day = Pick<GoalFields, 'worstDayC' | 'worstDayAir' | 'worstDayBy'>;
	let { values, oninput = () => {} }: { values: Day; oninput?: (name: keyof Day, value: string) => void } =
		$props();
</script>

<label
	><span class="text-small">Worst day, °C</span><input
		name="worstDayC"
		value={values.worstDayC}
		placeholder="−10 of the limits"
		autocomplete="off"
		oninput={(e) => oninput('worstDayC', e.currentTarget.value)}
	/></label
>
<div>
	<label class="text-small" for="worst-day-air">with this air</label>
	<div class="flex gap-2">
		<input
			id="worst-day-air"
			name="worstDayAir"
			class="w-24!"
			value={values.worstDayAir}
			autocomplete="off"
			oninput={(e) => oninput('worstDayAir', e.currentTarget.value)}
		/>
		<select
			name="worstDayBy"
			aria-label="How the air of the worst day is said"
			value={values.worstDayBy || 'pressureHpa'}
			onchange={(e) => oninput('worstDayBy', e.currentTarget.value)}
		>
			{#each DENSITY_BY as [value, title] (value)}<option {value}>{title}</option>{/each}
		</select>
	</div>
</div>
