/** `knock.missed`, `knock.monitor`, `knock.disabled`, `knock.timing`: what stands around the episodes. */
import { fixed, marked, plural } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { findItem, isOn } from '../../calibration/lookup.ts';
import { timingAlong } from '../../calibration/fuel-along.ts';
import { monitorShare } from '../../evidence/knock/monitor.ts';
import { fuelStoich } from '../../vehicle/facts.ts';
import { stretches, runSeconds } from '../../stats/runs.ts';
import { finding, found, medianWhere, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';

/** The controller answers within this long, or not at all. */
const ANSWER_S = 0.3;
const LONG_S = 0.1;

type MissedFacts = { times: number };

export const knockMissed = check({
	code: 'knock.missed',
	title: 'Knock that is not seen',
	section: 'knock',
	doubts: ['timing'],
	units: { times: 'times' },
	run(input) {
		const { frame, segments, profile } = input;
		const monitor = frame.get('knockMonitor');
		if (!monitor) return notChecked('no independent knock monitor is logged', 'knockMonitor');
		if (input.knock === null) return notChecked('no retard of the controller is logged', 'knockRetard');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const heard = stretches(
			frame,
			0,
			(i) => monitor[i]! > profile.monitorLevel && (segments.flags[i]! & FLAG.loaded) !== 0,
			frame.stepS * 1.5
		);
		const missed = heard.filter(
			(r) =>
				!input.knock!.some(
					(e) => e.toS >= frame.timeS[r.from]! - ANSWER_S && e.fromS <= frame.timeS[r.to]! + ANSWER_S
				)
		);
		const long = missed.filter((r) => runSeconds(r, frame.timeS, frame.stepS) >= LONG_S - 1e-6);
		const twice = segments.pulls.some(
			(p) => missed.filter((r) => r.from >= p.from && r.from <= p.to).length >= 2
		);
		if (long.length === 0 && !twice)
			return pass(
				heard.length
					? 'The controller answers what the monitor hears.'
					: 'The monitor hears no knock under load.'
			);
		return found(
			finding(input, {
				severity: 'stop',
				facts: { times: missed.length },
				value: missed.length,
				limit: 0,
				unit: 'times',
				runs: missed,
				channels: ['knockMonitor', 'knockRetard', 'spark', 'rpm', 'map']
			})
		);
	},
	words: ({ facts: { times } }: Told<MissedFacts>) => ({
		title: 'Knock that the controller does not see',
		summary: `The independent monitor hears knock ${plural(times, 'time')} under load, and the controller pulls nothing.`,
		causes: [
			'a knock sensor that is off, loose or desensitised',
			'knock in a cylinder that its sensor does not hear',
			'noise that only the monitor picks up'
		],
		next: ['no more load: treat it as knock', 'look at sensor, torque of its bolt, wiring and sensitivity']
	})
});

/** How often the controller pulled timing under load, and the share of that in which the monitor was active. */
type MonitorFacts = { times: number; sharePct: number };

export const knockMonitor = check({
	code: 'knock.monitor',
	title: 'Independent monitor',
	section: 'knock',
	units: { times: 'times', sharePct: '%' },
	run(input) {
		const { frame, profile, knock } = input;
		const monitor = frame.get('knockMonitor');
		if (!monitor) return notChecked('no independent knock monitor is logged', 'knockMonitor');
		if (knock === null) return notChecked('no retard of the controller is logged', 'knockRetard');
		const loaded = knock.filter((e) => e.loaded && e.peakDeg >= profile.knockWatchDeg);
		if (loaded.length === 0) return pass('The controller pulls nothing that the monitor could confirm.');
		const share = monitorShare(loaded, monitor, frame, profile.monitorLevel);
		if (100 * share >= profile.monitorAgreesPct)
			return pass(
				`The monitor agrees with the controller in ${fixed(100 * share, 0)} % of the retard: it is taken as real.`
			);
		return found(
			finding(input, {
				severity: 'note',
				facts: { times: loaded.length, sharePct: 100 * share },
				value: 100 * share,
				limit: profile.monitorAgreesPct,
				unit: '%',
				runs: loaded.map((e) => ({ from: e.from, to: e.to })),
				channels: ['knockMonitor', 'knockRetard', 'rpm', 'map']
			})
		);
	},
	words: ({ facts: { times, sharePct } }: Told<MonitorFacts>) => ({
		title: 'The independent monitor hears no knock',
		summary: `The controller pulled timing ${plural(times, 'time')} under load; the monitor was active in ${fixed(sharePct, 0)} % of that. It supports false knock; the proof is still to be made.`,
		causes: ['noise that the controller takes for knock', 'a monitor that does not hear this cylinder'],
		next: ['repeat the same pull with less timing, then with more octane']
	})
});

/** Absent where it is switched off. */
type DisabledFacts = { sensitivityPct?: number };

export const knockDisabled = check({
	code: 'knock.disabled',
	title: 'Knock control',
	section: 'knock',
	units: { sensitivityPct: '%' },
	run(input) {
		const { calibration, profile, frame, segments } = input;
		const retard = frame.get('knockRetard');
		let zero = retard !== null && segments.loaded.length > 0;
		if (retard)
			for (let i = 0; i < retard.length && zero; i++)
				if (retard[i]! !== 0 && retard[i] === retard[i]) zero = false;
		const silent = zero
			? ' The logged retard is exactly zero all through the log, though the engine was loaded.'
			: '';
		if (!calibration) return notChecked(`no calibration is stated for this log.${silent}`, 'calibration');
		const enabled = findItem(calibration, 'knock.enabled');
		const sensitivity = findItem(calibration, 'knock.sensitivity');
		if (!enabled && !sensitivity)
			return notChecked(`the calibration says nothing of the knock control.${silent}`, 'knock.enabled');
		const off = (enabled?.kind === 'setting' || enabled?.kind === 'scalar') && !isOn(enabled.value);
		const level =
			sensitivity?.kind === 'scalar'
				? sensitivity.value
				: sensitivity?.kind === 'setting'
					? Number(sensitivity.value)
					: Number.NaN;
		const deaf = level < profile.sensitivityPct;
		if (!off && !deaf)
			return pass(`Knock control is on${Number.isFinite(level) ? `, sensitivity ${level} %` : ''}.${silent}`);
		return found(
			finding(input, {
				severity: 'stop',
				facts: off ? {} : { sensitivityPct: level },
				...(off ? {} : { value: level, limit: profile.sensitivityPct, unit: '%' }),
				channels: ['knockRetard']
			})
		);
	},
	words: ({ facts: { sensitivityPct } }: Told<DisabledFacts>) => ({
		title:
			sensitivityPct === undefined
				? 'Knock control is switched off'
				: `Knock sensitivity at ${sensitivityPct} %`,
		summary:
			sensitivityPct === undefined
				? 'The calibration has the knock control switched off: nothing protects the engine, and a clean log proves nothing.'
				: `The calibration has the knock sensors at ${sensitivityPct} % of their sensitivity: a clean log proves nothing.`,
		causes: ['somebody silenced a noise instead of finding it'],
		next: [
			'switch it on again, as sensitive as built, before anything is judged',
			'if it then shows retard: the proof'
		]
	})
});

/** `lambda`: of the mixture, where it is richer than anybody needs. */
type TimingFacts = { sparkDeg: number; lambda?: number };

export const knockTiming = check({
	code: 'knock.timing',
	title: 'Timing at full load',
	section: 'knock',
	units: { sparkDeg: '°', lambda: 'λ' },
	run(input) {
		const { frame, segments, profile, vehicle, believed } = input;
		if (vehicle.engine.aspiration === 'na') return pass('The engine has no boost.');
		if ((vehicle.fuel?.ethanolPct ?? 0) >= 50 || fuelStoich(vehicle) < 12)
			return pass('The fuel is not petrol.');
		// Base timing says what somebody dared; the final one is less by knock, protection and the way of the gearbox.
		const { calibration } = input;
		const spark =
			frame.get('sparkBase') ??
			(calibration && timingAlong(frame, calibration, segments.baroKpa)) ??
			frame.get('spark');
		if (!spark) return notChecked('timing is not logged', 'spark');
		const full = (i: number) =>
			(segments.flags[i]! & (FLAG.pull | FLAG.boosted | FLAG.limited)) === (FLAG.pull | FLAG.boosted);
		const level = medianWhere(spark, full, 5);
		if (!Number.isFinite(level))
			return notChecked('there is no boosted pull in this log', 'a full-throttle pull');
		if (level >= profile.timidSparkDeg) return pass(`Median timing at full load ${fixed(level, 1)}°.`);
		const lambda = believed.banks[0] ? medianWhere(believed.banks[0], full, 5) : Number.NaN;
		const rich = lambda < profile.timidLambda;
		return found(
			finding(input, {
				severity: rich ? 'watch' : 'note',
				facts: { sparkDeg: level, ...(rich ? { lambda } : {}) },
				value: level,
				limit: profile.timidSparkDeg,
				unit: '°',
				runs: segments.pulls.map((p) => ({ from: p.from, to: p.to })),
				channels: ['sparkBase', 'spark', 'lambda.b1', 'map', 'rpm']
			})
		);
	},
	words: ({ facts: { sparkDeg, lambda } }: Told<TimingFacts>) => ({
		title: `Only ${fixed(sparkDeg, 1)}° of timing at full load`,
		summary: `Median timing at full load is ${fixed(sparkDeg, 1)}°${lambda === undefined ? '' : `, with a mixture of ${marked(lambda, 'λ', 2)}`}: somebody was afraid. Find out why.`,
		causes: [
			'false knock that was answered with less timing',
			'low octane once',
			'a base timing that was never verified'
		],
		next: ['verify base timing', 'prove or disprove the knock before timing goes back in']
	})
});
