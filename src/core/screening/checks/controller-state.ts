/** `controller.state`: sync errors, fault codes, interventions. */
import { plural } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import type { Raised } from '../types.ts';

/** What the controller tells of; `underLoad`: how many times of them. */
type Facts = { of: 'sync' | 'codes' | 'intervention'; times: number; underLoad?: number; codes?: string[] };

/** Codes that are named; the rest stands in the log. */
const NAMED_IN_TITLE = 4;
const NAMED = 8;

export const controllerState = check({
	code: 'controller.state',
	title: 'Controller',
	section: 'readiness',
	advice: 'repair',
	readiness: { item: 'Controller', against: () => 'no sync errors, codes or interventions' },
	units: { times: 'times', underLoad: 'times' },
	run(input) {
		const { frame, segments, log } = input;
		const sync = frame.get('syncErrors');
		const limit = frame.get('torqueLimit');
		const codes = log.channels.find((c) => c.id === 'faultCodes');
		if (!sync && !limit && !codes)
			return notChecked('neither sync errors, fault codes nor interventions are logged', 'syncErrors');
		const findings: Raised<Facts>[] = [];
		if (sync) {
			const rises = stretches(frame, 0, (i) => i > 0 && sync[i]! > sync[i - 1]!);
			const loaded = rises.filter((r) => segments.flags[r.from]! & FLAG.loaded);
			if (rises.length)
				findings.push(
					finding(input, {
						kind: 'sync',
						severity: loaded.length ? 'stop' : 'watch',
						facts: { of: 'sync', times: rises.length, underLoad: loaded.length },
						value: rises.length,
						limit: 0,
						unit: 'times',
						runs: loaded.length ? loaded : rises,
						channels: ['syncErrors', 'rpm']
					})
				);
		}
		const texts = codes?.texts.filter((t) => !/^(0|none|no|ok|-+)?$/i.test(t.trim())) ?? [];
		const stored = codes ? Math.max(0, ...sampled(codes.values)) : 0;
		if (stored > 0 || texts.length)
			findings.push(
				finding(input, {
					kind: 'codes',
					severity: 'fix',
					facts: { of: 'codes', times: stored, ...(texts.length ? { codes: texts.slice(0, NAMED) } : {}) },
					value: texts.length || stored,
					limit: 0,
					unit: 'codes',
					channels: ['faultCodes']
				})
			);
		if (limit) {
			const held = stretches(
				frame,
				0.1,
				(i) => limit[i]! > 0.5 && (segments.flags[i]! & FLAG.pull) !== 0,
				0.2
			);
			if (held.length)
				findings.push(
					finding(input, {
						kind: 'intervention',
						severity: 'watch',
						facts: { of: 'intervention', times: held.length },
						value: held.length,
						limit: 0,
						unit: 'times',
						runs: held,
						channels: ['torqueLimit', 'tps', 'pedal', 'rpm']
					})
				);
		}
		if (findings.length === 0)
			return pass('No sync error, no fault code, no intervention in what is logged.');
		return found(...findings);
	},
	words: ({ facts: { of, times, underLoad = 0, codes } }: Told<Facts>) => {
		if (of === 'sync')
			return {
				title: underLoad ? 'Sync lost under load' : 'Sync errors',
				summary: `The controller lost the crank position ${plural(times, 'time')}${underLoad ? `, ${underLoad} of them under load` : ', none under load'}.`,
				causes: [
					'trigger sensor gap or wiring',
					'noise from ignition',
					'a trigger setting that does not fit the wheel'
				],
				next: ['no more load: spark and fuel may come anywhere', 'sensor, shield and earth first']
			};
		if (of === 'codes')
			return {
				title: codes
					? `Fault codes: ${codes.slice(0, NAMED_IN_TITLE).join(', ')}`
					: `${plural(times, 'fault code')} stored`,
				summary: codes
					? `The controller has stored ${codes.join(', ')}.`
					: `The controller has stored up to ${plural(times, 'fault code')}.`,
				causes: ['what the codes say'],
				next: ['read them out and resolve them before the tune goes on']
			};
		return {
			title: 'The controller intervened in a pull',
			summary: `In ${plural(times, 'stretch', 'stretches')} of full throttle the controller limited the torque.`,
			causes: ['traction or gearbox protection', 'a torque or component limit', 'limp mode'],
			next: ['traction control off, then the same pull', 'find the limit that acts']
		};
	}
});

function sampled(values: Float32Array): number[] {
	const out: number[] = [];
	const step = Math.max(1, Math.floor(values.length / 50_000));
	for (let i = 0; i < values.length; i += step) if (values[i] === values[i]) out.push(values[i]!);
	return out;
}
