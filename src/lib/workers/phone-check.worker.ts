/** Reads and screens a log in the browser before it is sent: the same core as on the server, off the page's thread. */
import { expose } from 'comlink';
import { InputError } from '../../core/input-error';
import type { Assignment } from '../../core/channels/recognise';
import { readLogAsync } from '../../core/logfile/read';
import { fitOf, type Fit } from '../../core/planning/fit';
import type { LogRequest } from '../../core/planning/request';
import { screen } from '../../core/screening/screen';
import { assumedBaroKpa, gaugeStoich, type Vehicle } from '../../core/vehicle';

export interface PhoneContext {
	vehicle: Vehicle;
	request: LogRequest | null;
	remembered: [string, Assignment][];
}

export type PhoneAnswer = { ok: true; fit: Fit; durationS: number } | { ok: false; message: string };

const CHUNK = 1 << 20;

async function* chunksOf(file: Blob, onShare: (share: number) => void): AsyncGenerator<Uint8Array> {
	for (let at = 0; at < file.size; at += CHUNK) {
		onShare(at / file.size);
		yield new Uint8Array(await file.slice(at, at + CHUNK).arrayBuffer());
	}
}

const api = {
	/** @param onShare told the share that is read, 0–1 */
	async check(file: Blob, context: PhoneContext, onShare: (share: number) => void): Promise<PhoneAnswer> {
		try {
			const log = await readLogAsync(chunksOf(file, onShare), {
				gaugeStoich: gaugeStoich(context.vehicle),
				baroKpa: assumedBaroKpa(context.vehicle),
				remembered: new Map(context.remembered)
			});
			const report = screen(log, { vehicle: context.vehicle, request: context.request });
			return { ok: true, fit: fitOf(report), durationS: log.durationS };
		} catch (e) {
			return {
				ok: false,
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
