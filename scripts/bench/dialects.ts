/** The same log in other dialects of text. */
import { readFileSync, writeFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';

const split = (text: string) => {
	const end = text.indexOf('\n');
	return { head: text.slice(0, end).split(','), body: text.slice(end + 1) };
};

export const DIALECTS: Record<string, (text: string) => string | Buffer> = {
	'semicolon and decimal comma': (t) => t.replaceAll(',', ';').replaceAll('.', ','),
	'tabs, CRLF': (t) => t.replaceAll(',', '\t').replaceAll('\n', '\r\n'),
	'preamble and units row': (t) => {
		const { head, body } = split(t);
		const parts = head.map((h) => /^(.*) \((.*)\)$/.exec(h) ?? ['', h, '']);
		return `Recorder 3\nSession: evening\n\n${parts.map((p) => p[1]).join(',')}\n${parts.map((p) => p[2]).join(',')}\n${body}`;
	},
	'every cell quoted': (t) => `"${t.trimEnd().replaceAll(',', '","').replaceAll('\n', '"\n"')}"\n`,
	'UTF-16': (t) => Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(t, 'utf16le')]),
	gzip: (t) => gzipSync(t),
	'time as hh:mm:ss.ff': (t) =>
		t.replace(/^(\d+)(\.\d+)/gm, (_, s: string, f: string) => {
			const n = Number(s);
			const two = (v: number) => String(Math.floor(v)).padStart(2, '0');
			return `${two(n / 3600)}:${two((n % 3600) / 60)}:${two(n % 60)}${f}`;
		})
};

export function writeDialect(from: string, to: string, name: string): void {
	writeFileSync(to, DIALECTS[name]!(readFileSync(from, 'utf8')));
}
