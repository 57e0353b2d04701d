/** Forms of customers' pages: what a page sends is read, what none sends is broken off at once, however it is shaped. */
import { describe, expect, it } from 'vitest';
import { customerFields, customerForm } from './customer-form.ts';

const post = (body: BodyInit, type?: string) =>
	new Request('http://127.0.0.1/c/x', {
		method: 'POST',
		body,
		...(type ? { headers: { 'content-type': type } } : {})
	});
const form = (...fields: [string, string | Blob][]) => {
	const data = new FormData();
	for (const [name, value] of fields) data.append(name, value);
	return post(data);
};

describe('a form of a customer', () => {
	it('is read with its photo, byte for byte, or without one', async () => {
		const photo = new Uint8Array(300_000).map((_, i) => i % 251);
		const read = await customerForm(form(['item', ' belts '], ['photo', new Blob([photo])]));
		expect(read.fields.get('item')).toBe('belts');
		expect(Buffer.compare(Buffer.from(read.file!), Buffer.from(photo))).toBe(0);
		const plain = await customerForm(post(new URLSearchParams({ body: 'Grüße' })));
		expect(plain).toMatchObject({ fields: new Map([['body', 'Grüße']]), file: null });
		expect((await customerForm(form(['item', 'a'], ['photo', new Blob([])]))).file).toBeNull();
	});
	it.each([
		['of 240 000 parts', () => form(...Array.from({ length: 2400 }, (): [string, string] => ['a', 'b']))],
		['of many fields in its address', () => post(new URLSearchParams('a=b&'.repeat(2400)))],
		['with two files', () => form(['a', new Blob(['1'])], ['b', new Blob(['2'])])]
	])('%s is refused', async (_, request) => {
		await expect(customerForm(request())).rejects.toThrow('more parts');
	});
	it('with a field or a photo without end is refused, as is what is no form', async () => {
		await expect(customerForm(form(['words', 'x'.repeat(70_000)]))).rejects.toThrow('longer');
		await expect(customerForm(form(['photo', new Blob([new Uint8Array(16 << 20)])]))).rejects.toThrow(
			'15 MB'
		);
		await expect(customerForm(post('{}', 'application/json'))).rejects.toThrow('no form');
		await expect(customerForm(post('--x\r\n', 'multipart/form-data'))).rejects.toThrow();
		await expect(customerForm(post('--x\r\nbroken', 'multipart/form-data; boundary=x'))).rejects.toThrow(
			'broke off'
		);
		await expect(customerFields(post('{}', 'application/json'))).rejects.toMatchObject({ status: 400 });
	});
});
