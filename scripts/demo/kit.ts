/** The recording kit of one controller of the demo world: steps, a channel set, a picture of an invented program. */
import sharp from 'sharp';
import type { ReadableStream } from 'node:stream/web';
import { starterLayout } from '../../src/core/calibration/tables/layout.ts';
import type { App } from '../../src/lib/server/context.ts';
import { addKitFile, keepSteps } from '../../src/lib/server/revisions/recording-kits.ts';
import { keepLayout } from '../../src/lib/server/revisions/table-layouts.ts';
import { arrived, receive } from '../../src/lib/server/storage/files.ts';

const CHANNELS = [
	'engine speed',
	'manifold pressure',
	'pedal',
	'throttle',
	'lambda 1',
	'lambda 2',
	'knock retard'
];
const STEPS = [
	'Copy lumen-c7-street.set to the folder Sets of the Lumen program, then choose it.',
	'Plug the cable in, ignition on, engine still: press Record.',
	'Drive the plan below without stopping the recording.',
	'Engine off, press Stop, then Save. The file lies in the folder Lumen, Recordings, by date.'
];
const SCREEN = `<svg xmlns="http://www.w3.org/2000/svg" width="720" height="300" font-family="sans-serif">
<rect width="720" height="300" fill="#20262e"/><rect x="0" width="720" height="44" fill="#303a46"/>
<text x="20" y="29" fill="#dfe6ee" font-size="18">Lumen · recording</text>
<rect x="560" y="8" width="140" height="28" rx="4" fill="#b8452f"/><text x="598" y="28" fill="#fff" font-size="16">Record</text>
${CHANNELS.map((c, i) => `<text x="20" y="${84 + 29 * i}" fill="#c3cbd4" font-size="16">☑ ${c}</text>`).join('')}
<path d="M300 250 L380 240 L440 190 L520 120 L600 86 L690 80" stroke="#7fb2d9" stroke-width="3" fill="none"/></svg>`;

const body = (bytes: Uint8Array) =>
	new Blob([bytes as never]).stream() as unknown as ReadableStream<Uint8Array>;

export async function recordingKit(app: App, author: string, at: Date): Promise<void> {
	const layout = {
		...starterLayout('speed-density'),
		name: 'Lumen C7',
		controller: { hardware: 'Lumen C7', software: 'C7-2104' }
	};
	const id = await keepLayout(app.db, layout, at);
	await keepSteps(app.db, id, author, STEPS.join('\n'), at);
	const files: [string, Uint8Array][] = [
		['lumen-c7-street.set', Buffer.from(CHANNELS.map((c) => `${c};20 Hz`).join('\n'))],
		['where-record-is.png', await sharp(Buffer.from(SCREEN)).png().toBuffer()]
	];
	for (const [name, bytes] of files) {
		const file = await receive(app.dataDir, body(bytes), 1 << 20);
		await addKitFile(app.db, id, author, file, name, at);
		arrived(file);
	}
}
