/** The message that a form was refused with; empty where it wasn't. */
export const messageOf = (form: object | null | undefined): string =>
	form && 'message' in form && typeof form.message === 'string' ? form.message : '';

export interface Refused {
	/** What was sent, by the name of the input. */
	entered: Record<string, string>;
	/** What is wrong with it. */
	fields: Record<string, string>;
}

/** What a form was refused with, field by field; null where it wasn't, or where it was no field's fault. */
export const refusedOf = (form: object | null | undefined): Refused | null =>
	form && 'fields' in form && 'entered' in form
		? { entered: form.entered as Refused['entered'], fields: form.fields as Refused['fields'] }
		: null;
