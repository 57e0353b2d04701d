/** What a worker thread runs. Thin: the core computes. */
export * from './tasks/index.ts';
