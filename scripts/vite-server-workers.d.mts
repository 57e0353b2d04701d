import type { Plugin } from 'vite';
export function serverWorkers(): Plugin;
