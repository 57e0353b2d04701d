/**
 * The house as a rule: what may import what. Checked over all of `src` by `npm run lint`.
 * Its configuration is the only place where the floors stand.
 */

/** The core from the ground up; names on one line share a floor and don't know each other. */
const FLOORS = [
	['input-error.ts', 'format.ts', 'units', 'stats'],
	['parse.ts'],
	['channels'],
	['request.ts', 'swap-kind.ts'],
	['logfile'],
	['limits'],
	['vehicle'],
	['calibration'],
	['evidence'],
	['screening'],
	['correction'],
	['revising'],
	['planning', 'performance'],
	['swaps', 'plugs', 'fuelling', 'delivered'],
	['climbing'],
	['simulator'],
	['practice']
];
/** The server from the ground up; the subjects on one line know each other. */
const SERVER_FLOORS = [
	['db'],
	['storage'],
	['auth', 'mail'],
	['jobs', 'logs', 'revisions'],
	['workers'],
	['context.ts'],
	['views'],
	['use-cases', 'archive', 'erasure'],
	['http'],
	['app.ts']
];
const escaped = (name) => name.replaceAll('.', '\\.');
const within = (names) => `^src/core/(${names.map(escaped).join('|')})(/|$)`;
/** Where the product begins: what the server, the browser, the commands and the scripts start from. */
const ENTRIES = '^src/routes/|^src/hooks\\.server\\.ts$|^src/cli/main\\.ts$|\\.worker\\.ts$|^scripts/';
const TESTS = '\\.test\\.ts$|^src/core/testing/';

/** An import only ever points to the same floor or below. Tests, and what is made for tests, may look down from anywhere. */
/** @type {import('dependency-cruiser').IForbiddenRuleType[]} */
const floors = FLOORS.flatMap((floor, n) =>
	floor.map((name) => ({
		name: `floor-of-${name}`,
		severity: 'error',
		comment: 'This import points to a floor above, or to a neighbour on the same floor.',
		from: { path: within([name]), pathNot: TESTS },
		to: {
			path: within([...floor.filter((other) => other !== name), ...FLOORS.slice(n + 1).flat(), 'testing'])
		}
	}))
);

const inServer = (names) => `^src/lib/server/(${names.map(escaped).join('|')})(/|$)`;

/** @type {import('dependency-cruiser').IForbiddenRuleType[]} */
const serverFloors = SERVER_FLOORS.slice(0, -1).map((floor, n) => ({
	name: `server-floor-of-${floor.join('-')}`,
	severity: 'error',
	comment: 'This import points to a floor of the server above.',
	from: { path: inServer(floor), pathNot: TESTS },
	to: { path: inServer([...SERVER_FLOORS.slice(n + 1).flat(), 'testing']) }
}));

/** @returns {import('dependency-cruiser').IForbiddenRuleType} */
const forbidden = (name, comment, from, to) => ({ name, severity: 'error', comment, from, to });

/** @type {import('dependency-cruiser').IConfiguration} */
export default {
	forbidden: [
		...floors,
		...serverFloors,
		forbidden(
			'no-circle',
			'Modules that import each other can only be understood together.',
			{},
			{ circular: true }
		),
		forbidden(
			'core-is-pure',
			'The core has no interface, no server, no database and no Node code.',
			{ path: '^src/core/' },
			{ path: '^src/(lib|routes|cli)/|node_modules/(svelte|kysely|@sveltejs)/' }
		),
		forbidden(
			'core-has-no-node',
			'The core runs in the browser as well.',
			{ path: '^src/core/' },
			{ dependencyTypes: ['core'] }
		),
		forbidden(
			'floors-of-the-application',
			'Routes import the library, the library imports the core, never back.',
			{ path: '^src/(lib|cli)/' },
			{ path: '^src/routes/' }
		),
		forbidden(
			'routes-ask-the-server',
			'A route parses, calls one function and answers; queries stand beside their aggregate.',
			{ path: '^src/(routes|lib/ui)/' },
			{ path: 'node_modules/(kysely|better-sqlite3)/' }
		),
		forbidden(
			'nothing-unused',
			'No import leads to this module from a page, a route, a command, a worker or a script: remove it.',
			{ path: ENTRIES },
			{ path: '^src/', pathNot: `${ENTRIES}|${TESTS}|/testing/|\\.d\\.ts$`, reachable: false }
		)
	],
	options: {
		doNotFollow: { path: 'node_modules' },
		tsPreCompilationDeps: true,
		webpackConfig: { fileName: 'scripts/aliases.cjs' },
		moduleSystems: ['es6'],
		enhancedResolveOptions: {
			extensions: ['.ts', '.svelte', '.js', '.mjs'],
			exportsFields: ['exports'],
			conditionNames: ['import', 'svelte', 'default']
		}
	}
};
