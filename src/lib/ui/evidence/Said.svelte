<script lang="ts">
	/** What the checks of one subject say: findings first, then what held and what could not be checked, each reason once. */
	import type { Report } from '../../../core/screening/report';
	import Mark from '../findings/Mark.svelte';

	let { report, codes }: { report: Report; codes: RegExp } = $props();
	const findings = $derived(report.findings.filter((f) => codes.test(f.code)));
	const lines = $derived.by(() => {
		const out: { outcome: string; reason: string; codes: string[] }[] = [];
		for (const c of report.checks) {
			if (!codes.test(c.code) || c.outcome === 'found') continue;
			const same = out.find((l) => l.outcome === c.outcome && l.reason === (c.reason ?? ''));
			if (same) same.codes.push(c.code);
			else out.push({ outcome: c.outcome, reason: c.reason ?? '', codes: [c.code] });
		}
		return out;
	});
</script>

<ul>
	{#each findings as f (f.code + String(f.cylinder ?? '') + f.title)}
		<li class="py-0.5">
			<Mark state={f.severity} bare size={12} />
			{f.title}. <span class="text-muted">{f.summary}</span>
		</li>
	{/each}
	{#each lines as l (l.codes.join())}
		<li class="text-muted py-0.5">
			<Mark state={l.outcome} bare size={12} /> <span class="numbers">{l.codes.join(' ')}</span>
			{l.reason}
		</li>
	{/each}
</ul>
