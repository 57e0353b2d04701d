/**
 * Two windows on one draft: what both made of the version that they had in common, brought together. What only one of them touched is
 * taken from that one; what both changed, and not to the same, is for a person.
 */

/** Keyed parts of a draft, compared by their content. */
export type Parts<T> = ReadonlyMap<string, T>;

export interface Conflict<T> {
	key: string;
	/** `undefined` where that side took it away. */
	mine: T | undefined;
	theirs: T | undefined;
}

export interface Merged<T> {
	/** Both together; where they are at odds, mine. */
	parts: Map<string, T>;
	conflicts: Conflict<T>[];
}

/**
 * @param base what both began with
 * @param same whether two parts say the same
 */
export function mergeParts<T>(
	base: Parts<T>,
	mine: Parts<T>,
	theirs: Parts<T>,
	same: (a: T, b: T) => boolean
): Merged<T> {
	const equal = (a: T | undefined, b: T | undefined) =>
		a === b || (a !== undefined && b !== undefined && same(a, b));
	const parts = new Map<string, T>();
	const conflicts: Conflict<T>[] = [];
	for (const key of new Set([...base.keys(), ...mine.keys(), ...theirs.keys()])) {
		const [was, my, their] = [base.get(key), mine.get(key), theirs.get(key)];
		const untouched = equal(my, was);
		if (!untouched && !equal(their, was) && !equal(my, their))
			conflicts.push({ key, mine: my, theirs: their });
		const taken = untouched ? their : my;
		if (taken !== undefined) parts.set(key, taken);
	}
	return { parts, conflicts };
}
