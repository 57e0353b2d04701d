/** What the customer is asked to do for a swap test, and to drive afterwards. */
import { planFrom, type PlanOptions } from '../planning/templates.ts';
import type { LogRequest } from '../request.ts';
import type { Vehicle } from '../vehicle/document.ts';
import type { Swap } from './document.ts';

/** The work, in the words of somebody who does it. */
export function workOf(swap: Swap): string {
	const what = swap.what ? ` (${swap.what})` : '';
	switch (swap.kind) {
		case 'injectors-side-to-side':
			return `Swap the injectors from one bank to the other, in their order, and write down which sat where${what}. Nothing else is changed.`;
		case 'lambda-side-to-side':
			return swap.labels === 'follow-sensor'
				? `Swap the two lambda sensors; each keeps its own cable${what}. Drive with the closed loop off, or idle only: no load.`
				: `Swap the two lambda sensors and plug each in where it sits now${what}. Nothing else is changed.`;
		case 'lambda-moved':
			return `Move the lambda sensor from bank ${swap.from === 'bank2' ? 2 : 1} to bank ${swap.from === 'bank2' ? 1 : 2}${what}. Without boost until your tuner has compared.`;
		case 'between-cylinders':
			return `Swap ${swap.what ?? 'what your tuner named'} between cylinders ${swap.cylinders!.join(' and ')}. Nothing else is changed.`;
		case 'repair':
			return `Mend ${swap.what ?? 'what your tuner named'}. Nothing else is changed.`;
	}
}

/** The plan that makes the log after comparable with the one before: the same drives, gently, on the same fuel. */
export function swapPlan(swap: Swap, vehicle: Vehicle, options: PlanOptions): LogRequest {
	const plan = planFrom('bank-swap', vehicle, options);
	return { ...plan, preparations: [workOf(swap), ...(plan.preparations ?? []).slice(1)] };
}
