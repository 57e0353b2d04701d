/** Unguessable tokens in links: 256 bits, of which only the hash is kept. */
import { createHash, randomBytes } from 'node:crypto';

export function newToken(): string {
	return randomBytes(32).toString('base64url');
}

export function hashOf(token: string): string {
	return createHash('sha256').update(token).digest('hex');
}
