/** The tuner of the demo world. Its password is no secret: it exists only in a world that was seeded as a demo. */
export const DEMO_TUNER = {
	name: 'Sable Orrin',
	email: 'sable@tanto.example',
	password: 'paper-and-ink',
	role: 'owner'
} as const;
