/** Bundles the server's worker threads: `node scripts/bundle-workers.mjs OUT`. Packages stay outside, as in the server itself. */
import { build } from 'esbuild';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import aliases from './aliases.cjs';
import { checksVersion } from './checks-version.mjs';
import { root } from './ensure-install.mjs';

const folder = join(root, 'src/lib/server/workers');

/** @param {string} outdir @returns {Promise<import('esbuild').BuildOptions & { outdir: string }>} */
export async function options(outdir) {
	return {
		entryPoints: readdirSync(folder)
			.filter((f) => f.endsWith('.worker.ts'))
			.map((f) => join(folder, f)),
		outdir,
		outExtension: { '.js': '.mjs' },
		bundle: true,
		platform: 'node',
		target: 'node20',
		format: 'esm',
		packages: 'external',
		alias: aliases.resolve.alias,
		define: { __CHECKS_VERSION__: JSON.stringify(await checksVersion()) },
		sourcemap: true,
		logLevel: 'warning'
	};
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href)
	await build(await options(join(root, process.argv[2] ?? 'build/server-workers')));
