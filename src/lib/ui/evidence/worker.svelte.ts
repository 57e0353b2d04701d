/** The worker that looks into one log, from a page: loaded once, ended when the page goes. */
import { wrap, type Remote } from 'comlink';
import { onMount } from 'svelte';
import type { Evidence, EvidenceAbout } from '$lib/workers/evidence.worker';
import EvidenceWorker from '$lib/workers/evidence.worker?worker';

export class EvidenceState {
	about = $state.raw<EvidenceAbout | null>(null);
	problem = $state('');
	api: Remote<Evidence> | null = null;
}

/** Opens a log in the worker when the component is mounted. */
export function useEvidence(logId: () => number): EvidenceState {
	const state = new EvidenceState();
	onMount(() => {
		const worker = new EvidenceWorker();
		const api = wrap<Evidence>(worker);
		worker.onerror = () => (state.problem = 'the log could not be loaded in this browser');
		api
			.open(`/api/v1/logs/${logId()}/columns`)
			.then((about) => {
				state.api = api;
				state.about = about;
			})
			.catch((e: unknown) => (state.problem = e instanceof Error ? e.message : String(e)));
		return () => worker.terminate();
	});
	return state;
}
