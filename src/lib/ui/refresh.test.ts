/** A page that is kept true gets its data also where they take longer to come than the time between. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';

const load = vi.hoisted(() => ({ begun: 0, come: () => {} }));
vi.mock('$app/navigation', () => ({
	invalidateAll: () => {
		load.begun++;
		return new Promise<void>((done) => (load.come = done));
	}
}));
vi.mock('$app/state', () => ({ navigating: { to: null } }));

import { refreshEvery } from './refresh';

beforeEach(() => {
	vi.useFakeTimers();
	vi.stubGlobal('document', { visibilityState: 'visible' });
	load.begun = 0;
});
afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

it('none is begun before the last one has come', async () => {
	const end = refreshEvery(500);
	await vi.advanceTimersByTimeAsync(3000);
	expect(load.begun).toBe(1);
	load.come();
	await vi.advanceTimersByTimeAsync(500);
	expect(load.begun).toBe(2);
	end();
	load.come();
	await vi.advanceTimersByTimeAsync(3000);
	expect(load.begun).toBe(2);
});
