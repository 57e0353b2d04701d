/** The built server on a folder and a port of its own, which a test starts, stops and kills. */
import { spawn, type ChildProcess } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DEMO_WORLD } from '../../scripts/ensure-demo-world.mjs';

/** A connection for one request: none is left over from a server that was killed. */
export const ONCE = { connection: 'close' };

const freePort = (): Promise<number> =>
	new Promise((resolve, reject) => {
		const probe = createServer();
		probe.once('error', reject);
		probe.listen(0, '127.0.0.1', () => {
			const { port } = probe.address() as AddressInfo;
			probe.close(() => resolve(port));
		});
	});

export class BuiltServer {
	private process: ChildProcess | null = null;
	/** What it said since it was started: shown when it ends although nobody ended it. */
	private said = '';

	private constructor(
		readonly folder: string,
		private readonly port: number,
		private readonly demo: boolean
	) {}

	/** Not started yet; its address is known, so that links can be made before. @param folder a new, empty one without */
	static async on(folder = mkdtempSync(join(tmpdir(), 'tanto-own-'))): Promise<BuiltServer> {
		return new BuiltServer(folder, await freePort(), false);
	}

	/** Started, on a copy of the demo world that nobody else changes. */
	static async withDemoWorld(): Promise<BuiltServer> {
		const folder = mkdtempSync(join(tmpdir(), 'tanto-demo-'));
		cpSync(DEMO_WORLD, folder, { recursive: true });
		const server = new BuiltServer(folder, await freePort(), true);
		await server.start();
		return server;
	}

	get address(): string {
		return `http://127.0.0.1:${this.port}`;
	}

	async start(): Promise<void> {
		this.said = '';
		const child = spawn(process.execPath, ['build/index.js'], {
			stdio: ['ignore', 'ignore', 'pipe'],
			env: {
				...process.env,
				HOST: '127.0.0.1',
				PORT: String(this.port),
				ORIGIN: this.address,
				BODY_SIZE_LIMIT: 'Infinity',
				TANTO_DATA_DIR: this.folder,
				TANTO_DEMO: this.demo ? '1' : '0'
			}
		});
		child.stderr.on('data', (d) => (this.said = (this.said + String(d)).slice(-4000)));
		this.process = child;
		// A machine at a fraction of its speed takes half a minute for a start.
		for (let i = 0; i < 1200; i++) {
			const answers = await fetch(`${this.address}/healthz`, { headers: ONCE }).then(
				() => true,
				() => false
			);
			if (answers) return;
			await new Promise((r) => setTimeout(r, 50));
		}
		throw new Error(`the server did not come up: ${this.said}`);
	}

	/** Where the owner's account is made, as the server says it on a folder that has none. */
	get setup(): string {
		const said = /http\S+\/setup\?code=\S+/.exec(this.said)?.[0];
		if (!said) throw new Error(`the server didn't say where the first account is made: ${this.said}`);
		return said;
	}

	/** @throws with its last words when it ended although nobody ended it */
	alive(): void {
		const { exitCode, signalCode } = this.process!;
		if (exitCode !== null || signalCode !== null) {
			this.process = null;
			throw new Error(`the server ended by itself (${exitCode ?? signalCode}): ${this.said}`);
		}
	}

	get runs(): boolean {
		return this.process !== null;
	}

	/** Ends it and waits until it is gone. @throws when it was gone before */
	async end(signal: 'SIGKILL' | 'SIGTERM' = 'SIGKILL'): Promise<void> {
		this.alive();
		const gone = new Promise((r) => this.process!.once('exit', r));
		this.process!.kill(signal);
		await gone;
		this.process = null;
	}

	/** Ends it where it still runs, and removes its folder. */
	async remove(): Promise<void> {
		if (this.runs) await this.end();
		rmSync(this.folder, { recursive: true, force: true });
	}
}
