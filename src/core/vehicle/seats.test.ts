/** Where sensors sit: as their channels say, until somebody says otherwise. */
import { describe, expect, it } from 'vitest';
import { siteOf } from '../evidence/lambda/believed.ts';
import { twoBanks, vehicleWith } from '../testing/hand-made.ts';
import { refuseContrarySeats, usualSeat } from './seats.ts';
import { vehicleFromSheet } from './sheet.ts';

const withSensor = (channel: string, site: string, two = true) => {
	const more = { sensors: { lambda: [{ channel, site, kind: 'factory' }] } };
	return two ? twoBanks(more) : vehicleWith({}, more);
};

it.each([
	['lambda.b1', 2, 'bank1'],
	['lambda.b2', 2, 'bank2'],
	['lambda.cyl3', 2, 'cyl3'],
	['lambda.ref', 2, 'collector'],
	['lambda.ref', 1, 'bank1']
])('%s of an engine with %i banks sits in %s', (channel, banks, seat) => {
	expect(usualSeat(channel, banks)).toBe(seat);
});

describe('a sheet that contradicts its channels', () => {
	it.each([
		['lambda.b2', 'bank1'],
		['lambda.b1', 'bank2'],
		['lambda.cyl2', 'cyl3']
	])('%s in %s is refused with both readings', (channel, site) => {
		expect(() => refuseContrarySeats(withSensor(channel, site))).toThrow(/is that of .*sits in/);
	});
	it.each([
		['lambda.b2', 'bank2', true],
		['lambda.b1', 'collector', true],
		['lambda.ref', 'bank2', true],
		['lambda.b2', 'bank1', false]
	])('%s in %s contradicts nothing', (channel, site, two) => {
		expect(() => refuseContrarySeats(withSensor(channel, site, two))).not.toThrow();
	});
	it('is refused by the form at its field', () => {
		const fields = {
			name: 'V8',
			'engine.layout': 'v',
			'engine.cylinders': '8',
			'engine.aspiration': 'na',
			'engine.revLimitRpm': '6500',
			'sensor.0.channel': 'lambda.b2',
			'sensor.0.kind': 'factory',
			'sensor.0.site': 'bank1'
		};
		expect(() => vehicleFromSheet(fields)).toThrow('sensors.lambda[0].site');
		expect(siteOf('lambda.b2', vehicleFromSheet({ ...fields, 'sensor.0.site': 'bank2' }))).toBe('bank2');
	});
});
