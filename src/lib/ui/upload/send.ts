/** Sends a file in pieces (tus): with progress, taken up again where a broken connection left it. The answer is the log that it became. */
import { Upload, type DetailedError } from 'tus-js-client';

export interface Sent {
	id: number;
	duplicate: boolean;
}

const RETRY_MS = [0, 1000, 3000, 5000, 10_000, 20_000];

function messageOf(e: Error | DetailedError): string {
	const answer = 'originalResponse' in e ? e.originalResponse : null;
	const body = answer?.getBody() ?? '';
	try {
		const { message } = JSON.parse(body) as { message?: string };
		if (message) return message;
	} catch {
		// An answer that is no JSON is told by its status below.
	}
	if (answer === null) return 'the connection broke off. Choose the file again: it goes on where it stopped';
	if (answer.getStatus() === 413) return 'the file is larger than is taken';
	return `the server answered ${answer.getStatus()}; try again`;
}

/**
 * @param said what goes with the file: its kind, words, answers
 * @param onProgress share sent, 0–1
 * @returns a promise and a way to break it off
 */
export function sendFile(
	url: string,
	file: File,
	said: Record<string, string>,
	onProgress: (share: number) => void
): { done: Promise<Sent>; cancel: () => void } {
	let cancel = () => {};
	const all: Record<string, string> = { name: file.name, ...said };
	const metadata = Object.entries(all)
		.filter(([, value]) => value !== '')
		.map(([key, value]) => `${key} ${btoa(String.fromCodePoint(...new TextEncoder().encode(value)))}`)
		.join(',');
	const done = new Promise<Sent>((resolve, reject) => {
		const upload = new Upload(file, {
			endpoint: url,
			retryDelays: RETRY_MS,
			removeFingerprintOnSuccess: true,
			metadata: all,
			// With every piece, not only with the first: one that is taken up again brings the words as they are now.
			onBeforeRequest: (request) => {
				if (/^(HEAD|PATCH)$/.test(request.getMethod())) request.setHeader('Upload-Metadata', metadata);
			},
			onProgress: (sent, total) => onProgress(total ? sent / total : 0),
			onShouldRetry: (e) => {
				const status = e.originalResponse?.getStatus() ?? 0;
				return status === 0 || status >= 500 || status === 409 || status === 423;
			},
			onSuccess: ({ lastResponse }) => {
				const answer = JSON.parse(lastResponse.getBody()) as Sent;
				resolve({ id: answer.id, duplicate: answer.duplicate });
			},
			onError: (e) => reject(new Error(messageOf(e)))
		});
		cancel = () => {
			void upload.abort(true).catch(() => undefined);
			reject(new Error('cancelled'));
		};
		upload
			.findPreviousUploads()
			.then((before) => {
				if (before[0]) upload.resumeFromPreviousUpload(before[0]);
				upload.start();
			})
			.catch(() => upload.start());
	});
	return { done, cancel: () => cancel() };
}
