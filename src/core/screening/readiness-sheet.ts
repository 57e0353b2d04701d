/** Readiness before an event on one page: each item, what was seen, the vehicle's own baseline, go or don't go. */
import type { Vehicle } from '../vehicle.ts';
import type { Report } from './report.ts';
import type { Profile } from './profile.ts';
import { SEVERITIES, type Severity } from './types.ts';

export interface ReadinessLine {
	code: string;
	item: string;
	/** What was seen, or why nothing was. */
	seen: string;
	/** What it is held against. */
	against: string;
	state: 'go' | 'look' | 'no-go' | 'not-checked';
}

interface Item {
	code: string;
	item: string;
	against: (v: Vehicle, p: Profile) => string;
}

const ITEMS: readonly Item[] = [
	{
		code: 'temp.coolant',
		item: 'Coolant',
		against: (v, p) => {
			const [low, high] = v.baselines?.coolantIdleC ?? [p.coolantIdleLowC, p.coolantIdleHighC];
			return `${low} to ${high} °C at warm idle`;
		}
	},
	{ code: 'temp.intake', item: 'Intake air', against: (_, p) => `under ${p.intakeWatchC} °C while loaded` },
	{ code: 'temp.oil', item: 'Oil temperature', against: (_, p) => `under ${p.oilFixC} °C` },
	{
		code: 'oil.pressure',
		item: 'Oil pressure',
		against: (_, p) => `${p.oilPressurePer1000} kPa per 1000 rpm under load`
	},
	{ code: 'temp.trans', item: 'Gearbox', against: (_, p) => `under ${p.transFixC} °C` },
	{
		code: 'volt.supply',
		item: 'Supply',
		against: (_, p) => `${p.voltLowWatch} to ${p.voltHighWatch} V while running`
	},
	{
		code: 'idle.vacuum',
		item: 'Idle vacuum',
		against: (v) =>
			v.baselines?.idleMapKpa === undefined
				? 'no baseline stated'
				: `${v.baselines.idleMapKpa} kPa, the vehicle's own`
	},
	{ code: 'trim.level', item: 'Fuel trims', against: (_, p) => `within ±${p.trimWatchPct} %` },
	{ code: 'controller.state', item: 'Controller', against: () => 'no sync errors, codes or interventions' },
	{
		code: 'supply.pressure',
		item: 'Fuel pressure',
		against: (_, p) => `at most ${p.pressureWatchPct} % short under load`
	},
	{
		code: 'fuel.lean',
		item: 'Mixture under load',
		against: (_, p) => `at most ${p.leanWatchPct} % lean of target`
	},
	{ code: 'bank.mismatch', item: 'Banks', against: (_, p) => `within ${p.bankWatchPct} % of each other` },
	{ code: 'misfire', item: 'Misfires', against: () => 'none under load' },
	{ code: 'knock.real', item: 'Knock', against: (_, p) => `under ${p.knockWatchDeg}° of retard` },
	{ code: 'inj.duty', item: 'Injector duty', against: (_, p) => `under ${p.dutyWatchPct} %` }
];

const STATE: Record<Severity, ReadinessLine['state']> = {
	stop: 'no-go',
	fix: 'no-go',
	watch: 'look',
	note: 'look'
};

export function readinessLines(report: Report, vehicle: Vehicle, profile: Profile): ReadinessLine[] {
	return ITEMS.map(({ code, item, against }) => {
		const line = report.checks.find((c) => c.code === code);
		const worst = report.findings
			.filter((f) => f.code === code)
			.sort((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity))[0];
		return {
			code,
			item,
			seen: worst?.summary ?? line?.reason ?? 'not in this log',
			against: against(vehicle, profile),
			state: worst ? STATE[worst.severity] : line?.outcome === 'pass' ? 'go' : 'not-checked'
		};
	});
}

/**
 * Don't go while anything in the log stands at stop or fix, whether the sheet has a line for it or not. Nobody goes on what wasn't
 * checked either, but that is for a person to say.
 */
export function goOrNot(report: Report, lines: readonly ReadinessLine[]): { go: boolean; why: string } {
	const serious = report.findings.filter((f) => f.severity === 'stop' || f.severity === 'fix');
	if (serious.length) return { go: false, why: `Don't go: ${serious.map((f) => f.title).join('; ')}.` };
	const unseen = lines.filter((l) => l.state === 'not-checked');
	return {
		go: true,
		why: unseen.length
			? `Go, as far as it was seen: ${unseen.map((l) => l.item.toLowerCase()).join(', ')} not checked.`
			: 'Go.'
	};
}
