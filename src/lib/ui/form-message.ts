/** The message that a form was refused with; empty where it wasn't. */
export const messageOf = (form: object | null | undefined): string =>
	form && 'message' in form && typeof form.message === 'string' ? form.message : '';
