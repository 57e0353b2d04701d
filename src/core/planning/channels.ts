/** Channels that a log of this vehicle should carry, each with why and the least rate. */
import type { Vehicle } from '../vehicle/document.ts';
import { bankCount } from '../vehicle/facts.ts';

export type WantedChannel = {
	id: string;
	minRateHz: number;
	why: string;
};

/** What moves fast in a pull; slow things like temperatures may come once a second. */
const FAST_HZ = 10;
const SLOW_HZ = 1;

export function wantedChannels(vehicle: Vehicle, more: { nitrous?: boolean } = {}): WantedChannel[] {
	const out: WantedChannel[] = [];
	const add = (id: string, why: string, minRateHz = FAST_HZ) => {
		if (!out.some((c) => c.id === id)) out.push({ id, minRateHz, why });
	};
	const banks = bankCount(vehicle);
	add('rpm', 'everything is placed by it');
	add('map', 'the load on the engine');
	add('tps', 'finds full throttle');
	add('pedal', 'tells a closing throttle from a lifted foot');
	const sensors = vehicle.sensors?.lambda ?? [];
	for (let b = 1; b <= banks; b++) add(`lambda.b${b}`, banks === 2 ? `mixture of bank ${b}` : 'the mixture');
	for (const s of sensors) add(s.channel, 'a second opinion on the mixture');
	add('lambda.target', 'what the mixture should be');
	for (let b = 1; b <= banks; b++) {
		add(`stft.b${b}`, 'fuel that closed loop adds at the moment', 5);
		add(`ltft.b${b}`, 'fuel that was learned', SLOW_HZ);
	}
	add('spark', 'timing at every moment');
	add('knockRetard', 'knock and how the controller answered');
	for (let b = 1; b <= banks; b++) add(`pw.b${b}`, 'how long the injectors are open');
	add('iat', 'heat soak, and air density', SLOW_HZ);
	add('ect', 'tells warm-up', SLOW_HZ);
	add('vbat', 'the injectors depend on it', SLOW_HZ);
	add('speed', 'gear, and wheelspin', 5);
	if (vehicle.engine.aspiration !== 'na') {
		add('boostTarget', 'what the pressure should be');
		add('wastegateDuty', 'whether the boost control is at its end', 5);
	}
	if (vehicle.engine.injection === 'direct') {
		add('railPressure', 'the supply under load');
		add('railTarget', 'what the rail pressure should be');
	} else if (vehicle.injectors?.pressureReference) add('fuelPressure', 'the supply under load', 5);
	if ((vehicle.fuel?.ethanolPct ?? 0) > 15) add('ethanol', 'the blend that is really in the tank', SLOW_HZ);
	if (more.nitrous) {
		add('nitrousDuty', 'when the solenoid is open');
		add('fuelFlow', 'the fuel that really flows');
		add('fuelFlowBase', 'the fuel without nitrous');
		add('nitrousFuel', 'the fuel added for the nitrous');
	}
	return out;
}
