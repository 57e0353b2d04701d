/**
 * Drive plans that a workshop keeps: steps by their kind, and the words that somebody changed. What a vehicle decides (gears, engine
 * speeds, channels) isn't kept: it is filled in anew for each.
 */
import { z } from 'zod';
import { InputError } from '../input-error.ts';
import { MANOEUVRES, requestedChannels, type LogRequest, type Manoeuvre } from '../request.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { ALWAYS, planOf, usualStep, type PlanOptions } from './templates.ts';

const stepSchema = z.object({
	kind: z.enum(MANOEUVRES),
	count: z.number().int().positive().max(20).optional(),
	minDurationS: z.number().positive().max(7200).optional(),
	/** In how many of the advised gears full throttle is asked for; in all when missing. */
	inGears: z.number().int().positive().max(12).optional(),
	how: z.string().max(600).optional(),
	/** Words before and after those that the vehicle fills in. */
	before: z.string().max(600).optional(),
	after: z.string().max(600).optional(),
	doneWhen: z.string().max(300).optional()
});

export const ownPlanSchema = z.object({
	name: z.string().trim().min(2, 'give the plan a name').max(80, 'a name has at most 80 characters'),
	purpose: z.string().max(1000),
	steps: z.array(stepSchema).min(1, 'a drive plan needs something to drive').max(40),
	/** Asked for beside what the checks of a vehicle want. */
	channels: z.array(z.string().max(60)).max(120),
	preparations: z.array(z.string().max(600)).max(40),
	aborts: z.array(z.string().max(600)).max(40),
	cautions: z.array(z.string().max(600)).max(40),
	fuelLevelMaxPct: z.number().min(0).max(100).optional()
});
export type OwnPlan = z.infer<typeof ownPlanSchema>;

/** An engine speed in words: it would be another vehicle's. */
const ENGINE_SPEED = /\d{4}|\d[ ,.]\d{3}/;

function stepFrom(m: Manoeuvre, n: number, vehicle: Vehicle, options: PlanOptions): OwnPlan['steps'][number] {
	const inGears = m.gears?.length ?? (m.gear ? 1 : undefined);
	const usual = usualStep(m.kind, vehicle, options, inGears);
	const all = usualStep(m.kind, vehicle, options);
	const changed = (key: 'how' | 'doneWhen') => m[key] !== undefined && m[key] !== usual[key];
	const [before, after, more] = (m.how ?? '').split(usual.how!);
	const around = after !== undefined && more === undefined ? [before!, after] : null;
	if (m.kind === 'pull' && !around)
		throw new InputError(
			`in step ${n} gears and engine speeds are filled in for each vehicle: leave those words as they were, and write yours before or after them`
		);
	if (m.kind === 'pull' && m.rpm && usual.rpm && m.rpm[1] < usual.rpm[1])
		throw new InputError(
			`step ${n} ends at ${m.rpm[1]} rpm, before full throttle usually does on this vehicle: such a limit is this vehicle's own; take the step out and add the usual one`
		);
	if (changed('how') && ENGINE_SPEED.test(around ? around.join(' ') : m.how!))
		throw new InputError(
			`the words of step ${n} name an engine speed, which is another one on the next vehicle: leave it out`
		);
	return {
		kind: m.kind,
		...(m.count !== undefined && m.count !== usual.count ? { count: m.count } : {}),
		...(m.minDurationS !== undefined && m.minDurationS !== usual.minDurationS
			? { minDurationS: m.minDurationS }
			: {}),
		...(inGears !== undefined && inGears !== all.gears?.length ? { inGears } : {}),
		...(changed('how') && !around ? { how: m.how } : {}),
		...(around?.[0] ? { before: around[0] } : {}),
		...(around?.[1] ? { after: around[1] } : {}),
		...(changed('doneWhen') ? { doneWhen: m.doneWhen } : {})
	};
}

/**
 * What of a plan is kept for other vehicles.
 * @throws InputError where it holds what is only right for this vehicle: an engine speed in changed words, a pull that ends early, a
 * pressure that is not to be passed. Left out in silence it would be missing on the next one.
 */
export function ownPlanFrom(name: string, plan: LogRequest, vehicle: Vehicle, options: PlanOptions): OwnPlan {
	const { mapMaxKpa, fuelLevelMaxPct } = plan.conditions ?? {};
	if (mapMaxKpa !== undefined)
		throw new InputError(
			`the plan holds a manifold pressure that is not to be passed (${mapMaxKpa} kPa), which is this vehicle's own: it can't be kept for others`
		);
	const usual = planOf('', { purpose: '', manoeuvres: [] }, vehicle, options);
	const anyway = new Set(requestedChannels(usual));
	return {
		name,
		purpose: plan.purpose ?? '',
		steps: (plan.manoeuvres ?? []).map((m, i) => stepFrom(m, i + 1, vehicle, options)),
		channels: requestedChannels(plan).filter((id) => !anyway.has(id)),
		preparations: plan.preparations ?? [],
		aborts: (plan.aborts ?? []).filter((a) => !usual.aborts!.includes(a)),
		cautions: (plan.cautions ?? []).filter((c) => !ALWAYS.includes(c)),
		...(fuelLevelMaxPct === undefined ? {} : { fuelLevelMaxPct })
	};
}

/** A kept plan for this vehicle. */
export function planFromOwn(own: OwnPlan, vehicle: Vehicle, options: PlanOptions): LogRequest {
	const standing = own.steps.every((s) => ['start', 'idle', 'symptom'].includes(s.kind));
	const plan = planOf(
		own.name,
		{
			purpose: own.purpose,
			manoeuvres: own.steps.map(({ inGears, before = '', after = '', ...step }) => {
				const usual = usualStep(step.kind, vehicle, options, inGears);
				return { ...usual, how: `${before}${usual.how!}${after}`, ...step };
			}),
			...(own.preparations.length ? { preparations: own.preparations } : {}),
			cautions: own.cautions,
			...(own.fuelLevelMaxPct === undefined ? {} : { conditions: { fuelLevelMaxPct: own.fuelLevelMaxPct } }),
			standing
		},
		vehicle,
		options
	);
	return withChannels({ ...plan, aborts: union(plan.aborts, own.aborts) }, own.channels);
}

/** The plan with more channels to record. @param why said beside each of them */
export function withChannels(plan: LogRequest, ids: readonly string[], why = ''): LogRequest {
	const have = requestedChannels(plan);
	const more = ids.filter((id) => !have.includes(id)).map((id) => ({ id, ...(why ? { why } : {}) }));
	return more.length ? { ...plan, channels: [...(plan.channels ?? []), ...more] } : plan;
}

const union = (a: readonly string[] = [], b: readonly string[] = []) => [...new Set([...a, ...b])];
const LEAST = ['intakeOverAmbientMaxC', 'fuelLevelMaxPct', 'speedCapKmh', 'mapMaxKpa'] as const;

/** Two plans as one drive: the steps of the first, then those of the second that aren't there yet; of two conditions the stricter one. */
export function joinedPlans(first: LogRequest, second: LogRequest): LogRequest {
	const steps = first.manoeuvres ?? [];
	const others = second.manoeuvres ?? [];
	const same = (a: Manoeuvre, b: Manoeuvre) => a.kind === b.kind && a.how === b.how;
	const have = requestedChannels(first);
	const conditions: NonNullable<LogRequest['conditions']> = { ...second.conditions, ...first.conditions };
	for (const key of LEAST) {
		const both = [first.conditions?.[key], second.conditions?.[key]].filter((v) => v !== undefined);
		if (both.length) conditions[key] = Math.min(...both);
	}
	const warm = [first.conditions?.coolantMinC, second.conditions?.coolantMinC].filter((v) => v !== undefined);
	if (warm.length) conditions.coolantMinC = Math.max(...warm);
	const [title, other] = [first.title ?? '', second.title ?? ''];
	return {
		...first,
		title: title && other && !title.includes(other) ? `${title}, ${other}` : title || other,
		purpose: union([first.purpose ?? ''], [second.purpose ?? ''])
			.filter(Boolean)
			.join(' '),
		manoeuvres: [
			// Asked for in both: as often as the one that wants more.
			...steps.map((a) =>
				others
					.filter((b) => same(a, b))
					.reduce((most, b) => ((b.count ?? 1) > (most.count ?? 1) ? b : most), a)
			),
			...others.filter((b) => !steps.some((a) => same(a, b)))
		],
		channels: [
			...(first.channels ?? []),
			...(second.channels ?? []).filter((c) => !have.includes(typeof c === 'string' ? c : c.id))
		],
		conditions,
		preparations: union(first.preparations, second.preparations),
		aborts: union(first.aborts, second.aborts),
		cautions: union(first.cautions, second.cautions)
	};
}
