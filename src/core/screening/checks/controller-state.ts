/** `controller.state`: sync errors, fault codes, interventions. */
import { plural } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, notChecked, pass } from '../measure.ts';
import { check } from '../check.ts';
import type { Finding } from '../types.ts';

export const controllerState = check({
	code: 'controller.state',
	title: 'Controller',
	section: 'readiness',
	advice: 'repair',
	readiness: { item: 'Controller', against: () => 'no sync errors, codes or interventions' },
	run(input) {
		const { frame, segments, log } = input;
		const sync = frame.get('syncErrors');
		const limit = frame.get('torqueLimit');
		const codes = log.channels.find((c) => c.id === 'faultCodes');
		if (!sync && !limit && !codes)
			return notChecked('neither sync errors, fault codes nor interventions are logged', 'syncErrors');
		const findings: Finding[] = [];
		if (sync) {
			const rises = stretches(frame, 0, (i) => i > 0 && sync[i]! > sync[i - 1]!);
			const loaded = rises.filter((r) => segments.flags[r.from]! & FLAG.loaded);
			if (rises.length)
				findings.push(
					finding(input, {
						code: 'controller.state',
						kind: 'sync',
						severity: loaded.length ? 'stop' : 'watch',
						title: loaded.length ? 'Sync lost under load' : 'Sync errors',
						summary: `The controller lost the crank position ${plural(rises.length, 'time')}${loaded.length ? `, ${loaded.length} of them under load` : ', none under load'}.`,
						value: rises.length,
						limit: 0,
						unit: 'times',
						runs: loaded.length ? loaded : rises,
						channels: ['syncErrors', 'rpm'],
						causes: [
							'trigger sensor gap or wiring',
							'noise from ignition',
							'a trigger setting that does not fit the wheel'
						],
						next: ['no more load: spark and fuel may come anywhere', 'sensor, shield and earth first']
					})
				);
		}
		const texts = codes?.texts.filter((t) => !/^(0|none|no|ok|-+)?$/i.test(t.trim())) ?? [];
		const stored = codes ? Math.max(0, ...sampled(codes.values)) : 0;
		if (stored > 0 || texts.length)
			findings.push(
				finding(input, {
					code: 'controller.state',
					kind: 'codes',
					severity: 'fix',
					title: texts.length
						? `Fault codes: ${texts.slice(0, 4).join(', ')}`
						: `${plural(stored, 'fault code')} stored`,
					summary: texts.length
						? `The controller has stored ${texts.slice(0, 8).join(', ')}.`
						: `The controller has stored up to ${plural(stored, 'fault code')}.`,
					value: texts.length || stored,
					limit: 0,
					unit: 'codes',
					channels: ['faultCodes'],
					causes: ['what the codes say'],
					next: ['read them out and resolve them before the tune goes on']
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
						code: 'controller.state',
						kind: 'intervention',
						severity: 'watch',
						title: 'The controller intervened in a pull',
						summary: `In ${held.length} stretch${held.length > 1 ? 'es' : ''} of full throttle the controller limited the torque.`,
						value: held.length,
						limit: 0,
						unit: 'times',
						runs: held,
						channels: ['torqueLimit', 'tps', 'pedal', 'rpm'],
						causes: ['traction or gearbox protection', 'a torque or component limit', 'limp mode'],
						next: ['traction control off, then the same pull', 'find the limit that acts']
					})
				);
		}
		if (findings.length === 0)
			return pass('No sync error, no fault code, no intervention in what is logged.');
		return found(...findings);
	}
});

function sampled(values: Float32Array): number[] {
	const out: number[] = [];
	const step = Math.max(1, Math.floor(values.length / 50_000));
	for (let i = 0; i < values.length; i += step) if (values[i] === values[i]) out.push(values[i]!);
	return out;
}
