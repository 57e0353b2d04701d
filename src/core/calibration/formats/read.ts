/** A calibration out of the text of a file: our JSON, or CDF 2.0 XML. */
import { parseJson } from '../../parse.ts';
import { parseCalibration, type Calibration } from '../document.ts';
import { fromCdf } from './cdf.ts';

/** @throws InputError naming the place of the first fault */
export function calibrationFrom(text: string): Calibration {
	return /^\ufeff?\s*</.test(text) ? fromCdf(text) : parseCalibration(parseJson(text));
}
