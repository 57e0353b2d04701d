/** Texts as programs put them on the clipboard, and texts that are no table. */
import { describe, expect, it } from 'vitest';
import { readPasted, type PastedTable } from './block.ts';
import { guessOf, looksTransposed } from './guess.ts';

const table = (text: string, axes = {}): PastedTable => {
	const p = readPasted(text, axes);
	if (!('table' in p)) throw new Error('single values were found');
	return p.table;
};
const SAME = {
	x: [1000, 2000, 3000],
	y: [20, 60, 100],
	values: [
		[30, 31, 32],
		[50, 52, 54],
		[80, 83, 85]
	]
};

describe('a table', () => {
	it.each<[string, string]>([
		[
			'with tabs and an empty corner',
			'\t1000\t2000\t3000\n20\t30\t31\t32\n60\t50\t52\t54\n100\t80\t83\t85\n'
		],
		[
			'with a name in the corner',
			'kPa/rpm\t1000\t2000\t3000\n20\t30\t31\t32\n60\t50\t52\t54\n100\t80\t83\t85'
		],
		['without a corner', '1000\t2000\t3000\n20\t30\t31\t32\n60\t50\t52\t54\n100\t80\t83\t85'],
		['with a number in the corner', '0\t1000\t2000\t3000\n20\t30\t31\t32\n60\t50\t52\t54\n100\t80\t83\t85'],
		['as CSV', ',1000,2000,3000\n20,30,31,32\n60,50,52,54\n100,80,83,85\n'],
		['with semicolons and decimal commas', ';1000;2000;3000\n20;30,0;31,0;32,0\n60;50;52;54\n100;80;83;85'],
		['with blanks', '       1000 2000 3000\n 20    30   31   32\n 60    50   52   54\n100    80   83   85\n'],
		[
			'with titles, units and a name at the side',
			'Fuel table [%]\nEngine speed, rpm\n\n\t\t1000\t2000\t3000\nMAP\t20\t30\t31\t32\nkPa\t60\t50\t52\t54\n\t100\t80\t83\t85\n\nend'
		],
		['with the highest row first', '\t1000\t2000\t3000\n100\t80\t83\t85\n60\t50\t52\t54\n20\t30\t31\t32\n'],
		['with falling columns', '\t3000\t2000\t1000\n20\t32\t31\t30\n60\t54\t52\t50\n100\t85\t83\t80\n'],
		[
			'with tabs at the end of every line',
			'\t1000\t2000\t3000\t\n20\t30\t31\t32\t\n60\t50\t52\t54\t\n100\t80\t83\t85\t\n'
		],
		[
			'with quotes and a mark of its encoding',
			'\ufeff"","1000","2000","3000"\r\n"20","30","31","32"\r\n"60","50","52","54"\r\n"100","80","83","85"\r\n'
		],
		['with grouped thousands', '\t1,000\t2,000\t3,000\n20\t30.0\t31\t32\n60\t50\t52\t54\n100\t80\t83\t85\n']
	])('%s', (_, text) => {
		expect(table(text)).toMatchObject(SAME);
	});
	it('says that it was turned round', () => {
		const t = table('\t1000\t2000\t3000\n100\t80\t83\t85\n60\t50\t52\t54\n20\t30\t31\t32\n');
		expect(t.orientation).toEqual({ rows: 'y-up', columnsFall: false, transposed: false });
		expect(t.notes).toContain('the first row has the highest point: turned round');
	});
	it('keeps how many decimals each part has', () => {
		expect(table('\t1000\t2000\n0.25\t1.250\t1.3\n0.5\t1\t1.1').decimals).toEqual({ values: 3, x: 0, y: 2 });
	});
	it('reads negative numbers with any minus sign, and powers of ten', () => {
		expect(table('\t1\t2\n-5\t−3\t–4\n0\t1e1\t2\n').values).toEqual([
			[-3, -4],
			[10, 2]
		]);
	});
	it('is a body where no line stands apart', () => {
		const t = table('30\t31\t32\n50\t52\t54\n80\t83\t85\n');
		expect(t).toMatchObject({ x: null, y: null, values: SAME.values });
		// A body whose first row happens to rise is still a body.
		expect(table('80\t83\t85\n50\t52\t54\n30\t31\t32\n')).toMatchObject({ x: null, y: null });
	});
	it('takes its axes from pastes of their own, whichever way they run', () => {
		const body = '80\t83\t85\n50\t52\t54\n30\t31\t32\n';
		expect(table(body, { x: '1000\t2000\t3000', y: '100\n60\n20\n' })).toMatchObject(SAME);
		expect(
			table('30\t50\t80\n31\t52\t83\n32\t54\t85\n', { x: '1000\n2000\n3000', y: '20\t60\t100' }).values
		).toEqual([
			[30, 50, 80],
			[31, 52, 83],
			[32, 54, 85]
		]);
		expect(table('30\t50\n31\t52\n32\t54\n', { x: '1000\n2000\n3000', y: '20\t60' })).toMatchObject({
			values: [
				[30, 31, 32],
				[50, 52, 54]
			],
			orientation: { transposed: true }
		});
	});
	it('may have points of x alone', () => {
		expect(table('1000\t2000\t3000\t4000\n30\t31\t32\t33\n50\t52\t54\t55\n60\t61\t62\t63\n')).toMatchObject({
			x: [1000, 2000, 3000, 4000],
			y: null
		});
	});
});

describe('a curve', () => {
	it.each<[string, string]>([
		['across', '8\t10\t12\t14\n2.6\t1.8\t1.2\t0.9\n'],
		['across with names', 'Battery V\t8\t10\t12\t14\nDead time ms\t2.6\t1.8\t1.2\t0.9\n'],
		['downwards', '8\t2.6\n10\t1.8\n12\t1.2\n14\t0.9\n'],
		['downwards with a head', 'V;ms\n8;2,6\n10;1,8\n12;1,2\n14;0,9\n'],
		['from the top', '14\t0.9\n12\t1.2\n10\t1.8\n8\t2.6\n']
	])('%s', (_, text) => {
		expect(table(text)).toMatchObject({ x: [8, 10, 12, 14], y: null, values: [[2.6, 1.8, 1.2, 0.9]] });
	});
});

describe('lines of values', () => {
	it('are names with a value and perhaps a unit', () => {
		expect(readPasted('Rev limit\t7000\trpm\nInjector flow\t650\tcc/min\nTrim\t-1,5\n')).toEqual({
			scalars: [
				{ name: 'Rev limit', value: 7000, unit: 'rpm' },
				{ name: 'Injector flow', value: 650, unit: 'cc/min' },
				{ name: 'Trim', value: -1.5, unit: '' }
			]
		});
	});
	it('say which line has no number', () => {
		expect(() => readPasted('Rev limit\t7000\trpm\nIdle\tfast\n')).toThrow(
			'row 2, column 2: "fast" is not a number'
		);
	});
});

describe('what is no table', () => {
	it.each<[string, string, string]>([
		['nothing', ' \n\t\n', 'there is nothing in it'],
		['words', 'Dear tuner,\nplease find my table attached', 'there is no number in it'],
		[
			'a ragged row',
			'\t1000\t2000\n20\t30\t31\n60\t50\n',
			'row 3, column 3: there is no value here: this row has 2 cells'
		],
		['a hole', '\t1000\t2000\n20\t\t31\n60\t50\t51\n', 'row 2, column 2: there is no value here'],
		[
			'two tables, a line between',
			'\t1000\t2000\n20\t30\t31\n60\t50\t51\n\n\t1000\t2000\n20\t1\t2\n60\t3\t4\n',
			'row 4: an empty row divides it: these are two tables'
		],
		[
			'two tables, a title between',
			'\t1000\t2000\n20\t30\t31\n60\t50\t51\nTiming\t\t\n\t1000\t2000\n20\t1\t2\n60\t3\t4\n',
			'row 4, column 1: "Timing" stands between the rows'
		],
		[
			'two tables side by side',
			'20\t30\t31\t\t1\t2\n60\t50\t51\t\t3\t4\n',
			'column 4: an empty column divides it'
		],
		['a formula', '\t1000\t2000\n20\t30\t=A1+1\n60\t50\t51\n', 'row 2, column 3: "=A1+1" is a formula'],
		[
			'a unit in a cell',
			'\t1000\t2000\n20\t30 %\t31\n60\t50\t51\n',
			'row 2, column 2: "30 %" has a unit in the cell'
		],
		[
			'an error of a spreadsheet',
			'\t1000\t2000\n20\t30\t#N/A\n60\t50\t51\n',
			'row 2, column 3: "#N/A" is not a number'
		],
		[
			'an axis that goes back',
			'\t1000\t2000\t1500\n20\t30\t31\t32\n60\t50\t51\t52\n',
			'row 1, column 4: the points of the axis neither rise nor fall: 1500 comes after 2000'
		],
		['ten megabytes', '1\t2\n'.repeat(2_700_000), 'a table has 2 MB at most'],
		['a picture', '\u0089PNG\0\0', 'this is no text']
	])('%s says row and column', (_, text, why) => {
		expect(() => readPasted(text)).toThrow(why);
	});
	it('axes that don’t fit a body say how', () => {
		expect(() => readPasted('1\t2\n3\t4\n', { x: '1000\t2000\t3000' })).toThrow(
			'the body has 2 rows of 2, the axes 3 points of x'
		);
		expect(() => readPasted('\t1000\t2000\n20\t30\t31\n', { x: '1\t2' })).toThrow('its axes in it already');
		expect(() => readPasted('1\t2\n3\t4\n', { x: '1\t2\n3\t4\n' })).toThrow(
			'the x axis is one row or one column'
		);
	});
});

describe('what it may be', () => {
	const guess = (text: string) => guessOf(table(text));
	it.each<[string, string, string, string, string, string]>([
		['filling of the cylinder', SAME_TEXT('30 50 80'), 'fuel.table', '%', 'rpm', 'map'],
		['timing', SAME_TEXT('38 30 12'), 'spark.table', '°', 'rpm', 'map'],
		['lambda', SAME_TEXT('1 0.95 0.82'), 'lambda.target', 'λ', 'rpm', 'map'],
		['air-fuel ratio', SAME_TEXT('14.7 13.8 12'), 'lambda.target', 'AFR', 'rpm', 'map']
	])('%s', (_, text, item, unit, x, y) => {
		const g = guess(text);
		expect(g.items[0]).toMatchObject({ item, unit });
		expect([g.x[0]!.channel, g.y[0]!.channel]).toEqual([x, y]);
		expect(g.items[0]!.why).toContain('over engine speed and manifold pressure');
	});
	it('a gauge axis by its negative points, the air outside being 0', () => {
		const g = guess('\t1000\t3000\t6000\n-10\t30\t32\t33\n0\t60\t62\t63\n20\t90\t92\t91\n');
		expect(g.y[0]).toMatchObject({ channel: 'boost', unit: 'psi' });
		expect(g.y[0]!.why).toContain('the air outside being 0');
	});
	it('curves by what they are read by', () => {
		expect(guess('8\t10\t12\t14\t16\n2.6\t1.8\t1.2\t0.9\t0.7\n').items[0]).toMatchObject({
			item: 'injector.deadTime'
		});
		const hz = Array.from({ length: 12 }, (_, i) => 1000 + i * 800);
		expect(
			guess(`${hz.join('\t')}\n${hz.map((h) => Math.round(h * h * 4e-6)).join('\t')}\n`).items[0]
		).toMatchObject({
			item: 'maf.curve',
			unit: 'g/s'
		});
	});
	it('the words beside it decide where the numbers fit several', () => {
		const text = (title: string) => `${title}\n${SAME_TEXT('20 22 25')}`;
		expect(guess(text('Ignition advance')).items[0]!.item).toBe('spark.table');
		expect(guess(text('VE table')).items[0]!.item).toBe('fuel.table');
	});
	it('a table whose rows are engine speeds runs the other way', () => {
		expect(
			looksTransposed(table('\t20\t60\t100\n1000\t30\t50\t80\n2000\t31\t52\t83\n3000\t32\t54\t85\n'))
		).toBe(true);
		expect(looksTransposed(table(SAME_TEXT('30 50 80')))).toBe(false);
	});
});

/** A table of three rows of load with these values, a little more with engine speed. */
function SAME_TEXT(values: string): string {
	const rows = values.split(' ').map(Number);
	return [
		'\t1000\t3500\t6500',
		...[20, 60, 100].map((y, r) => [y, rows[r]!, rows[r]! * 1.01, rows[r]! * 1.02].join('\t'))
	].join('\n');
}
