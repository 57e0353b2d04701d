/** Bundles the commands into one folder that starts fast: `node scripts/bundle-cli.mjs OUT`. Nothing of it needs the installed packages. */
import { build } from 'esbuild';
import { join } from 'node:path';
import { root } from './ensure-install.mjs';

await build({
	entryPoints: { main: join(root, 'src/cli/main.ts') },
	outdir: join(root, process.argv[2] ?? 'build/cli'),
	outExtension: { '.js': '.mjs' },
	bundle: true,
	splitting: true,
	platform: 'node',
	target: 'node20',
	format: 'esm',
	mainFields: ['module', 'main'],
	minify: true,
	// A few packages are written for the older kind of module and ask for parts of Node by its name.
	banner: {
		js: "import { createRequire as __of } from 'node:module'; const require = __of(import.meta.url);"
	},
	logLevel: 'warning'
});
