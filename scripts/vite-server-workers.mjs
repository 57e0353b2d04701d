/** Vite plugin: in development, keeps the bundled worker threads up to date beside the packages' cache. */
import { context } from 'esbuild';
import { join } from 'node:path';
import { options } from './bundle-workers.mjs';
import { root } from './ensure-install.mjs';

export function serverWorkers() {
	return {
		name: 'tanto-server-workers',
		apply: (_config, { command, isPreview }) => command === 'serve' && !isPreview && !process.env.VITEST,
		async configureServer(server) {
			const bundler = await context(await options(join(root, 'node_modules/.cache/tanto/server-workers')));
			await bundler.rebuild();
			await bundler.watch();
			server.httpServer?.once('close', () => void bundler.dispose());
		}
	};
}
