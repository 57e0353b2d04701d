/** The stories of the demo whose logs are named after what is wrong show it. */
import { expect, it } from 'vitest';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { stories } from '../../scripts/demo/world.ts';
import { prepare } from '../../src/core/evidence/prepare.ts';
import { readLog } from '../../src/core/logfile/read.ts';
import { screenPrepared } from '../../src/core/screening/screen.ts';
import { readContextOf } from '../../src/core/vehicle/facts.ts';

function found(title: string, seed?: number) {
	const story = stories().find((s) => s.title.startsWith(title))!;
	const [log] = story.logs;
	const text = drive(story.vehicle, story.calibration, log!.faults, seed ?? log!.seed);
	const read = readLog([new TextEncoder().encode(text)], readContextOf(story.vehicle));
	return screenPrepared(prepare(read, { vehicle: story.vehicle, calibrations: [story.calibration] }))
		.findings;
}
const titles = (list: ReturnType<typeof found>) => list.map((f) => f.title).join('; ');

it('a sensor that reads rich at the top only: the sources are apart there, and nothing else is at stop', () => {
	const findings = found('Marl no. 2');
	expect(findings.filter((f) => f.severity === 'stop').map((f) => f.code)).toEqual(['sensor.lambda']);
	expect(findings[0]!.region!.rpm![0]).toBeGreaterThanOrEqual(5000);
});

it.each([undefined, 7, 8])(
	'a cylinder that dies reads lean, and is called what it may be (seed %s)',
	(seed) => {
		const said = titles(found('Finch no. 2', seed));
		expect(said).toContain('ean, or a dead cylinder');
	}
);
