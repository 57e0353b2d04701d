/** Short texts that only this folder can read again: AES-256-GCM (NIST SP 800-38D) under a key drawn (HKDF, RFC 5869) from the folder's own. */
import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const NONCE = 12;
const TAG = 16;

/** The key of a data folder: made at the first start, kept beside the database, readable by its owner only. */
export function folderKey(dataDir: string): string {
	const path = join(dataDir, 'session-key');
	if (!existsSync(path)) writeFileSync(path, randomBytes(32).toString('hex'), { mode: 0o600 });
	return readFileSync(path, 'utf8');
}

const keyFor = (dataDir: string, use: string) =>
	Buffer.from(hkdfSync('sha256', folderKey(dataDir), '', use, 32));

export function seal(dataDir: string, use: string, text: string): string {
	const nonce = randomBytes(NONCE);
	const cipher = createCipheriv('aes-256-gcm', keyFor(dataDir, use), nonce);
	const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
	return Buffer.concat([nonce, cipher.getAuthTag(), body]).toString('base64url');
}

/** `null` where it was sealed by another key, or changed since. */
export function unseal(dataDir: string, use: string, sealed: string): string | null {
	const bytes = Buffer.from(sealed, 'base64url');
	try {
		const cipher = createDecipheriv('aes-256-gcm', keyFor(dataDir, use), bytes.subarray(0, NONCE));
		cipher.setAuthTag(bytes.subarray(NONCE, NONCE + TAG));
		return Buffer.concat([cipher.update(bytes.subarray(NONCE + TAG)), cipher.final()]).toString('utf8');
	} catch {
		return null;
	}
}
