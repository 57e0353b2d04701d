/** What a command prints: a JSON document, or pieces of another format. */
export type Answer = { json: unknown } | { pieces: Iterable<string | Uint8Array> };

/** Where a command writes: `out` takes what is asked for, and resolves when it is ready for more; `err` takes messages for people. */
export interface Output {
	out(piece: string | Uint8Array): Promise<void>;
	err(text: string): void;
}
