#!/usr/bin/env node
/** The commands: the same core as the web application, run straight from its TypeScript. */
import { ensureInstall } from '../scripts/ensure-install.mjs';

ensureInstall();
const { register } = await import('tsx/esm/api');
register();
const { main } = await import('../src/cli/main.ts');
process.exitCode = await main(process.argv.slice(2));
