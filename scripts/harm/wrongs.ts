/** What can be wrong with a car, or with the log of it, in the worlds in which the loop is tried. */
import type { Faults } from '../../src/core/simulator/faults.ts';
import type { SimLog } from '../../src/core/simulator/simulate.ts';
import type { Rng } from '../../src/core/stats/rng.ts';
import type { Vehicle } from '../../src/core/vehicle/document.ts';
import { bankCount } from '../../src/core/vehicle/facts.ts';

export interface Wrong {
	name: string;
	faults?: (rng: Rng, v: Vehicle) => Faults;
	/** Changes what was logged, never what is true. */
	log?: (log: SimLog, rng: Rng, v: Vehicle) => void;
	/** The car runs another file than the one that is stated. */
	otherFile?: true;
	/** The file is written in pounds and ratios. */
	otherUnits?: true;
	/** What it says of the mixture is wrong: nobody can know where it is the only witness. */
	lies?: true;
	/** Takes away the only other witness: with a lie nobody can know. */
	hides?: true;
	/** Only where it makes sense. */
	fits?: (v: Vehicle) => boolean;
}

const two = (v: Vehicle) => bankCount(v) === 2;
const OWN = ['lambda.b1', 'lambda.b2'];

function each(log: SimLog, id: string, of: (v: number, i: number) => number): void {
	const list = log.channels.get(id);
	if (list) log.channels.set(id, list.map(of));
}
const without = (log: SimLog, ...ids: string[]) => ids.forEach((id) => log.channels.delete(id));
const withoutCounters = (log: SimLog) =>
	without(log, ...[...log.channels.keys()].filter((id) => id.startsWith('misfire.')));
const anyOf = (r: Rng, v: Vehicle) => 1 + Math.floor(r.next() * v.engine.cylinders);

/** Heat that a sensor has taken up, 0 to 1: filled by load over half a minute. */
function heat(log: SimLog): number[] {
	const map = log.channels.get('map')!;
	let h = 0;
	return map.map((kpa, i) => {
		const dt = i ? log.timeS[i]! - log.timeS[i - 1]! : 0;
		h += ((kpa > 95 ? 1 : 0) - h) * Math.min(1, dt / 30);
		return h;
	});
}

export const WRONGS: readonly Wrong[] = [
	{ name: 'nothing' },
	{ name: 'a bank lean', faults: (r) => ({ bankFlow: [0.9 + 0.08 * r.next(), 1] }), fits: two },
	{ name: 'a bank rich', faults: (r) => ({ bankFlow: [1, 1.02 + 0.08 * r.next()] }), fits: two },
	{
		name: 'a bank starves over 1000 rpm',
		faults: (r, v) => {
			const from = 3000 + r.next() * (v.engine.revLimitRpm - 4300);
			return {
				bankFlowAt: { bank: r.next() < 0.5 ? 1 : 2, rpm: [from, from + 1000], share: 0.9 + 0.06 * r.next() }
			};
		},
		fits: two
	},
	{ name: 'poor fuel', faults: (r) => ({ octaneRon: 90 + 5 * r.next() }) },
	{ name: 'a fuel that wants more', faults: (r) => ({ fuelNeed: 1.03 + 0.08 * r.next() }) },
	{ name: 'false knock', faults: (r) => ({ falseKnockPerS: 1 + 3 * r.next() }) },
	{ name: 'fuel pressure sags', faults: (r) => ({ pressureSagKpa: 20 + 60 * r.next() }) },
	{ name: 'boost leak', faults: (r) => ({ boostLeak: 0.2 + 0.4 * r.next() }) },
	{ name: 'overboost', faults: (r) => ({ overboost: 0.1 + 0.2 * r.next() }) },
	{ name: 'low voltage', faults: (r) => ({ supplyV: 11.5 + r.next() }) },
	{
		name: 'a lean cylinder, seen by cylinder',
		faults: (r, v) => ({ leanCylinder: { cylinder: anyOf(r, v), share: 0.02 + 0.1 * r.next() } })
	},
	{
		name: 'a rich cylinder, seen by cylinder',
		faults: (r, v) => ({ leanCylinder: { cylinder: anyOf(r, v), share: -0.02 - 0.08 * r.next() } })
	},
	{
		name: 'a cylinder lean at the top only',
		faults: (r, v) => ({
			leanCylinder: {
				cylinder: anyOf(r, v),
				share: 0.03 + 0.08 * r.next(),
				rpm: [v.engine.revLimitRpm - 1800, 20000]
			}
		})
	},
	{
		name: 'a cylinder that dies, uncounted',
		faults: (r, v) => ({ deadCylinder: { cylinder: anyOf(r, v), fromS: 330 + 60 * r.next() } })
	},
	{ name: 'misfires are not counted', log: withoutCounters },
	{
		name: 'own sensors drift rich under boost',
		lies: true,
		faults: (r) => ({ factoryDriftRich: 0.04 + 0.08 * r.next() })
	},
	{
		name: 'a sensor of a bank reads rich',
		lies: true,
		faults: (r) => ({ bankSensor: [1 - 0.03 - 0.07 * r.next(), 1] })
	},
	{
		name: 'own sensors drift rich as they get hot',
		lies: true,
		log: (log) => {
			const hot = heat(log);
			for (const id of OWN) each(log, id, (v, i) => v * (1 - 0.09 * hot[i]!));
		}
	},
	{
		name: 'bank 2 is not seen, and leaner',
		hides: true,
		faults: (r) => ({ bankFlow: [1.02, 0.92 + 0.05 * r.next()] }),
		log: (log) => without(log, 'lambda.b2', 'stft.b2', 'ltft.b2', 'pw.b2', 'lambda.ref'),
		fits: two
	},
	{ name: 'trims are not logged', log: (log) => without(log, 'stft.b1', 'stft.b2', 'ltft.b1', 'ltft.b2') },
	{
		name: 'the own sensor drifts by engine speed',
		lies: true,
		log: (log) => {
			const rpm = log.channels.get('rpm')!;
			for (const id of OWN)
				each(log, id, (v, i) => v * (1 - 0.1 * Math.max(0, Math.min(1, (rpm[i]! - 3500) / 2500))));
		}
	},
	{
		name: 'an untold lag of 0.2 s',
		log: (log) => {
			for (const id of [...OWN, 'lambda.ref']) {
				const list = log.channels.get(id);
				each(log, id, (_, i) => list![Math.max(0, i - 4)]!);
			}
		}
	},
	{ name: 'another file in the car', otherFile: true },
	{ name: 'the file is written in psi and AFR', otherUnits: true },
	{
		name: 'the pressure sensor is scaled by up to 6 %',
		log: (log, r) => {
			const scale = 0.94 + 0.12 * r.next();
			each(log, 'map', (v) => Number((v * scale).toFixed(1)));
		}
	},
	{ name: 'no independent instrument', hides: true, log: (log) => without(log, 'lambda.ref') }
];
