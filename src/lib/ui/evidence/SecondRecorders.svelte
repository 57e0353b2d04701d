<script lang="ts">
	/** Instruments with a file and a clock of their own: joined to the log, shown how well they lie on it, taken off again. */
	import { enhance } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import { fixed, plural } from '$core/format';
	import type { SecondRecorder } from '$lib/server/use-cases/second-recorders';
	import Alert from '../Alert.svelte';
	import FileDrop from '../FileDrop.svelte';
	import Plot from '../pictures/Plot.svelte';
	import { axisTitle } from '$core/calibration/axes';
	import { moment } from '../time';

	let { recorders, logId }: { recorders: SecondRecorder[]; logId: number } = $props();
	let files = $state<FileList | null>(null);
	let problem = $state('');
	let joining = $state(false);

	async function join() {
		const file = files?.[0];
		if (!file) return;
		joining = true;
		problem = '';
		try {
			const answer = await fetch(
				`/api/v1/logs/${logId}/recorders?${new URLSearchParams({ name: file.name })}`,
				{
					method: 'PUT',
					headers: { 'content-type': 'application/octet-stream' },
					body: file
				}
			);
			if (answer.ok) {
				files = null;
				await invalidateAll();
			} else
				problem =
					((await answer.json().catch(() => ({}))) as { message?: string }).message ??
					`The server answered ${answer.status}.`;
		} catch {
			problem = 'The connection broke off; nothing was joined. Try again.';
		}
		joining = false;
	}
	const SHARED = { rpm: 'engine speed', speed: 'road speed' } as const;
</script>

<section aria-label="Second recorders" class="mt-6">
	<h2 class="mb-1">Second recorders</h2>
	<p class="text-muted mb-2 max-w-prose text-small">
		An instrument with a file of its own joins this log: aligned by engine speed, else road speed, with its
		clock’s offset and rate. A file of another drive is refused. Its mixture counts as an independent witness.
	</p>
	{#each recorders as r (r.id)}
		{@const a = r.alignment}
		<div class="border-line mb-3 grid gap-4 border-t pt-2 md:grid-cols-[minmax(0,1fr)_minmax(0,2fr)]">
			<div>
				<p class="font-semibold break-all">{r.name}</p>
				<p class="text-muted text-small">{moment(r.at)}, {r.author}</p>
				<dl class="mt-1 grid grid-cols-[auto_1fr] gap-x-3 text-small">
					<dt class="text-muted">began</dt>
					<dd class="numbers">
						{fixed(Math.abs(a.offsetS), 2)} ± {fixed(2 * a.offsetSe, 2)} s {a.offsetS < 0 ? 'before' : 'into'} the
						log
					</dd>
					<dt class="text-muted">its clock</dt>
					<dd class="numbers">
						{fixed(100 * Math.abs(a.rate - 1), 2)} ± {fixed(200 * a.rateSe, 2)} % {a.rate < 1
							? 'slow'
							: 'fast'}
					</dd>
					<dt class="text-muted">together</dt>
					<dd class="numbers">{fixed(a.overlapS, 0)} s, changes correlate {fixed(a.correlation, 3)}</dd>
					<dt class="text-muted">brings</dt>
					<dd>{a.channels.map((c) => axisTitle(c)).join(', ')}</dd>
				</dl>
				<form method="POST" action="?/takeOff" use:enhance class="mt-2">
					<input type="hidden" name="recorder" value={r.id} />
					<button class="button button-small">Take it off again</button>
				</form>
			</div>
			<figure>
				<Plot
					lines={[
						{ label: 'the log', x: a.picture.timeS, y: a.picture.log, dashed: true },
						{ label: r.name, x: a.picture.timeS, y: a.picture.other }
					]}
					domain={[a.picture.timeS[0] ?? 0, a.picture.timeS.at(-1) ?? 1]}
					leastSpan={a.shared === 'rpm' ? 500 : 10}
					decimals={0}
					height={150}
					label="A minute of {SHARED[a.shared]} in both recordings, over seconds of the log: {plural(
						a.picture.timeS.length,
						'point'
					)}"
				/>
				<figcaption class="text-muted text-small">
					A minute of {SHARED[a.shared]}: the log dashed, the other solid. Seconds of the log.
				</figcaption>
			</figure>
		</div>
	{/each}
	<div class="flex flex-wrap items-center gap-3">
		<div class="min-w-72 flex-1"><FileDrop title="File of the second recorder" bind:files /></div>
		<button class="button" disabled={!files?.length || joining} onclick={() => void join()}
			>{joining ? 'Aligning …' : 'Join'}</button
		>
	</div>
	<Alert message={problem} class="mt-2" />
</section>
