/** How much a stranger may send. */
import { describe, expect, it } from 'vitest';
import { BodyTooLong, limited, limitOf } from './body-limit.ts';

describe('bodies', () => {
	const stream = (bytes: number) =>
		new ReadableStream<Uint8Array>({
			start(c) {
				for (let i = 0; i < bytes; i += 16_384) c.enqueue(new Uint8Array(16_384));
				c.close();
			}
		});
	const post = (bytes: number) =>
		new Request('http://x/sign-in', { method: 'POST', body: stream(bytes), duplex: 'half' } as RequestInit);
	it.each(['/sign-in', '/setup', '/join/[token]', null])('of a stranger at %s stay small', (route) => {
		expect(limitOf(route, false)).toBe(65_536);
	});
	it.each(['/c/[token]/inspection', '/c/[token]/plugs'])('with a photo of a phone fit at %s', (route) => {
		expect(limitOf(route, false, new URLSearchParams('/photo'))).toBeGreaterThan(15 << 20);
	});
	it.each(['/c/[token]', '/c/[token]/inspection', '/c/[token]/plugs', '/c/[token]/problem'])(
		'of a customer without a photo take 256 kB at %s',
		(route) => {
			expect(limitOf(route, false, new URLSearchParams('/answer'))).toBe(256 << 10);
			expect(limitOf(route, true)).toBe(256 << 10);
		}
	);
	it('break off where they are longer than they may be', async () => {
		await expect(limited(post(1 << 20), 65_536).arrayBuffer()).rejects.toThrow(BodyTooLong);
		expect((await limited(post(32_768), 65_536).arrayBuffer()).byteLength).toBe(32_768);
	});
	it('are refused at once where they say so', () => {
		const said = new Request('http://x/', {
			method: 'POST',
			body: 'x',
			headers: { 'content-length': '99999999' }
		});
		expect(() => limited(said, 65_536)).toThrow();
	});
	it('of files stream without a limit here', () => {
		expect(limitOf('/c/[token]/uploads/[...id]', false)).toBe(Infinity);
	});
});
