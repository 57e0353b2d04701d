/** The highest injector duty that a goal is planned with, percent. */
import type { Goal } from './goal.ts';

export const DUTY_MAX_PCT = 80;
export const dutyMaxOf = (g: Goal): number => g.dutyMaxPct ?? DUTY_MAX_PCT;
