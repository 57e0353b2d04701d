/** Traces of a log and of an earlier one behind it, and figures of a span: asked for when the view has come to rest. */
import type { TraceWindow } from '$core/logfile/pyramid';
import { untrack } from 'svelte';
import { TRACE_POINTS } from './questions';
import type { SpanStatistics } from './types';

interface Span {
	from: number;
	to: number;
}

/** Each part is read by itself: what asks for traces doesn't ask anew because a span was chosen. */
export interface TraceQuestion {
	readonly logId: number;
	readonly channels: readonly string[];
	/** What is in view, with a margin to drag into. */
	readonly span: Span;
	readonly selection: Span | null;
	/** An earlier log, moved by so many seconds; `null` for none. */
	readonly behind: { id: number; shiftS: number } | null;
}

const REST_MS = 60;

export class TraceData {
	data = $state.raw<Record<string, TraceWindow>>({});
	behind = $state.raw<Record<string, TraceWindow>>({});
	statistics = $state.raw<Record<string, SpanStatistics>>({});
	problem = $state('');
	loaded = $state(false);

	/**
	 * Made while a component is: its questions end with it.
	 * @param initial traces of the whole log that came with the page
	 * @param had the first question is answered by them
	 */
	constructor(question: TraceQuestion, initial: Record<string, TraceWindow> | null, had: () => boolean) {
		this.data = initial ?? {};
		this.loaded = initial !== null;
		let first = true;
		$effect(() => {
			const { logId, channels, span } = question;
			const answered = first && initial !== null && had();
			first = false;
			if (answered || channels.length === 0) return;
			return this.#whenStill(async (signal) => {
				this.data = await ask(logId, 'trace', query(channels, span), signal);
				this.loaded = true;
				this.problem = '';
			});
		});
		$effect(() => {
			const { channels, behind } = question;
			if (behind === null || channels.length === 0) {
				// Left alone where there is nothing: a new object would draw every lane anew with each turn of the wheel.
				if (Object.keys(untrack(() => this.behind)).length) this.behind = {};
				return;
			}
			const { id, shiftS } = behind;
			const { span } = question;
			const moved = { from: span.from - shiftS, to: span.to - shiftS };
			return this.#whenStill(async (signal) => {
				const traces = await ask<Record<string, TraceWindow>>(id, 'trace', query(channels, moved), signal);
				for (const w of Object.values(traces)) w.timeS = w.timeS.map((t) => t + shiftS);
				this.behind = traces;
			});
		});
		$effect(() => {
			const { logId, channels, selection } = question;
			if (!selection || channels.length === 0) {
				this.statistics = {};
				return;
			}
			const asked = { channels: channels.join(','), ...selection };
			return this.#whenStill(async (signal) => {
				this.statistics = await ask(logId, 'stats', asked, signal);
			});
		});
	}

	/** Asks when the view has come to rest; what is asked for anew breaks off what is under way. */
	#whenStill(work: (signal: AbortSignal) => Promise<void>): () => void {
		const abort = new AbortController();
		const timer = setTimeout(
			() =>
				work(abort.signal).catch((e: unknown) => {
					if (!abort.signal.aborted) this.problem = e instanceof Error ? e.message : String(e);
				}),
			untrack(() => this.loaded) ? REST_MS : 0
		);
		return () => {
			clearTimeout(timer);
			abort.abort();
		};
	}
}

const query = (channels: readonly string[], span: Span) => ({
	channels: channels.join(','),
	...span,
	points: TRACE_POINTS
});

async function ask<T>(id: number, what: string, about: object, signal: AbortSignal): Promise<T> {
	const q = new URLSearchParams(Object.entries(about).map(([k, v]) => [k, String(v)]));
	const r = await fetch(`/api/v1/logs/${id}/${what}?${q}`, { signal });
	if (!r.ok) throw new Error(`the server answered ${r.status}`);
	return (await r.json()) as T;
}
