/** From the table to the engine, a line per quantity, for one log. */
import type { Prepared } from '../evidence/prepared.ts';
import { boostLine } from './boost.ts';
import { fuelLine } from './fuel.ts';
import type { Line } from './line.ts';
import { shiftLine } from './shifts.ts';
import { throttleLine } from './throttle.ts';
import { timingLine } from './timing.ts';

/** @returns lines that mean something for this vehicle, in the order in which a practitioner follows them */
export const deliveredLines = (input: Prepared): Line[] =>
	[fuelLine(input), timingLine(input), boostLine(input), throttleLine(input), shiftLine(input)].filter(
		(l): l is Line => l !== null
	);
