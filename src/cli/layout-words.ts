/** What the command line says of the layout of its logs. */
import type { LayoutHint } from '../core/logfile/layout-hint.ts';
import { single, UsageError, type Words } from './args.ts';

/** Words that say how a log is laid out. */
export const LAYOUT = ['time', 'header', 'separator'];
const SEPARATORS = { comma: ',', semicolon: ';', tab: '\t' } as const;

/** What the command line says of the layout of its logs; nothing where it says nothing. */
export function hintFrom(w: Words): LayoutHint | undefined {
	const [time, header, word] = LAYOUT.map((name) => single(w, name));
	if (time === undefined && header === undefined && word === undefined) return undefined;
	const headerLine = header === undefined ? undefined : Number(header);
	if (headerLine !== undefined && !(Number.isInteger(headerLine) && headerLine >= 1 && headerLine <= 60))
		throw new UsageError(`--header ${header}: a line from 1 to 60`);
	if (word !== undefined && !Object.hasOwn(SEPARATORS, word))
		throw new UsageError(`--separator ${word}: one of ${Object.keys(SEPARATORS).join(', ')}`);
	const separator = word === undefined ? undefined : SEPARATORS[word as keyof typeof SEPARATORS];
	return { time, headerLine, separator };
}
