/** What is taken for a calibration, and what is refused. */
import { calibrationWith } from '../testing/hand-made.ts';
import { describe, expect, it } from 'vitest';
import { InputError } from '../input-error.ts';
import { parseJson } from '../parse.ts';

const map = (values: number[][], x = [1000, 2000], y = [50, 100]) => ({
	id: 'fuel.table',
	kind: 'map',
	unit: '%',
	x: { channel: 'rpm', points: x },
	y: { channel: 'map', points: y },
	values
});
const calibration = (items: object[], fuelModel = 'speed-density') => calibrationWith(items, { fuelModel });

describe('reading a calibration', () => {
	it.each([
		[
			[
				map(
					[
						[1, 2],
						[3, 4]
					],
					[2000, 1000]
				)
			],
			'items[0].x.points[1]: axis points have to rise: 1000 comes after 2000'
		],
		[[map([[1, 2]])], 'items[0].values: fuel.table has 1 rows for 2 y points'],
		[[map([[1, 2], [3]])], 'items[0].values[1]: row 1 of fuel.table has 1 values for 2 x points'],
		[
			[
				map([
					[1, 2],
					[3, 4]
				]),
				map([
					[1, 2],
					[3, 4]
				])
			],
			'items[1].id: the item "fuel.table" stands twice'
		],
		[
			[{ id: 'a', kind: 'curve', x: { channel: 'rpm', points: [1, 1] }, values: [1, 2] }],
			'axis points have to rise'
		],
		[[{ id: 'a', kind: 'scalar', value: 'x' }], 'items[0].value']
	])('%#', (items, message) => {
		expect(() => calibration(items)).toThrow(InputError);
		expect(() => calibration(items)).toThrow(message);
	});
	it('keeps keys and items that it does not know', () => {
		const c = calibrationWith([{ id: 'x.own', kind: 'scalar', value: 1, colour: 'red' }], {
			fuelModel: 'maf',
			author: 'me'
		});
		expect(c).toMatchObject({ author: 'me', items: [{ colour: 'red' }] });
	});
	it('names line and column of broken JSON', () => {
		expect(() => parseJson('{\n  "a": nope\n}')).toThrow(/line 2, column 8/);
		expect(() => parseJson('')).toThrow('the text is empty');
		expect(() => parseJson('{"a": 1')).toThrow('unexpected end of the text');
	});
});
