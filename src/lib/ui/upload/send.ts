/** Sends a file with progress; the answer is the log that it became. */
export interface Sent {
	id: number;
	duplicate: boolean;
}

/**
 * @param onProgress share sent, 0–1
 * @returns a promise and a way to break it off
 */
export function sendFile(
	url: string,
	file: File,
	onProgress: (share: number) => void
): { done: Promise<Sent>; cancel: () => void } {
	const request = new XMLHttpRequest();
	const done = new Promise<Sent>((resolve, reject) => {
		request.open('PUT', `${url}?name=${encodeURIComponent(file.name)}`);
		request.setRequestHeader('content-type', 'application/octet-stream');
		request.upload.onprogress = (e) => {
			if (e.lengthComputable) onProgress(e.loaded / e.total);
		};
		request.onload = () => {
			let answer: { message?: string } & Partial<Sent> = {};
			try {
				answer = JSON.parse(request.responseText) as typeof answer;
			} catch {
				// An answer that is no JSON is told by its status below.
			}
			if (request.status < 300 && answer.id !== undefined)
				resolve({ id: answer.id, duplicate: answer.duplicate ?? false });
			else reject(new Error(answer.message ?? `the server answered ${request.status}; try again`));
		};
		request.onerror = () => reject(new Error('the connection broke off; nothing was stored. Try again'));
		request.onabort = () => reject(new Error('cancelled'));
		request.send(file);
	});
	return { done, cancel: () => request.abort() };
}
