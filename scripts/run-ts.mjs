/** Runs a TypeScript file of the project: `node scripts/run-ts.mjs FILE ARGS…`. */
import { pathToFileURL } from 'node:url';
import { resolve } from 'node:path';
import { ensureInstall } from './ensure-install.mjs';

ensureInstall();
const { checksVersion } = await import('./checks-version.mjs');
process.env.TANTO_CHECKS_VERSION ??= await checksVersion();
// Names of folders such as $core stand there.
process.env.TSX_TSCONFIG_PATH ??= resolve('tsconfig.node.json');
const { register } = await import('tsx/esm/api');
register();
const [file, ...args] = process.argv.slice(2);
process.argv = [process.argv[0], file, ...args];
await import(pathToFileURL(resolve(file)).href);
