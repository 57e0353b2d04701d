/** Which swap tests a vehicle has the parts for. */
import { SWAP_KINDS, SWAP_TITLES, type SwapKind } from '../swap-kind.ts';
import { InputError } from '../input-error.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { bankCount } from '../vehicle/facts.ts';

type Parts = Pick<Vehicle, 'engine' | 'sensors'>;

/** Two sensors of banks; a sheet that lists none says nothing against them. */
function hasSensorPerBank(vehicle: Parts): boolean {
	const sites = (vehicle.sensors?.lambda ?? []).map((s) => s.site);
	const ofBanks = new Set(sites.filter((site) => site === 'bank1' || site === 'bank2'));
	return ofBanks.size === 0 || ofBanks.size === 2;
}

/** @returns the kinds of tests that can be done on this vehicle, in the order of `SWAP_KINDS` */
export function possibleSwaps(vehicle: Parts): readonly SwapKind[] {
	const twoBanks = bankCount(vehicle as Vehicle) === 2;
	const possible: Record<SwapKind, boolean> = {
		'injectors-side-to-side': twoBanks,
		'lambda-side-to-side': twoBanks && hasSensorPerBank(vehicle),
		'lambda-moved': twoBanks,
		'between-cylinders': vehicle.engine.cylinders > 1,
		repair: true
	};
	return SWAP_KINDS.filter((kind) => possible[kind]);
}

/** @throws InputError on a test of parts that the vehicle doesn't have */
export function refuseImpossibleSwap(kind: SwapKind, vehicle: Parts): void {
	if (possibleSwaps(vehicle).includes(kind)) return;
	throw new InputError(
		`“${SWAP_TITLES[kind]}” can’t be done on this vehicle: its sheet has ${bankCount(vehicle as Vehicle) === 1 ? 'one bank' : 'one lambda sensor for both banks'}`,
		'kind'
	);
}
