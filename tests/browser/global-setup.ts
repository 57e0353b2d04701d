/** Before the browser tests: the build, and the demo world that every spec copies. Both are made only when their sources changed. */
import { ensureBuild } from '../../scripts/ensure-build.mjs';
import { ensureDemoWorld } from '../../scripts/ensure-demo-world.mjs';

export default function setup(): void {
	ensureBuild();
	ensureDemoWorld();
}
