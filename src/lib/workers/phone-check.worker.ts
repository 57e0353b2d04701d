/** Reads and screens a log in the browser before it is sent: the same core as on the server, off the page's thread. */
import { expose } from 'comlink';
import { InputError } from '$core/input-error';
import type { Assignment } from '$core/channels/recognise';
import { LayoutError, type LayoutSeen } from '$core/logfile/layout-error';
import type { LayoutHint } from '$core/logfile/layout-hint';
import { readLogAsync } from '$core/logfile/read';
import { fitOf, type Fit } from '$core/planning/fit';
import type { LogRequest } from '$core/request';
import { screen } from '$core/screening/screen';
import type { Vehicle } from '$core/vehicle/document';
import { readContextOf } from '$core/vehicle/facts';

export interface PhoneContext {
	vehicle: Vehicle;
	request: LogRequest | null;
	remembered: [string, Assignment][];
	/** Layouts that were said of this customer's files. */
	layouts: LayoutHint[];
	/** Files that may be in the car, the newest first; the one that the customer confirmed, `null` while that isn't the newest. */
	revisions: { id: number; number: number }[];
	confirmed: number | null;
}

export type PhoneAnswer =
	| { ok: true; fit: Fit; durationS: number }
	/** `seen`: what a person needs to say how the file is laid out, where that is what failed. */
	| { ok: false; message: string; seen: LayoutSeen | null };

const CHUNK = 1 << 20;

async function* chunksOf(file: Blob, onShare: (share: number) => void): AsyncGenerator<Uint8Array> {
	for (let at = 0; at < file.size; at += CHUNK) {
		onShare(at / file.size);
		yield new Uint8Array(await file.slice(at, at + CHUNK).arrayBuffer());
	}
}

const api = {
	/**
	 * @param hint what was said of the file's layout
	 * @param onShare told the share that is read, 0–1
	 */
	async check(
		file: Blob,
		context: PhoneContext,
		hint: LayoutHint | undefined,
		onShare: (share: number) => void
	): Promise<PhoneAnswer> {
		try {
			const log = await readLogAsync(chunksOf(file, onShare), {
				...readContextOf(context.vehicle),
				remembered: new Map(context.remembered),
				bytes: file.size,
				hint,
				layouts: context.layouts
			});
			const report = screen(log, { vehicle: context.vehicle, request: context.request });
			return { ok: true, fit: fitOf(report), durationS: log.durationS };
		} catch (e) {
			return {
				ok: false,
				seen: e instanceof LayoutError ? e.seen : null,
				message:
					e instanceof InputError
						? e.message
						: 'this file could not be read here; it can be sent all the same'
			};
		}
	}
};

export type PhoneCheck = typeof api;
expose(api);
