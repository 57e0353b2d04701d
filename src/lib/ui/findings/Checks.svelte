<script lang="ts">
	/** What was checked and held, and what wasn't checked, grouped by what is missing for it. */
	import type { Report } from '../../../core/screening/report';
	import Mark from './Mark.svelte';

	let { checks }: { checks: Report['checks'] } = $props();
	const passed = $derived(checks.filter((c) => c.outcome === 'pass'));
	const groups = $derived.by(() => {
		const byMissing: Record<string, Report['checks']> = {};
		for (const c of checks)
			if (c.outcome === 'not-checked') (byMissing[c.missing ?? 'something'] ??= []).push(c);
		return Object.entries(byMissing).sort((a, b) =>
			a[0] === 'a later version' ? 1 : b[0] === 'a later version' ? -1 : 0
		);
	});
</script>

<div class="grid gap-8 lg:grid-cols-2">
	<section>
		<h2 class="mb-1">Checked and held</h2>
		{#if passed.length === 0}<p class="text-muted">No check passed.</p>{/if}
		<ul>
			{#each passed as c (c.code)}
				<li class="border-line flex gap-3 border-b py-1">
					<span class="pt-0.5"><Mark state="pass" bare /></span>
					<span class="min-w-0"
						><span class="numbers">{c.code}</span> <span class="text-muted">{c.reason}</span></span
					>
				</li>
			{/each}
		</ul>
	</section>
	<section>
		<h2 class="mb-1">Not checked</h2>
		<ul>
			{#each groups as [missing, list] (missing)}
				<li class="border-line flex gap-3 border-b py-1">
					<span class="pt-0.5"><Mark state="not-checked" bare /></span>
					<div class="min-w-0">
						<span class="font-semibold"
							>{missing === 'a later version' ? 'Not part of this version' : `Missing: ${missing}`}</span
						>,
						{list.length}
						{list.length === 1 ? 'check' : 'checks'}
						<div class="text-muted text-[13px]">
							{#if missing !== 'a later version'}{list[0]?.reason}:{/if}
							<span class="numbers">{list.map((c) => c.code).join(' ')}</span>
						</div>
					</div>
				</li>
			{/each}
		</ul>
	</section>
</div>
