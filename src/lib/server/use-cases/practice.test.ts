/** Practice by the server: the trainee's word first, the stand-in in no list of work, the truth at the end. */
import pino from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { find, findCustomers } from '$lib/server/jobs/customers.ts';
import {
	askForCure,
	askForLog,
	endPractice,
	judge,
	logToJudge,
	sessionById,
	sessionsOf,
	startPractice,
	unjudged
} from './practice.ts';
import { queue } from '$lib/server/jobs/queue.ts';
import { poolOf } from '$lib/server/testing/pool.ts';
import { openWorld, type World } from '$lib/server/testing/world.ts';
import { practiceDrive, practiceEnd, readLog } from '$lib/server/workers/tasks/index.ts';
import { settled, type Reader } from './screen.ts';

const TRAINEE = { id: 'a1', name: 'Sable Orrin' };
/** Two banks, one weak injector set: won by asking for the injectors. */
const BANKS = 2;
const SEED = 4;
let world: World;
let app: Reader;
beforeEach(async () => {
	world = await openWorld();
	const pool = poolOf({ readLog, practiceDrive, practiceEnd });
	app = { db: world.db, dataDir: world.folder, pool, logger: pino({ level: 'silent' }) };
});
afterEach(() => world.close());
const again = async (id: number) => (await sessionById(world.db, id))!;

describe('practice', () => {
	it('is in no list of real work', async () => {
		await startPractice(world.db, BANKS, SEED, TRAINEE);
		expect(await queue(world.db)).toMatchObject({ rows: [], mine: 0, theirs: 0 });
		expect(await findCustomers(world.db, '')).toEqual([]);
		expect(await find(world.db, 'stand-in')).toEqual([]);
		expect(await sessionsOf(world.db, TRAINEE.id)).toHaveLength(1);
		expect(await sessionsOf(world.db, 'somebody else')).toEqual([]);
	});

	it('refuses a level that there isn’t and a seed that is none', async () => {
		await expect(startPractice(world.db, 99, 1, TRAINEE)).rejects.toThrow('no such level');
		await expect(startPractice(world.db, 1, 1.5, TRAINEE)).rejects.toThrow('whole number');
	});

	it('is played to its end: a log, a word of one’s own, a cure, another log, the truth', async () => {
		const id = await startPractice(world.db, BANKS, SEED, TRAINEE);
		await askForLog(app, await again(id));
		await settled();
		const s = await again(id);
		// Two windows: what one has done, the other doesn't undo.
		const stale = { ...s, state: { ...s.state, rounds: [] } };
		await expect(askForCure(world.db, stale, 'injectors-flowed')).rejects.toThrow('gone on with elsewhere');
		// Nothing goes on before the trainee's word.
		await expect(askForLog(app, s)).rejects.toThrow('say first what you see');
		await expect(askForCure(world.db, s, 'injectors-flowed')).rejects.toThrow('say first what you see');
		const { screening } = (await logToJudge(world.db, s))!;
		expect(screening!.report.findings.map((f) => f.code)).toContain('bank.mismatch');
		const weak = (screening!.report.findings.find((f) => f.code === 'bank.mismatch')!.value ?? 0) > 0 ? 2 : 1;
		const grade = await judge(world.db, s, {
			verdict: 'stop',
			claims: [{ subject: 'bank', whom: weak }, { subject: 'knock' }]
		});
		expect(grade.lines.map((l) => [l.subject, l.mark])).toEqual([
			['bank', 'hit'],
			['knock', 'wrong']
		]);
		expect(unjudged(await again(id))).toBeNull();
		await askForCure(world.db, await again(id), 'injectors-flowed');
		await expect(askForCure(world.db, await again(id), 'injectors-flowed')).rejects.toThrow('done already');
		await askForLog(app, await again(id));
		await settled();
		const after = await judge(world.db, await again(id), { verdict: 'clear', claims: [] });
		expect(after).toMatchObject({ hits: 0, missed: 0, wrong: 0 });
		await endPractice(app, await again(id));
		const { state, endedAt } = await again(id);
		expect(endedAt).not.toBeNull();
		expect(state.end!.standing.left).toEqual([]);
		expect(state.end!.hand).toMatchObject({ won: true, cures: ['injectors-flowed'] });
		expect(state.rounds.map((r) => r.harm)).toEqual([[], []]);
		await expect(askForLog(app, await again(id))).rejects.toThrow('has ended');
	}, 300_000);

	it('says what was overlooked, and what it would have cost', async () => {
		const id = await startPractice(world.db, BANKS, SEED, TRAINEE);
		await askForLog(app, await again(id));
		await settled();
		const grade = await judge(world.db, await again(id), { verdict: 'clear', claims: [] });
		expect(grade).toMatchObject({ hits: 0, missed: 1, wrong: 0 });
		expect(grade.lines[0]!.words).toContain('burnt the leaner one down');
	}, 300_000);
});
