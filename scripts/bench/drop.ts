/** From drop to verdict of one log on the built server, and what it takes on disk. */
import { benchServer } from './server.ts';

const server = await benchServer();
const { id, ...times } = await server.drop(process.argv[2]!);
const stored = await server.stored(id);
await server.end();
console.log(JSON.stringify({ ...times, ...stored }));
