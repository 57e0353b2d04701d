/** Trims by cylinder from plugs, and what a log of the session says of them. */
import type { Plugs } from '$core/plugs/document.ts';
import { judgePlugs, type Kind } from '$core/plugs/judge.ts';
import { witnessesOf } from '$core/plugs/witnesses.ts';
import { evidenceOf, revisionInVehicle } from './stored.ts';
import { task, type Place } from './task.ts';

export interface PlugTask extends Place {
	plugs: Plugs;
	revisionId: number;
	logId: number | null;
	rank: Kind[];
}

export const plugs = task(async ({ plugs: document, revisionId, logId, rank }: PlugTask, db) => {
	const { calibration, vehicle } = await revisionInVehicle(db, revisionId);
	const [evidence] = logId === null ? [] : await evidenceOf(db, [logId]);
	const witnesses = evidence ? witnessesOf(evidence) : null;
	return { answer: judgePlugs({ plugs: document, calibration, vehicle, witnesses, rank }) };
});
