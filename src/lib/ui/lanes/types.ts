/** Lanes: one quantity a lane, stacked over one common axis (time, or engine speed). */

export interface Series {
	/** Channel, where the series is one. */
	id?: string;
	label: string;
	/** Positions on the common axis, ascending. */
	x: readonly number[];
	y: readonly (number | null)[];
	/** With `y` as the lower edge: the upper edge of each bucket. */
	yMax?: readonly (number | null)[] | null;
	tone: 'first' | 'second' | 'third' | 'old';
	/** A target or set point. */
	dashed?: boolean;
}

export interface Lane {
	id: string;
	title: string;
	/** Unit as shown, after conversion. */
	unit: string;
	decimals: number;
	series: Series[];
	/** A limit drawn as a shaded zone from `from` upwards (`above`) or downwards. */
	limit?: { from: number; side: 'above' | 'below'; label: string };
	/** Least span of the scale, so that noise doesn't fill a lane. */
	minSpan?: number;
	/** The scale never goes below this: retard and throttle have no negative side. */
	floor?: number;
	/** Values above this don't stretch the scale: a fuel cut pegs lambda and would flatten everything else. They are marked at the edge. */
	ceiling?: number;
	height?: number;
}

export interface Band {
	from: number;
	to: number;
	tone: 'stop' | 'fix' | 'watch' | 'note' | 'selected';
}

/** An earlier log of the job that can lie behind this one. */
export interface EarlierLog {
	id: number;
	name: string;
	pulls: { from: number; gear?: number | undefined }[];
}

/** What a span of a channel holds. */
export interface SpanStatistics {
	samples: number;
	min: number;
	mean: number;
	max: number;
}
