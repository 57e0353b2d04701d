/** The worker that looks into one log, from a page: loaded once, ended when the page goes. */
import { wrap, type Remote } from 'comlink';
import { onDestroy } from 'svelte';
import { page } from '$app/state';
import type { Evidence, EvidenceAbout } from '$lib/workers/evidence.worker';
import EvidenceWorker from '$lib/workers/evidence.worker?worker';

export class EvidenceState {
	about = $state.raw<EvidenceAbout | null>(null);
	problem = $state('');
	api: Remote<Evidence> | null = null;
}

/** Opens a log in the worker when the component is mounted, and anew when it was screened again: until that one is open, the old one answers. */
export function useEvidence(logId: () => number): EvidenceState {
	const state = new EvidenceState();
	let answering: Worker | null = null;
	const id = $derived(logId());
	const screeningId = $derived<unknown>(page.data.screeningId);
	$effect(() => {
		void screeningId;
		const worker = new EvidenceWorker();
		const api = wrap<Evidence>(worker);
		worker.onerror = () => (state.problem = 'the log could not be loaded in this browser');
		api
			.open(`/api/v1/logs/${id}/columns`)
			.then((about) => {
				answering?.terminate();
				answering = worker;
				state.api = api;
				state.about = about;
			})
			.catch((e: unknown) => (state.problem = e instanceof Error ? e.message : String(e)));
		return () => {
			if (worker !== answering) worker.terminate();
		};
	});
	onDestroy(() => answering?.terminate());
	return state;
}
