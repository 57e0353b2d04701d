/** The descriptor of a calibration item: all that is known of one. */

/** What an item acts on. */
export type Acts =
	| 'fuel'
	| 'air'
	| 'target'
	| 'timing'
	| 'boost'
	| 'protection'
	| 'knock'
	| 'injector'
	| 'sensor'
	| 'trigger'
	| 'throttle'
	| 'shift'
	| 'record';

/** How it is seen afterwards whether a change did what it was meant to: in the changed cells, over the whole log, by knock, by boost,
 * cylinder by cylinder. */
export type Measured = 'cells' | 'overall' | 'knock' | 'boost' | 'cylinders';

/** A size of difference: absolute in the unit of the item, or in percent of the value (`relative`). */
export interface Size {
	by: number;
	relative: boolean;
	unit: string;
	digits: number;
}

/** What another value of an item makes incomparable: named items, and all that act on something. */
export interface Guarding {
	why: string;
	affects: { acts?: readonly Acts[]; items?: readonly string[] };
}

export interface ItemKind {
	id: string;
	title: string;
	group: 'Fuel' | 'Timing' | 'Boost' | 'Limits' | 'Knock' | 'Injectors' | 'Sensors' | 'Driveline';
	unit: string;
	/** Decimals that values are rounded to where the document doesn't say. */
	decimals: number;
	/** Values outside of this are hardly meant: they are asked back, and hold a release. Wide on purpose; own choice. */
	usual?: readonly [least: number, most: number];
	acts: Acts;
	/** One or two sentences: what it is, and what moves with it. */
	about: string;
	/** Which way is riskier for the engine, with words for both; absent where no direction is. */
	direction?: {
		riskier: 'up' | 'down';
		up: string;
		down: string;
		/** A difference up to this is rounding, not a riskier engine. Own choice. */
		tolerance: Size;
	};
	/** Why a change of it is neither safer nor riskier. */
	neutral?: string;
	/** A switch whose off is riskier, with words for both. */
	onOff?: { on: string; off: string; stillOff: string };
	/** What another value makes of the numbers beside it. */
	guard?: Guarding;
	/** Largest step between neighbouring cells that an engine can want. Own choice. */
	cliff?: Size;
	measured?: Measured;
	/** A curve that is read along the log and added there: percent of the fuel, degrees of the timing. */
	adjusts?: 'fuel' | 'timing';
	/** What the customer is told when it changed; `risky`: only when it became riskier. */
	caution?: { text: string; risky?: boolean };
}
