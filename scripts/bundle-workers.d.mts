import type { BuildOptions } from 'esbuild';
export function options(outdir: string): BuildOptions;
