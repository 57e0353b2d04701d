/** The commands: JSON on standard output, messages on standard error; exit 0 done, 1 refused, 2 wrong usage. */
import { InputError } from '../core/input-error.ts';
import type { Answer, Output } from './answer.ts';
import { UsageError } from './args.ts';

const USAGE = `tanto screen LOG --vehicle V.json [--calibration C.json]… [--stated N] [--request R.json]
tanto revise C.json LOG… [--with OLDER.json LOG…]… --vehicle V.json [--out NEXT.json] [--cautious] [--requirement R.csv]
tanto compare A.json B.json [--vehicle V.json]
tanto replay C.json NEXT.json LOG --vehicle V.json
tanto convert LOG --to csv|jsonl|parquet [--vehicle V.json]
tanto convert C.json --to cdf|csv [--item ID]
tanto convert C.xml --to json
tanto table FILE [--x FILE] [--y FILE] [--item ID]
tanto table FILE --against C.json --item ID [--units U] [--x-unit U] [--y-unit U] [--decimals N] [--rows y-up|y-down] [--layout L.json] [--calibration OLDER.json]…
tanto table C.json --item ID --layout L.json
tanto build --layout L.json DIR --out C.json
tanto swap BEFORE AFTER [BACK] --vehicle V.json --swap S.json [--calibration C.json]… [--stated N] [--stated-after M]
tanto plugs P.json C.json --vehicle V.json [--log LOG] [--rank lambda,plugs,egt] [--out NEXT.json]
tanto injectors --vehicle V.json --goal G.json [--log LOG]
tanto ladder C.json LOG… --vehicle V.json --goal G.json [--plugs P.json]
tanto rescale C.json --vehicle OLD.json --to NEW.json [--out NEXT.json]
tanto join LOG OTHER [--out JOINED.csv] [--shared rpm|speed]
tanto power LOG [--readings T.json]… [--against LOG2 [--readings T2.json]…] --vehicle V.json

After a log that it belongs to: --conditions K.json (the day, and where its sensors sat), --readings T.json (what was read beside it)
A log whose layout isn't recognised: --time COLUMN, --header LINE, --separator comma|semicolon|tab
`;

/** Each is loaded when it is asked for: a wrong word is answered at once. */
const COMMANDS: Record<string, () => Promise<{ run: (args: string[], output: Output) => Promise<Answer> }>> =
	{
		screen: () => import('./commands/screen.ts'),
		revise: () => import('./commands/revise.ts'),
		compare: () => import('./commands/compare.ts'),
		replay: () => import('./commands/replay.ts'),
		convert: () => import('./commands/convert.ts'),
		table: () => import('./commands/table.ts'),
		build: () => import('./commands/build.ts'),
		swap: () => import('./commands/swap.ts'),
		plugs: () => import('./commands/plugs.ts'),
		injectors: () => import('./commands/injectors.ts'),
		ladder: () => import('./commands/ladder.ts'),
		rescale: () => import('./commands/rescale.ts'),
		join: () => import('./commands/join.ts'),
		power: () => import('./commands/power.ts')
	};

/** The process' own streams. A reader that has seen enough (`tanto … | head`) ends the command quietly. */
function processOutput(): Output {
	for (const stream of [process.stdout, process.stderr])
		stream.on('error', (e: NodeJS.ErrnoException) => {
			// A pipe says the one, a socket the other.
			if (e.code === 'EPIPE' || e.code === 'ECONNRESET') process.exit(process.exitCode ?? 0);
			throw e;
		});
	return {
		async out(piece) {
			if (!process.stdout.write(piece)) await new Promise((r) => process.stdout.once('drain', r));
		},
		err: (text) => void process.stderr.write(text)
	};
}

/** @returns the exit code: 0 done, 1 refused with a message, 2 wrong usage */
export async function main(args: string[], output: Output = processOutput()): Promise<number> {
	const [name = '', ...rest] = args;
	try {
		if (name === 'help' || name === '--help') {
			await output.out(USAGE);
			return 0;
		}
		const load = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
		if (!load) throw new UsageError(name ? `there is no command "${name}"` : 'a command is missing');
		const answer = await (await load()).run(rest, output);
		if ('json' in answer) await output.out(`${JSON.stringify(answer.json, null, '\t')}\n`);
		else for (const piece of answer.pieces) await output.out(piece);
		return 0;
	} catch (e) {
		if (e instanceof UsageError) {
			output.err(`${e.message}\n\n${USAGE}`);
			return 2;
		}
		if (e instanceof InputError) {
			const how = 'seen' in e ? ': --time COLUMN, --header LINE, --separator comma|semicolon|tab' : '';
			output.err(`${e.message}${how}\n`);
			return 1;
		}
		throw e;
	}
}
