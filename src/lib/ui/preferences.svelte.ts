/** What a reader chose at the top of the page: units and theme. Kept in cookies, so that the server draws the same page. */
import { fixed } from '$core/format';
import { getContext, setContext } from 'svelte';
import { inUnits } from './in-units';
import { DEFAULT_UNITS, shown, type Shown, type UnitChoice } from '$core/units/display';

export type Theme = 'system' | 'light' | 'dark';

export interface StoredPreferences {
	units: UnitChoice;
	theme: Theme;
}

const KEY = Symbol('preferences');
const YEAR_S = 31_536_000;

export class Preferences {
	units: UnitChoice = $state({ ...DEFAULT_UNITS });
	theme: Theme = $state('system');

	constructor(stored: StoredPreferences) {
		this.units = stored.units;
		this.theme = stored.theme;
	}

	setUnits(units: UnitChoice): void {
		this.units = units;
		remember('units', JSON.stringify(units));
	}

	setTheme(theme: Theme): void {
		this.theme = theme;
		remember('theme', theme);
		document.documentElement.classList.toggle('dark', theme === 'dark');
		document.documentElement.classList.toggle('light', theme === 'light');
	}

	/** Whether the page is dark now; as the system has it where nothing was chosen. In the browser only. */
	isDark(): boolean {
		return this.theme === 'system'
			? matchMedia('(prefers-color-scheme: dark)').matches
			: this.theme === 'dark';
	}

	shown(value: number, unit: string, fuelStoich?: number): Shown {
		return shown(value, unit, this.units, fuelStoich);
	}

	/** A sentence with its quantities in the reader's units. */
	say(text: string, fuelStoich?: number): string {
		return inUnits(text, this.units, fuelStoich);
	}

	/** What a finding is called, and its sentence. */
	finding(f: { title: string; summary: string; said?: { title: string; summary: string } | undefined }) {
		return { title: this.say(f.said?.title ?? f.title), summary: this.say(f.said?.summary ?? f.summary) };
	}

	/** A value with its unit, as text; an en dash when there is none. */
	text(value: number | null | undefined, unit: string, fuelStoich?: number): string {
		if (value === null || value === undefined || !Number.isFinite(value)) return '–';
		const s = this.shown(value, unit, fuelStoich);
		// The sign of an angle follows its number without a space (ISO 80000-1).
		const space = s.unit === '°' ? '' : ' ';
		return `${fixed(s.value, s.decimals)}${space}${s.unit}`.trim();
	}
}

export function remember(name: string, value: string): void {
	document.cookie = `${name}=${encodeURIComponent(value)}; path=/; max-age=${YEAR_S}; samesite=lax`;
}

export function providePreferences(stored: StoredPreferences): Preferences {
	return setContext(KEY, new Preferences(stored));
}

export function usePreferences(): Preferences {
	return getContext<Preferences>(KEY);
}
