/** What a command prints: a JSON document, or pieces of another format. */
export type Answer = { json: unknown } | { pieces: Iterable<string | Uint8Array> };
