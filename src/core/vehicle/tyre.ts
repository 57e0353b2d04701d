/** Tyres as they are written on their side: width in mm, height of the side in percent of it, rim in inches. */
const WRITTEN = /^\s*(?:P|LT)?(\d{3})\s*\/\s*(\d{2})\s*-?\s*(?:Z?R|-)\s*(\d{2}(?:[.,]\d)?)/i;

const MM_PER_INCH = 25.4;
/** A tyre under its load rolls off 3.05 times its diameter a turn (European standards manual of tyres and rims, from memory), not π times. */
const ROLLS = 3.05;

/**
 * What a tyre rolls off in a turn, m; `null` for anything that isn't written as tyres are.
 * @example tyreCircumferenceM('225/45 R17') // 1.935
 */
export function tyreCircumferenceM(text: string): number | null {
	const [, width, height, rim] = WRITTEN.exec(text) ?? [];
	if (!width || !height || !rim) return null;
	const diameterMm = Number(rim.replace(',', '.')) * MM_PER_INCH + (2 * Number(width) * Number(height)) / 100;
	return Math.round(ROLLS * diameterMm) / 1000;
}
