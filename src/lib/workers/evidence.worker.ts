/**
 * Looks into a log in the browser: fetches its columns once, prepares them with the core, and then answers maps of cells, knock and
 * sensors without asking the server again. Off the page's thread: a long log is a hundred thousand samples of sixty channels.
 */
import { titleOf } from '$core/calibration/items';
import { prepare } from '$core/evidence/prepare';
import type { Prepared } from '$core/evidence/prepared';
import { expose } from 'comlink';
import type { Calibration } from '$core/calibration/document';
import { findMap } from '$core/calibration/lookup';
import type { CellAxes } from '$core/calibration/grid';
import {
	cellView,
	gather,
	quantitiesOf,
	samplesBehind,
	type CellQuantity,
	type CellSpec,
	type CellStretch,
	type CellView
} from '$core/evidence/cells/view';
import { gridField, type GridField } from '$core/correction/grid-field';
import { knockView, type KnockView } from '$core/evidence/knock/knock-view';
import { axisChannel } from '$core/calibration/axes';
import { sensorsView, type SensorsView } from '$core/evidence/lambda/sensors-view';
import { logFromBundle, piecesOf, type BundleHead } from '$core/logfile/bundle';
import { cylinderView, type CylinderView } from '$core/screening/cylinder-view';
import { nitrousTables, type NitrousTables } from '$core/revising/nitrous';
import { drivetrainView, type DrivetrainView } from '$core/screening/drivetrain-view';
import { deliveredLines } from '$core/delivered/delivered';
import type { Line } from '$core/delivered/line';
import type { Vehicle } from '$core/vehicle/document';

export interface EvidenceContext {
	vehicle: Vehicle;
	ambientC: number | null;
	calibration: Calibration | null;
}

export interface AxesChoice {
	title: string;
	axes: CellAxes;
}

export interface EvidenceAbout {
	durationS: number;
	quantities: CellQuantity[];
	/** Tables of the calibration whose axes the log has; first the one that is used by default. */
	axes: AxesChoice[];
	/** Channels that may be an axis. */
	channels: string[];
	gears: number[];
	lambdas: string[];
}

async function inflate(bytes: Uint8Array): Promise<Uint8Array> {
	const stream = new Blob([bytes as BlobPart]).stream().pipeThrough(new DecompressionStream('deflate-raw'));
	return new Uint8Array(await new Response(stream).arrayBuffer());
}

let input: Prepared | null = null;

/** Maps asked for before: a reader takes a filter off and puts it on again. The oldest goes first. */
const known = new Map<string, CellView | null>();
const KNOWN_VIEWS = 40;

function opened(): Prepared {
	if (!input) throw new Error('the log is not loaded yet');
	return input;
}

function axesOf(i: Prepared): AxesChoice[] {
	const { frame, calibration, segments } = i;
	const table = calibration && findMap(calibration, 'fuel.table');
	const out: AxesChoice[] = [{ title: table ? `as “${titleOf(table)}”` : '500 rpm by 20 kPa', axes: i.axes }];
	for (const item of calibration?.items ?? []) {
		if (item.kind !== 'map' || item.id === 'fuel.table') continue;
		if (!axisChannel(frame, item.x, segments.baroKpa) || !axisChannel(frame, item.y, segments.baroKpa))
			continue;
		out.push({
			title: `as “${titleOf(item)}”`,
			axes: {
				xChannel: item.x.channel,
				xUnit: item.x.unit,
				x: item.x.points,
				yChannel: item.y.channel,
				yUnit: item.y.unit,
				y: item.y.points
			}
		});
	}
	return out;
}

const api = {
	async open(url: string): Promise<EvidenceAbout> {
		const answer = await fetch(url);
		if (!answer.ok) throw new Error(`the server answered ${answer.status}`);
		const pieces = piecesOf(new Uint8Array(await answer.arrayBuffer()));
		const head = JSON.parse(new TextDecoder().decode(pieces[0])) as BundleHead & { context: EvidenceContext };
		const log = await logFromBundle(pieces, head, inflate);
		const { vehicle, ambientC, calibration } = head.context;
		known.clear();
		input = prepare(log, { vehicle, ambientC, calibrations: calibration ? [calibration] : [] });
		const gears = input.segments.gear
			? [...new Set(input.segments.gear)].filter((g) => g > 0).sort((a, b) => a - b)
			: [];
		return {
			durationS: log.durationS,
			quantities: quantitiesOf(input),
			axes: axesOf(input),
			channels: log.channels.filter((c) => c.texts.length === 0).map((c) => c.id),
			gears,
			lambdas: input.believed.all.map((s) => s.channel)
		};
	},
	cells(spec: CellSpec): CellView | null {
		const key = JSON.stringify(spec);
		let view = known.get(key);
		if (view === undefined) {
			view = cellView(opened(), spec);
			if (known.size >= KNOWN_VIEWS) known.delete(known.keys().next().value!);
			known.set(key, view);
		}
		return view;
	},
	/** The field of a ratio over the same samples; `null` where the log lacks the quantity or an axis. */
	field(spec: CellSpec): GridField | null {
		const g = gather(opened(), spec);
		return g && gridField(opened(), spec.axes, () => g.value, g.use);
	},
	behind(spec: CellSpec, column: number, row: number): CellStretch[] {
		return samplesBehind(opened(), spec, column, row);
	},
	knock(): KnockView | null {
		return knockView(opened());
	},
	sensors(): SensorsView | null {
		return sensorsView(opened());
	},
	cylinders(): CylinderView | null {
		return cylinderView(opened());
	},
	delivered(): Line[] {
		return deliveredLines(opened());
	},
	drivetrain(): DrivetrainView {
		return drivetrainView(opened());
	},
	nitrous(): NitrousTables {
		return nitrousTables(opened());
	}
};

export type Evidence = typeof api;
expose(api);
