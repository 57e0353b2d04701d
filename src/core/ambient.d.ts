/**
 * The one platform interface the core uses: WHATWG text coding, which browsers, workers and Node all
 * provide globally. Declared here so that neither the DOM nor Node types have to be let in.
 */
declare class TextDecoder {
	constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
	decode(input?: Uint8Array): string;
}

declare class TextEncoder {
	encode(text: string): Uint8Array;
}
