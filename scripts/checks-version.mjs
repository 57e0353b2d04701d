/**
 * What stands for the checks in every stored screening: a fingerprint of all code that screening uses, without comments and names. Any
 * mend of it makes another one, and what was screened before is screened anew.
 */
import { build } from 'esbuild';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { root } from './ensure-install.mjs';

/** @returns {Promise<string>} */
export async function checksVersion() {
	const { outputFiles } = await build({
		entryPoints: [join(root, 'src/core/screening/screen.ts')],
		bundle: true,
		minify: true,
		legalComments: 'none',
		write: false,
		format: 'esm',
		platform: 'neutral',
		packages: 'external',
		logLevel: 'warning'
	});
	return `checks ${createHash('sha256').update(outputFiles[0].contents).digest('hex').slice(0, 12)}`;
}
