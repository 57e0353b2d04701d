/** A pasted table on its way in: what it is taken for, what a person says wins, and one file after the other. */
import { expect, it } from 'vitest';
import { tableLayoutSchema } from '$core/calibration/tables/layout';
import { Paste } from './paste.svelte';

const MAP = '\t1000\t2000\t3000\n40\t50\t52\t54\n80\t60\t62\t64\n120\t70\t72\t74\n';
const layout = tableLayoutSchema.parse({
	item: 'fuel.table',
	unit: '%',
	decimals: 1,
	x: { channel: 'rpm', unit: 'rpm' },
	y: { channel: 'map', unit: 'kPa' },
	said: true
});
const paste = (tables = [layout], there: string[] = []) =>
	new Paste(() => ({ tables, scalars: [], there: new Set(there) }));

it('the layout answers for the table that it waits for', () => {
	const p = paste();
	expect(p.expected?.item).toBe('fuel.table');
	p.text = MAP;
	expect(p.ready).toBe(true);
	expect(p.entry).toMatchObject({
		item: 'fuel.table',
		unit: '%',
		x: { channel: 'rpm' },
		y: { channel: 'map', unit: 'kPa' }
	});
});
it('what a person says wins over layout and guess', () => {
	const p = paste();
	p.text = MAP;
	p.said['item'] = 'spark.table';
	p.said['unit'] = '°';
	expect(p.entry).toMatchObject({ item: 'spark.table', unit: '°' });
});
it('a body alone needs its axes first', () => {
	const p = paste();
	p.text = '50.1\t52.9\t51.3\n60.2\t50.7\t64.5\n';
	p.said['item'] = 'own';
	p.said['own'] = 'second map';
	expect(p.needsAxes).toBe(true);
	expect(p.ready).toBe(false);
	p.xText = '1000\t2000\t3000';
	p.yText = '40\n80';
	expect(p.ready).toBe(true);
	expect(p.entry).toMatchObject({ item: 'second map', axes: 'without' });
});
it('one that is skipped isn’t waited for, and nothing is when all are there', () => {
	const p = paste();
	p.skip('fuel.table');
	expect(p.next).toBeNull();
	expect(paste([layout], ['fuel.table']).next).toBeNull();
});
it('files come one after the other, each known by its name', async () => {
	const p = paste();
	p.waiting = [new File([MAP], 'spark.table.csv'), new File(['rpm limit\t7000\trpm\n'], 'numbers.txt')];
	await p.nextFile();
	expect(p.item).toBe('spark.table');
	expect(p.text).toBe(MAP);
	await p.again();
	expect(p.fileName).toBe('numbers.txt');
	expect(p.mapping).toEqual([{ name: 'rpm limit', item: 'rpm limit', unit: 'rpm' }]);
	await p.again();
	expect(p.text).toBe('');
});
