<script lang="ts">
	/** Every part of the interface once, in the theme of the reader: looked at, photographed and measured for contrast. */
	import Alert from '$lib/ui/Alert.svelte';
	import { tint, signedText } from '$lib/ui/cellmap/colour';
	import Field from '$lib/ui/Field.svelte';
	import Mark from '$lib/ui/findings/Mark.svelte';
	import LaneStack from '$lib/ui/lanes/LaneStack.svelte';
	import { ENGINE_SPEED } from '$lib/ui/lanes/scale';
	import type { Lane } from '$lib/ui/lanes/types';
	import PageHead from '$lib/ui/shell/PageHead.svelte';

	const STATES = [
		'stop',
		'fix',
		'watch',
		'clear',
		'note',
		'not-checked',
		'received',
		'reading',
		'failed',
		'draft'
	];
	const PERCENTS = [-10, -5, -2, -0.3, 0, 0.3, 2, 5, 10];
	const rpm = [2000, 3000, 4000, 5000, 6000];
	const lanes: Lane[] = [
		{
			id: 'mixture',
			title: 'Mixture',
			unit: 'λ',
			decimals: 2,
			height: 120,
			minSpan: 0.1,
			limit: { from: 0.85, side: 'above', label: 'limit 0.85' },
			series: [
				{ label: 'bank 1', x: rpm, y: [0.82, 0.81, 0.8, 0.81, 0.83], tone: 'first' },
				{ label: 'bank 2', x: rpm, y: [0.82, 0.83, 0.84, 0.86, 0.88], tone: 'second' },
				{ label: 'target', x: rpm, y: [0.82, 0.81, 0.8, 0.8, 0.8], tone: 'third', dashed: true }
			]
		}
	];
</script>

<svelte:head><title>Parts – Tanto</title></svelte:head>

{#snippet actions()}
	<button class="button">Second action</button>
	<button class="button button-main">Primary action</button>
{/snippet}
<main class="px-(--gutter) pb-8">
	<PageHead
		title="Parts"
		says={['every part of the interface once', 'in the demo only']}
		{actions}
		more={[{ title: 'One more', href: '/parts' }]}
	/>
	<div class="grid gap-x-10 gap-y-6 lg:grid-cols-2">
		<section aria-labelledby="parts-buttons">
			<h2 id="parts-buttons" class="mb-2">Buttons</h2>
			<div class="flex flex-wrap items-center gap-2">
				<button class="button button-main">Primary</button>
				<button class="button">Plain</button>
				<button class="button" disabled>Not now</button>
				<button class="button button-small">Small</button>
				<a class="underline" href="/parts">A link</a>
				<kbd>Ctrl K</kbd>
			</div>
		</section>
		<section aria-labelledby="parts-states">
			<h2 id="parts-states" class="mb-2">States: a shape, a colour and a word</h2>
			<div class="flex flex-wrap gap-x-5 gap-y-2">
				{#each STATES as state (state)}<Mark {state} />{/each}
			</div>
		</section>
		<section aria-labelledby="parts-fields">
			<h2 id="parts-fields" class="mb-2">Fields</h2>
			<div class="grid grid-cols-2 gap-3">
				<Field title="Text"><input value="Kestrel" /></Field>
				<Field title="Choice"><select><option>port</option><option>direct</option></select></Field>
				<Field title="Words" class="col-span-2"
					><textarea rows="2">Pulls well, a little rough at idle.</textarea></Field
				>
				<label class="flex items-center gap-2"><input type="checkbox" class="w-auto!" checked /> a tick</label
				>
			</div>
			<Alert class="mt-2" message="say what the new injectors flow" />
		</section>
		<section aria-labelledby="parts-messages">
			<h2 id="parts-messages" class="mb-2">Messages</h2>
			<Alert box class="mb-3" message="R4 was released; it can't be changed any more" />
			<p class="border-fix mb-3 border-l-4 pl-3">
				A hold: fuel in region 3000 to 4500 rpm, because the banks disagree.
			</p>
			<p class="border-watch mb-3 border-l-4 pl-3">Something to look at.</p>
			<p class="border-clear mb-3 border-l-4 pl-3" role="status">Saved.</p>
			<p class="text-muted">Empty: no log yet. Ask the customer with a drive plan, or drop an export.</p>
			<progress class="mt-2 w-full" max="12" value="7" aria-label="Seven of twelve"></progress>
		</section>
		<section aria-labelledby="parts-table">
			<h2 id="parts-table" class="mb-2">A table</h2>
			<table class="w-full text-right">
				<thead>
					<tr class="table-head">
						<th class="py-1.5 text-left font-normal">Pull</th><th class="font-normal">Gear</th><th
							class="font-normal">Knock, °</th
						>
					</tr>
				</thead>
				<tbody class="numbers">
					{#each [[1, 3, '0.4'], [2, 4, '12.0']] as [n, gear, knock] (n)}
						<tr class="border-line border-b">
							<td class="py-1.5 text-left">{n}</td><td>{gear}</td><td>{knock}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</section>
		<section aria-labelledby="parts-scale">
			<h2 id="parts-scale" class="mb-2">Lean and rich: colour with its sign</h2>
			<div class="numbers flex">
				{#each PERCENTS as p (p)}<span class="flex-1 py-1.5 text-center" style:background={tint(p)}
						>{signedText(p)}</span
					>{/each}
			</div>
		</section>
		<section class="lg:col-span-2" aria-labelledby="parts-lane">
			<h2 id="parts-lane" class="mb-2">A lane: measured solid, target dashed, limit shaded</h2>
			<LaneStack
				{lanes}
				min={2000}
				max={6000}
				axis={ENGINE_SPEED}
				label="Mixture over engine speed, an example"
			/>
		</section>
	</div>
</main>
