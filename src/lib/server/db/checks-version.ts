/** Which checks screen here. Builds carry it; scripts that run the sources get it in the environment; tests need none. */
declare const __CHECKS_VERSION__: string | undefined;

export const CHECKS_VERSION: string =
	typeof __CHECKS_VERSION__ === 'string'
		? __CHECKS_VERSION__
		: (process.env['TANTO_CHECKS_VERSION'] ?? 'checks of the sources');
