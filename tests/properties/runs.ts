/** How often a property is tried: few times with the other tests, many by `npm run properties`. */
export function runs(few: number): number {
	const asked = Number(process.env['TANTO_PROPERTIES'] ?? '');
	return asked > 0 ? asked : few;
}
