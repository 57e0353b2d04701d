/** What is known of each item holds for its blend members too, and for strangers of a known family by their name. */
import { describe, expect, it } from 'vitest';
import { classify } from './risk.ts';
import { actsOn, baseOf, cautionOf, guardOf, itemKind, ITEMS, titleOf } from './items.ts';

describe('known items', () => {
	it('each stands once and says what it is', () => {
		expect(new Set(ITEMS.map((i) => i.id)).size).toBe(ITEMS.length);
		for (const i of ITEMS) expect(i.about, i.id).toMatch(/^[A-Z].{25,}\.$/);
	});
	it.each(ITEMS.map((i) => i.id))('a member of a blend of %s is that item', (id) => {
		const member = `${id}@105`;
		expect(baseOf(member)).toBe(id);
		expect(itemKind(member)).toBe(itemKind(id));
		expect(classify(member, [1])).toEqual(classify(id, [1]));
		expect(classify(member, [-1])).toEqual(classify(id, [-1]));
		expect(guardOf(member)?.why).toBe(guardOf(id)?.why);
		for (const other of ITEMS)
			expect(guardOf(member)?.affects(`${other.id}@2`), other.id).toBe(guardOf(id)?.affects(other.id));
		expect(cautionOf(member)).toBe(cautionOf(id));
	});
	it('no other id is taken for one of them', () => {
		for (const id of ['fuel.tables', 'xfuel.table', 'fuel', 'FUEL.TABLE', ''])
			expect(itemKind(id)).toBeNull();
	});
	it('another scaling makes what is read by it incomparable, and nothing else', () => {
		const affected = (id: string) => ITEMS.filter((i) => guardOf(id)!.affects(i.id)).map((i) => i.id);
		expect(affected('sensor.map')).toEqual([
			'fuel.table',
			'lambda.target',
			'spark.table',
			'boost.target',
			'limit.boost'
		]);
		expect(affected('trigger.offset')).toEqual(
			ITEMS.filter((i) => i.id.startsWith('spark.')).map((i) => i.id)
		);
		expect(affected('injector.flow')).toEqual(
			ITEMS.filter((i) => i.id.startsWith('fuel.') || i.id === 'maf.curve').map((i) => i.id)
		);
	});
	it('a difference of nothing is never riskier', () => {
		for (const { id } of ITEMS)
			expect(classify(id, [0, 0], { from: 1, to: 1 }).class, id).not.toBe('riskier');
	});
});

it('an item is called by its own title, else by the known one', () => {
	expect(titleOf({ id: 'fuel.table@105', title: 'VE low cam' })).toBe('VE low cam');
	expect(titleOf({ id: 'fuel.table@105' })).toBe('Fuel table (105)');
	expect(titleOf({ id: 'limit.rpm' })).toBe('Rev limit');
	expect(titleOf({ id: 'x.own' })).toBe('x.own');
});

describe('items that nobody knows', () => {
	it('go by how they are called', () => {
		expect(actsOn('fuel.coldStart', 'fuel')).toBe(true);
		expect(actsOn('spark.coldStart', 'fuel')).toBe(false);
		expect(guardOf('sensor.egt')!.affects('fuel.table@2')).toBe(true);
		expect(guardOf('engine.displacement')!.why).toContain('displacement');
		expect(cautionOf('trigger.edge')!.text).toContain('trigger');
		expect(guardOf('somebody.else')).toBeNull();
		expect(classify('fuel.coldStart', [1]).class).toBe('unknown');
	});
});
