<script lang="ts">
	/** Columns that can be read in two ways, by unit or by sign: both readings side by side; the answer is remembered for this customer's exports. */
	import { fixed } from '$core/format';
	import { invalidateAll } from '$app/navigation';
	import { enhance } from '$app/forms';
	import { channelKind } from '$core/channels/canonical';
	import type { LogQuestion } from '$lib/server/logs/logs';

	let { questions, action, customer }: { questions: LogQuestion[]; action: string; customer: string } =
		$props();
	let deciding = $state(false);
</script>

{#if questions.length}
	<section class="border-watch mb-4 border-l-4 py-1 pl-3" aria-label="Readings to decide">
		<p class="font-semibold">
			{questions.length === 1
				? 'One column can be read in two ways'
				: `${questions.length} columns can be read in two ways`}: which is it?
		</p>
		<p class="text-muted mb-1 text-small">
			The first reading is taken until you decide. The answer is kept for what {customer} sends later.
		</p>
		{#each questions as q (q.channel)}
			<div class="flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
				<span class="min-w-[180px] break-words"
					>{channelKind(q.channel).title} <span class="text-muted">“{q.raw}”</span></span
				>
				{#each q.readings as r (r.unit)}
					<form
						method="POST"
						{action}
						use:enhance={() => {
							deciding = true;
							return async () => {
								await invalidateAll();
								deciding = false;
							};
						}}
					>
						<input type="hidden" name="name" value={q.raw} />
						<input type="hidden" name="rawUnit" value={q.rawUnit} />
						<input type="hidden" name="channel" value={q.channel} />
						<input type="hidden" name="unit" value={r.unit} />
						<button class="button" disabled={deciding}
							>{r.unit}:
							<span class="numbers"
								>{fixed(r.low, 0)} to {fixed(r.high, 0)}, mostly {fixed(r.median, 0)} {q.unit}</span
							></button
						>
					</form>
				{/each}
			</div>
		{/each}
	</section>
{/if}
