/** Colours of the lines of a lane, by what they stand for: on the canvas, and beside their name. */
export const TONES = {
	first: '--trace-1',
	second: '--trace-2',
	third: '--trace-3',
	old: '--trace-old'
} as const;

export const SWATCH = {
	first: 'border-[var(--trace-1)]',
	second: 'border-[var(--trace-2)]',
	third: 'border-[var(--trace-3)]',
	old: 'border-[var(--trace-old)]'
};
