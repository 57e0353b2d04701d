/** The levels of practice: each teaches one thing, and a seed makes of it one car with what is hidden in it. */
import { parseCalibration, type Calibration, type FuelModel } from '../calibration/document.ts';
import { findMap } from '../calibration/lookup.ts';
import { baseCalibration } from '../simulator/base-calibration.ts';
import type { Faults } from '../simulator/faults.ts';
import { VEHICLES, withSensors } from '../simulator/vehicles.ts';
import { Rng } from '../stats/rng.ts';
import { parseVehicle, type Vehicle } from '../vehicle/document.ts';
import type { CureId } from './cures.ts';
import type { SubjectId } from './subjects.ts';

/** One car of a level. */
export interface Scene {
	vehicle: Vehicle;
	/** What the trainee is told to be in the car. */
	base: Calibration;
	/** What really is, until the file is flashed again; `null` where it is the base. */
	other: Calibration | null;
	faults: Faults;
	monitor: boolean;
	/** What is to be seen in the first log, gravest first. */
	truth: { subject: SubjectId; whom: number | null }[];
	/** Answers that are no file, without which it can't be won. */
	cures: CureId[];
	/** Timing under load that has to be left where it is, or reached, degrees; `null` where it doesn't matter. */
	timingDeg: number | null;
}

export interface Level {
	id: number;
	title: string;
	teaches: string;
	/** The customer's words. */
	words: string;
	make: (rng: Rng) => Scene;
}

interface Made {
	vehicle: Vehicle;
	model: FuelModel;
	fuelError?: (r: number, l: number) => number;
	timingMarginDeg?: number;
	boostKpa?: number;
}

const base = ({ vehicle, model, ...more }: Made): Calibration =>
	parseCalibration(
		baseCalibration({ vehicle, fuelModel: model, name: 'as received', timingMarginDeg: 6, ...more })
	);

const scene = (vehicle: Vehicle, file: Calibration, more: Partial<Scene> & Pick<Scene, 'truth'>): Scene => ({
	vehicle,
	base: file,
	other: null,
	faults: {},
	monitor: false,
	cures: [],
	timingDeg: null,
	...more
});

/** With the controller's own sensors, and an instrument beside them. */
const witnessed = (v: Vehicle, name: string): Vehicle => parseVehicle({ ...withSensors(v, true), name });

const between = (rng: Rng, low: number, high: number) => low + (high - low) * rng.next();
/** A smooth error of the file, up to a share, that is different with each seed. */
function smooth(rng: Rng, most: number): (r: number, l: number) => number {
	const [a, b, c] = [rng.next(), rng.next(), rng.next()];
	return (r, l) => most * Math.sin(6.28 * a + (1 + b) * r + (1 + c) * l);
}

/** Timing under load, the middle of it. */
export function loadedTiming(c: Calibration): number {
	const table = findMap(c, 'spark.table');
	if (!table) return Number.NaN;
	const values = table.y.points.flatMap((y, r) => (y >= 95 ? table.values[r]! : []));
	return values.reduce((s, v) => s + v, 0) / Math.max(1, values.length);
}

const TAUGHT: readonly Level[] = [
	{
		id: 1,
		title: 'A lean table',
		teaches: 'Mixture against target, place by place, and a first revision',
		words: 'It has run on a borrowed file. Make it right, please.',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.finch, 'Orsa Finch 1.6 practice');
			const lean = between(rng, 0.07, 0.11);
			const file = base({ vehicle, model: 'speed-density', fuelError: (_, l) => -lean * l });
			return scene(vehicle, file, { truth: [{ subject: 'lean', whom: null }] });
		}
	},
	{
		id: 2,
		title: 'Two banks, one table',
		teaches: 'Banks are held against each other before any fuel moves',
		words: 'New injectors over the winter. Pulls well, a little rough at idle.',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.kestrel, 'Orsa Kestrel 3.2 practice');
			const weak = rng.next() < 0.5 ? 1 : 2;
			const flow = 1 - between(rng, 0.07, 0.12);
			const file = base({ vehicle, model: 'speed-density' });
			return scene(vehicle, file, {
				faults: { bankFlow: weak === 1 ? [flow, 1] : [1, flow] },
				truth: [{ subject: 'bank', whom: weak }],
				cures: ['injectors-flowed']
			});
		}
	},
	{
		id: 3,
		title: 'Which sensor lies?',
		teaches: 'Agreement of independent sources decides, and it is decided where it happens',
		words: 'The dash says it is pig rich at the top. Take some out?',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.marl, 'Tavi Marl 2.0 practice');
			const file = base({ vehicle, model: 'speed-density', fuelError: () => -0.01 });
			return scene(vehicle, file, {
				faults: {
					factoryDriftAt: { fromRpm: Math.round(between(rng, 4600, 5400)), share: between(rng, 0.07, 0.1) }
				},
				truth: [{ subject: 'sensor', whom: null }],
				cures: ['sensor-replaced']
			});
		}
	},
	{
		id: 4,
		title: 'The boy who cried knock',
		teaches: 'Scattered equal blips with a quiet monitor are noise; timing stays',
		words: 'The last tuner said it knocks everywhere. It never did before the new exhaust.',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.sledge, 'Tavi Sledge 2.5 practice');
			const roomy = parseVehicle({ ...vehicle, injectors: { ...vehicle.injectors, flowCcMin: 900 } });
			const file = base({ vehicle: roomy, model: 'speed-density', timingMarginDeg: 7 });
			return scene(roomy, file, {
				faults: { falseKnockPerS: between(rng, 1.1, 1.7) },
				monitor: true,
				truth: [{ subject: 'noise', whom: null }],
				cures: ['rattle-fixed'],
				timingDeg: loadedTiming(file)
			});
		}
	},
	{
		id: 5,
		title: 'A dead cylinder reads lean',
		teaches: 'Less pull and a step in lambda together: no fuel until plugs or counters decide',
		words: 'It went flat halfway through the second pull.',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.finch, 'Orsa Finch 1.6 practice');
			const file = base({ vehicle, model: 'speed-density' });
			const cylinder = 1 + Math.floor(rng.next() * vehicle.engine.cylinders);
			return scene(vehicle, file, {
				faults: { deadCylinder: { cylinder, fromS: 330, rpm: [4300, 6300] } },
				truth: [
					{ subject: 'dead', whom: null },
					{ subject: 'lean', whom: null }
				],
				cures: ['coil-replaced']
			});
		}
	},
	{
		id: 6,
		title: 'The wrong file',
		teaches: 'Was the file in the car the one that was meant? Nothing is learnt before that',
		words: 'Flashed it last night, went for a drive this morning.',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.marl, 'Tavi Marl 2.0 practice');
			const error = smooth(rng, 0.03);
			const file = base({ vehicle, model: 'speed-density', fuelError: error });
			const other = base({
				vehicle,
				model: 'speed-density',
				fuelError: (r, l) => error(r, l) + 0.06,
				timingMarginDeg: 2 + 2 * rng.next()
			});
			return scene(vehicle, file, {
				other,
				truth: [{ subject: 'file', whom: null }],
				cures: ['file-flashed']
			});
		}
	},
	{
		id: 7,
		title: 'Two that mask each other',
		teaches: 'A pump that gives up under a rich table: a good lambda with a bad cause',
		words: 'Mixture looks fine to me. It just feels tired at the top.',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.marl, 'Tavi Marl 2.0 practice');
			const sag = between(rng, 70, 95);
			const file = base({ vehicle, model: 'speed-density', fuelError: (r, l) => 0.1 * r * l });
			return scene(vehicle, file, {
				faults: { pressureSagKpa: sag },
				truth: [{ subject: 'supply', whom: null }],
				cures: ['pump-replaced']
			});
		}
	},
	{
		id: 8,
		title: 'Poor fuel',
		teaches: 'Real knock climbs for as long as the throttle is open: timing out, or the fuel that was agreed',
		words: 'Filled up on the way, no idea what they sell there.',
		make: (rng) => {
			const vehicle = witnessed(VEHICLES.marl, 'Tavi Marl 2.0 practice');
			const file = base({ vehicle, model: 'pulse-width', timingMarginDeg: 2, fuelError: smooth(rng, 0.02) });
			return scene(vehicle, file, {
				faults: { octaneRon: 92 + Math.round(2 * rng.next()) },
				truth: [{ subject: 'knock', whom: null }]
			});
		}
	}
];

/** One of them, and nobody says which. */
const ANY: Level = {
	id: TAUGHT.length + 1,
	title: 'A day like any other',
	teaches: 'One of all of these, and nobody says which',
	words: 'Here is a log. Tell me what you think.',
	make: (rng) => TAUGHT[Math.floor(rng.next() * TAUGHT.length)]!.make(rng)
};

export const LEVELS: readonly Level[] = [...TAUGHT, ANY];

export const levelOf = (id: number): Level | null => LEVELS.find((l) => l.id === id) ?? null;

/** The same level and seed make the same car, whoever plays it. */
export const sceneOf = (level: Level, seed: number): Scene => level.make(new Rng(level.id * 100_003 + seed));
