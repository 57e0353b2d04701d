/** What may be typed beside a log, and in which units. */

export const TYPED_KINDS = ['mixture', 'timing', 'power', 'torque', 'maxima'] as const;
export type TypedKind = (typeof TYPED_KINDS)[number];
export const TYPED_UNITS = {
	mixture: ['AFR', 'λ'],
	timing: ['°'],
	power: ['hp', 'kW'],
	torque: ['Nm', 'lb-ft'],
	maxima: ['']
} as const satisfies Record<TypedKind, readonly string[]>;
