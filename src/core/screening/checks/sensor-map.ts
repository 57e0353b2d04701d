/** `sensor.map`: manifold pressure with the engine standing against a barometer that isn't derived from it. */
import { assumedBaroKpa } from '../../vehicle/document.ts';
import { finding, found, medianWhere, notChecked, pass } from '../measure.ts';
import { check } from '../check.ts';
import { marked, markedBy } from '../../format.ts';

const STANDING_S = 0.5;

export const sensorMap = check({
	code: 'sensor.map',
	title: 'Pressure sensor',
	section: 'sensors',
	advice: 'repair',
	needs: ['baro'],
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
		const [reference, from] = Number.isFinite(own)
			? [own, 'the barometer']
			: stated !== undefined
				? [stated, "the vehicle's stated air pressure"]
				: [assumedBaroKpa(vehicle), 'standard pressure'];
		const off = still - reference;
		const size = Math.abs(off);
		const standard = from === 'standard pressure';
		const watch = standard ? profile.mapStandardWatchKpa : profile.mapWatchKpa;
		const fix = standard ? Infinity : profile.mapFixKpa;
		if (size <= watch)
			return pass(
				`With the engine standing the manifold reads ${marked(still, 'kPa', 1)}, ${from} ${marked(reference, 'kPa', 1)}.`
			);
		return found(
			finding(input, {
				code: 'sensor.map',
				severity: size > fix ? 'fix' : 'watch',
				title: `Pressure sensor off by ${markedBy(off, 'kPa', 1, true)}`,
				summary: `With the engine standing the manifold reads ${marked(still, 'kPa', 1)}, ${markedBy(off, 'kPa', 1, true)} from ${from} (${marked(reference, 'kPa', 1)}).`,
				value: off,
				limit: size > fix ? fix : watch,
				unit: 'kPa',
				channels: ['map', 'baro', 'rpm'],
				causes: [
					'the scaling of another sensor',
					'a sensor that drifted',
					...(standard ? ['altitude or weather'] : [])
				],
				next: [
					"compare the sensor's scaling in the calibration with the part",
					'every cell by pressure is off until it is right'
				]
			})
		);
	}
});
