/**
 * Stoichiometry of petrol, ethanol and methanol and their blends.
 * Air-fuel ratios by mass and densities are handbook values.
 */
export const STOICH_PETROL = 14.7;
export const STOICH_ETHANOL = 9.0;
export const STOICH_METHANOL = 6.47;
/** kg per litre at 20 °C. */
export const DENSITY_PETROL = 0.745;
export const DENSITY_ETHANOL = 0.789;

/** Stoichiometric air-fuel ratio by mass of a blend with `ethanolPct` % ethanol by volume (0–100), mixed by mass. */
export function stoichOfBlend(ethanolPct: number): number {
	const e = Math.min(100, Math.max(0, ethanolPct)) / 100;
	const massEthanol = e * DENSITY_ETHANOL;
	const massPetrol = (1 - e) * DENSITY_PETROL;
	return (massEthanol * STOICH_ETHANOL + massPetrol * STOICH_PETROL) / (massEthanol + massPetrol);
}

/** Density in kg/l of a blend with `ethanolPct` % ethanol by volume, without the small shrinkage of mixing. */
export function densityOfBlend(ethanolPct: number): number {
	const e = Math.min(100, Math.max(0, ethanolPct)) / 100;
	return e * DENSITY_ETHANOL + (1 - e) * DENSITY_PETROL;
}
