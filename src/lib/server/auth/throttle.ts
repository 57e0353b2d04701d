/** How often something may be tried. In memory: one process serves, and a restart takes longer than the windows matter. */
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';

const MINUTE_S = 60;

/** Sign-in attempts that failed, per address and machine, and per machine. */
const failedPair = new RateLimiterMemory({ keyPrefix: 'pair', points: 5, duration: 15 * MINUTE_S });
const failedMachine = new RateLimiterMemory({ keyPrefix: 'machine', points: 40, duration: 15 * MINUTE_S });
/** Requests without a session: customers' pages, signing in, invitations. */
const open = new RateLimiterMemory({ keyPrefix: 'open', points: 600, duration: MINUTE_S });
/** Links that open nothing: somebody is guessing. */
const wrongLink = new RateLimiterMemory({ keyPrefix: 'link', points: 60, duration: 10 * MINUTE_S });
/** Links for a new password that a machine asks for. */
const resets = new RateLimiterMemory({ keyPrefix: 'reset', points: 5, duration: 15 * MINUTE_S });
/** Files that a customer may send. */
const uploads = new RateLimiterMemory({ keyPrefix: 'upload', points: 60, duration: 60 * MINUTE_S });

/** Seconds to wait; 0 when it may go on. */
async function take(limiter: RateLimiterMemory, key: string): Promise<number> {
	try {
		await limiter.consume(key);
		return 0;
	} catch (e) {
		if (e instanceof RateLimiterRes) return Math.ceil(e.msBeforeNext / 1000);
		throw e;
	}
}

async function left(limiter: RateLimiterMemory, key: string): Promise<number> {
	const state = await limiter.get(key);
	return state && state.remainingPoints <= 0 ? Math.ceil(state.msBeforeNext / 1000) : 0;
}

/** Counts a try of this machine for this address: seconds to wait before it may be made; 0 when it may be made now. */
export async function signInTry(machine: string, email: string): Promise<number> {
	return (await take(failedPair, `${machine} ${email}`)) || (await take(failedMachine, machine));
}

/** The try was a right one: this address begins anew, and it counts for nothing. */
export async function signInWorked(machine: string, email: string): Promise<void> {
	await failedPair.delete(`${machine} ${email}`);
	await failedMachine.reward(machine);
}

export const resetTry = (machine: string): Promise<number> => take(resets, machine);
export const openRequestWait = (machine: string): Promise<number> => take(open, machine);
export const uploadWait = (jobId: number): Promise<number> => take(uploads, String(jobId));
export const wrongLinkWait = (machine: string): Promise<number> => left(wrongLink, machine);
export const countWrongLink = async (machine: string): Promise<void> => void (await take(wrongLink, machine));
