/** `sensor.map`: manifold pressure with the engine standing against a barometer that isn't derived from it. */
import { assumedBaroKpa } from '../../vehicle/facts.ts';
import { finding, found, medianWhere, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import { marked, markedBy } from '../../format.ts';

const STANDING_S = 0.5;

/** What the pressure of the standing engine is held against. */
const REFERENCES = {
	barometer: 'the barometer',
	stated: "the vehicle's stated air pressure",
	standard: 'standard pressure'
};
type Facts = { stillKpa: number; referenceKpa: number; reference: keyof typeof REFERENCES };

export const sensorMap = check({
	code: 'sensor.map',
	title: 'Pressure sensor',
	section: 'sensors',
	advice: 'repair',
	needs: ['baro'],
	units: { stillKpa: 'kPa', referenceKpa: 'kPa' },
	run(input) {
		const { frame, vehicle, profile } = input;
		const map = frame.get('map');
		const rpm = frame.get('rpm');
		if (!map) return notChecked('manifold pressure is not logged', 'map');
		if (!rpm) return notChecked('engine speed is not logged', 'rpm');
		const standing = (i: number) => rpm[i]! < 50;
		const still = medianWhere(map, standing, Math.max(2, Math.ceil(STANDING_S / frame.stepS)));
		if (!Number.isFinite(still))
			return notChecked('the engine never stands still in this log', 'ignition on before the start');
		const baro = frame.get('baro');
		const own = baro && vehicle.sensors?.baro === 'own' ? medianWhere(baro, () => true) : Number.NaN;
		const stated = vehicle.baselines?.ambientPressureKpa;
		const [reference, from]: [number, Facts['reference']] = Number.isFinite(own)
			? [own, 'barometer']
			: stated !== undefined
				? [stated, 'stated']
				: [assumedBaroKpa(vehicle), 'standard'];
		const off = still - reference;
		const size = Math.abs(off);
		const standard = from === 'standard';
		const watch = standard ? profile.mapStandardWatchKpa : profile.mapWatchKpa;
		const fix = standard ? Infinity : profile.mapFixKpa;
		if (size <= watch)
			return pass(
				`With the engine standing the manifold reads ${marked(still, 'kPa', 1)}, ${REFERENCES[from]} ${marked(reference, 'kPa', 1)}.`
			);
		return found(
			finding(input, {
				severity: size > fix ? 'fix' : 'watch',
				facts: { stillKpa: still, referenceKpa: reference, reference: from },
				value: off,
				limit: size > fix ? fix : watch,
				unit: 'kPa',
				channels: ['map', 'baro', 'rpm']
			})
		);
	},
	words: ({ facts: { stillKpa, referenceKpa, reference } }: Told<Facts>) => {
		const off = markedBy(stillKpa - referenceKpa, 'kPa', 1, true);
		return {
			title: `Pressure sensor off by ${off}`,
			summary: `With the engine standing the manifold reads ${marked(stillKpa, 'kPa', 1)}, ${off} from ${REFERENCES[reference]} (${marked(referenceKpa, 'kPa', 1)}).`,
			causes: [
				'the scaling of another sensor',
				'a sensor that drifted',
				...(reference === 'standard' ? ['altitude or weather'] : [])
			],
			next: [
				"compare the sensor's scaling in the calibration with the part",
				'every cell by pressure is off until it is right'
			]
		};
	}
});
