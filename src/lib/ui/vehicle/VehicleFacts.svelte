<script lang="ts">
	/** A vehicle in four lines, beside its job. */
	import type { Vehicle } from '$core/vehicle/document';
	import { day } from '$lib/ui/time';

	let { vehicle, since }: { vehicle: Vehicle; since: string } = $props();
</script>

<dl class="mb-5 grid grid-cols-[120px_1fr] gap-y-0.5">
	<dt class="text-muted">Engine</dt>
	<dd>
		{vehicle.engine.displacementL ? `${vehicle.engine.displacementL} l ` : ''}{vehicle.engine.layout ?? ''}
		{vehicle.engine.cylinders}, {vehicle.engine.aspiration === 'na'
			? 'naturally aspirated'
			: vehicle.engine.aspiration}, to <span class="numbers">{vehicle.engine.revLimitRpm}</span> rpm
	</dd>
	<dt class="text-muted">Fuel</dt>
	<dd>
		{vehicle.fuel?.name ?? 'not stated'}{vehicle.fuel?.ethanolPct !== undefined
			? `, ${vehicle.fuel.ethanolPct} % ethanol`
			: ''}{vehicle.injectors?.flowCcMin ? `, injectors ${vehicle.injectors.flowCcMin} cc/min` : ''}
	</dd>
	<dt class="text-muted">Controller</dt>
	<dd class="break-words">
		{[vehicle.controller?.hardware, vehicle.controller?.software].filter(Boolean).join(', ') || 'not stated'}
	</dd>
	<dt class="text-muted">Job since</dt>
	<dd>{day(since)}</dd>
</dl>
