/** The tasks of the worker threads by name: `pool.run('summary', input)`. A new one is its file and a line here. */
export { baselines } from './baselines.ts';
export { exportLog } from './export-log.ts';
export { fields } from './fields.ts';
export { fuelPlan } from './fuel-plan.ts';
export { join } from './join.ts';
export { ladder } from './ladder.ts';
export { plugs } from './plugs.ts';
export { practiceDrive, practiceEnd } from './practice.ts';
export { proof } from './proof.ts';
export { propose } from './propose.ts';
export { readLog, screenAgain } from './read-log.ts';
export { replay } from './replay.ts';
export { requirement } from './requirement.ts';
export { summary } from './summary.ts';
export { swap } from './swap.ts';
