/** The day's air: standard atmosphere, density altitude, and the correction of power to standard air. */
import { boostControlOf } from '../screening/checks/worst-day.ts';
import { convert } from '../units/units.ts';
import type { Vehicle } from '../vehicle/document.ts';

/** Pressure of the standard atmosphere at an altitude below 11 km (ISO 2533), kPa. */
export function standardPressureKpa(altitudeM: number): number {
	return 101.325 * (1 - 0.0065 * (altitudeM / 288.15)) ** 5.255876;
}

/** Saturation pressure of water vapour over water, kPa (Magnus form with the constants of the WMO guide). */
export function vapourPressureKpa(temperatureC: number): number {
	return 0.6112 * Math.exp((17.62 * temperatureC) / (243.12 + temperatureC));
}

/** Virtual temperature, °C: of dry air as light as this moist air. */
export function virtualTemperatureC(temperatureC: number, pressureKpa: number, humidityPct: number): number {
	const e = (vapourPressureKpa(temperatureC) * humidityPct) / 100;
	return (temperatureC + 273.15) / (1 - (e / pressureKpa) * (1 - 0.622)) - 273.15;
}

/**
 * Density altitude in feet (US National Weather Service): 145 442.16 × (1 − (17.326 × P / (459.67 + T))^0.235), P in inHg (the station's
 * own, not reduced to sea level), T the virtual temperature in °F.
 */
export function densityAltitudeFt(temperatureC: number, pressureKpa: number, humidityPct = 0): number {
	const inHg = convert(pressureKpa, 'kPa', 'inHg');
	const tF = convert(virtualTemperatureC(temperatureC, pressureKpa, humidityPct), '°C', '°F');
	return 145_442.16 * (1 - ((17.326 * inHg) / (459.67 + tF)) ** 0.235);
}

/** Pressure of dry air that has a density altitude at a temperature, kPa: the same formula, solved for the pressure. */
export function pressureAtDensityAltitudeKpa(temperatureC: number, altitudeFt: number): number {
	const tF = convert(temperatureC, '°C', '°F');
	return convert(((459.67 + tF) / 17.326) * (1 - altitudeFt / 145_442.16) ** (1 / 0.235), 'inHg', 'kPa');
}

/**
 * SAE J1349: factor that brings measured power to 25 °C and 990 hPa of dry air: 1.18 × (990 / P_dry) × √((T + 273) / 298) − 0.18.
 * Not for engines that control their boost absolutely.
 * @param pressureKpa of the air as it is
 */
export function saeJ1349Factor(temperatureC: number, pressureKpa: number, humidityPct = 0): number {
	const dryHpa = 10 * (pressureKpa - (vapourPressureKpa(temperatureC) * humidityPct) / 100);
	return 1.18 * (990 / dryHpa) * Math.sqrt((temperatureC + 273) / 298) - 0.18;
}

/**
 * Factor to standard air for the power of one vehicle.
 * @param ambientC NaN where the day isn't known
 * @returns `null` where it isn't, or where boost is held absolutely and power doesn't go with the air
 */
export function standardAirFactor(vehicle: Vehicle, ambientC: number, baroKpa: number): number | null {
	return Number.isFinite(ambientC) && boostControlOf(vehicle) !== 'absolute'
		? saeJ1349Factor(ambientC, baroKpa)
		: null;
}
