/** Kinds of swap tests: below the checks, which name those that would follow a finding. */
export const SWAP_KINDS = [
	'injectors-side-to-side',
	'lambda-side-to-side',
	'lambda-moved',
	'between-cylinders',
	'repair'
] as const;
export type SwapKind = (typeof SWAP_KINDS)[number];

export const SWAP_TITLES: Record<SwapKind, string> = {
	'injectors-side-to-side': 'Injectors from side to side',
	'lambda-side-to-side': 'Lambda sensors from side to side',
	'lambda-moved': 'One lambda sensor moved to the other bank',
	'between-cylinders': 'Between two cylinders (injector, coil or plug)',
	repair: 'Something mended (gasket, leak, connector)'
};
