/** Runs in a worker thread: reads, screens and stores logs; proposes revisions from stored ones. Thin: the core computes. */
export { processLog, screenAgain } from './process-log.ts';
export { propose, requirement, fields, replay } from './revising.ts';
export {
	summary,
	measureBaselines,
	measureProof,
	judgeSwap,
	planFuel,
	ladder,
	judgePlugs
} from './answers.ts';
export { exportLog } from './export-log.ts';
