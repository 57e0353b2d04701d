/** The pulls of a log: which one is drawn, and which one behind it. Their curves are fetched when they are asked for. */
import { bestPull, type PullCurves } from '$core/evidence/segments/pull-curves';

export class Pulls {
	readonly #log: () => { id: number; pulls: readonly PullCurves[] };
	/** The one that a person picked; `null` while the best to read is drawn. */
	picked = $state<number | null>(null);
	#fetched = $state<Record<number, PullCurves>>({});
	/** "log/pull" of the one laid behind; empty for none. */
	againstKey = $state('');
	against = $state.raw<PullCurves | null>(null);

	constructor(log: () => { id: number; pulls: readonly PullCurves[] }) {
		this.#log = log;
	}

	get logId(): number {
		return this.#log().id;
	}
	get all(): readonly PullCurves[] {
		return this.#log().pulls;
	}
	get index(): number {
		return this.picked ?? bestPull(this.all);
	}
	/** Only the best one comes with the page. */
	get shown(): PullCurves | null {
		if (this.picked === null) return this.all[bestPull(this.all)] ?? null;
		return this.#fetched[this.picked] ?? null;
	}

	async pick(i: number): Promise<void> {
		const here = this.all[i];
		const curves = here?.rpm.length ? here : await curvesOf(this.logId, String(i));
		if (curves) this.#fetched[i] = curves;
		this.picked = i;
	}

	async setAgainst(key: string): Promise<void> {
		this.againstKey = key;
		const [id, nth] = key.split('/');
		if (!nth) {
			this.against = null;
			return;
		}
		const curves = await curvesOf(Number(id), nth);
		// A late answer to an old question isn't shown.
		if (this.againstKey === key) this.against = curves;
	}
}

async function curvesOf(logId: number, nth: string): Promise<PullCurves | null> {
	const answer = await fetch(`/api/v1/logs/${logId}/pulls/${nth}`);
	return answer.ok ? ((await answer.json()) as PullCurves) : null;
}
