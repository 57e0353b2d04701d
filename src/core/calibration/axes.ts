/**
 * What an axis of a table reads: a channel in the unit that the table is written in, or something computed from channels. Points stay as
 * the table has them; it is the log that is turned into their unit.
 */
import { CHANNELS } from '../channels/canonical.ts';
import { derived } from '../logfile/columns.ts';
import type { Columns } from '../logfile/frame.ts';
import { STOICH_PETROL } from '../units/fuel.ts';
import { CANONICAL_UNIT, conversionOf, parseUnit, type Conversion } from '../units/units.ts';

export interface AxisRef {
	channel: string;
	/** As the table says it; the canonical one of the channel where it says nothing, or nothing known. */
	unit?: string | undefined;
}

/** Channels of axes that no log carries under that name: both are manifold pressure against the barometer. */
const COMPUTED: Readonly<
	Record<string, { title: string; of: (unit: Conversion, baroKpa: number) => Conversion }>
> = {
	pressureRatio: { title: 'Pressure ratio', of: (_, baroKpa) => ({ scale: baroKpa, offset: 0 }) },
	boost: { title: 'Boost', of: (unit, baroKpa) => ({ scale: unit.scale, offset: baroKpa }) }
};
const PRESSURE = 'map';

/** What a reader calls the channel of an axis. */
export const axisTitle = (channel: string): string =>
	COMPUTED[channel]?.title ?? CHANNELS.get(channel)?.title ?? channel;

/** Whether an axis is manifold pressure, however it is written. */
export const readsPressure = (channel: string): boolean => channel === PRESSURE || channel in COMPUTED;

/** Unit that the points of an axis are in; empty where there is none. */
export function axisUnit({ channel, unit }: AxisRef): string {
	if (unit !== undefined) return unit;
	if (channel === 'boost') return 'kPa';
	const kind = CHANNELS.get(channel);
	return kind ? CANONICAL_UNIT[kind.quantity] : '';
}

/** The same for a reader: manifold pressure is marked as absolute, since he may want it as a gauge shows it. */
export function axisShownUnit(axis: AxisRef): string {
	const unit = axisUnit(axis);
	return axis.channel === PRESSURE && unit === 'kPa' ? 'kPa abs' : unit;
}

const SAME: Conversion = { scale: 1, offset: 0 };

/** Canonical value of the channel behind an axis = scale × point + offset. */
function reading({ channel, unit }: AxisRef, baroKpa: number): Conversion & { source: string } {
	const source = channel in COMPUTED ? PRESSURE : channel;
	const written = unit === undefined ? null : parseUnit(unit);
	const fits = written !== null && written.quantity === CHANNELS.get(source)?.quantity;
	const own = fits ? conversionOf(written, STOICH_PETROL, baroKpa) : SAME;
	return { source, ...(COMPUTED[channel]?.of(own, baroKpa) ?? own) };
}

/** The log in the terms of an axis, sample by sample; `null` where its channel isn't logged. */
export function axisChannel(frame: Columns, axis: AxisRef, baroKpa: number): Float32Array | null {
	const { source, scale, offset } = reading(axis, baroKpa);
	const column = frame.get(source);
	if (!column || (scale === 1 && offset === 0)) return column;
	return derived(column, (v) => (v - offset) / scale);
}

/**
 * Turns points of one axis into those of another that reads the same; `null` where they read different things.
 * @example turner({ channel: 'boost', unit: 'psi' }, { channel: 'map' }, 100)!(14.5) // 200 kPa, nearly
 */
export function turner(from: AxisRef, to: AxisRef, baroKpa: number): ((point: number) => number) | null {
	const [a, b] = [reading(from, baroKpa), reading(to, baroKpa)];
	if (a.source !== b.source) return null;
	return (point) => (a.scale * point + a.offset - b.offset) / b.scale;
}

/** Whether two axes say the same by the same numbers. */
export function sameReading(a: AxisRef, b: AxisRef): boolean {
	const [x, y] = [reading(a, 100), reading(b, 100)];
	return x.source === y.source && x.scale === y.scale && x.offset === y.offset && a.channel === b.channel;
}

/** How much of the canonical unit of its channel one unit of an axis is: 6.895 kPa for a gauge axis in psi. */
export const axisScale = (axis: AxisRef, baroKpa: number): number => reading(axis, baroKpa).scale;

/** What an axis reads, whatever it is called: `map` for boost and pressure ratio. */
export const axisSource = (axis: AxisRef): string => (axis.channel in COMPUTED ? PRESSURE : axis.channel);

/** How the points of an axis become canonical, and the unit that they are in then; `same` where they are. */
export interface PlainAxis extends Conversion {
	channel: string;
	unit: string | undefined;
	same: boolean;
}

/**
 * @param baroKpa what gauge pressures, boost and pressure ratios are counted from: all become manifold pressure. Without one each stays what
 * it is, in kPa: every log has air of its own.
 * @example axisPlain({ channel: 'map', unit: 'psi' }) // { channel: 'map', unit: 'kPa', scale: 6.894757, offset: 0, same: false }
 */
export function axisPlain(axis: AxisRef, baroKpa?: number): PlainAxis {
	const { channel, unit } = axis;
	if (baroKpa !== undefined && readsPressure(channel)) {
		const { scale, offset } = reading(axis, baroKpa);
		const same = channel === PRESSURE && scale === 1 && offset === 0;
		return { channel: PRESSURE, scale, offset, unit: same ? unit : 'kPa', same };
	}
	const written = unit === undefined ? null : parseUnit(unit);
	const quantity = CHANNELS.get(axisSource(axis))?.quantity;
	if (channel === 'pressureRatio' || !written || written.quantity !== quantity)
		return { channel, ...SAME, unit, same: true };
	const { scale, offset } = conversionOf(written, STOICH_PETROL, 0);
	const canonical = CANONICAL_UNIT[quantity];
	const plain = written.gauge && channel !== 'boost' ? `${canonical} gauge` : canonical;
	return { channel, scale, offset, unit: plain, same: scale === 1 && offset === 0 };
}
