/** What a page says that cannot be fetched. */
export const AWAY = 'The server does not answer.';

/** An answer that is a refusal: what was wrong, and what would be accepted. */
export class Refused extends Error {
	constructor(
		readonly status: number,
		message: string,
		readonly accepted?: string,
		readonly line?: number,
		readonly byte?: number,
		readonly revision?: number,
		/** What the server's log calls an error that is not ours to mend. */
		readonly id?: string
	) {
		super(message);
	}

	static from(status: number, text: string): Refused {
		try {
			const { message, accepted, line, byte, revision, id } = JSON.parse(text) as Refused;
			return new Refused(status, id ? `${message} (${id} in the server’s log)` : message, accepted, line, byte, revision, id);
		} catch {
			return new Refused(status, `the server answered ${status}`);
		}
	}
}

/** Browsers let 64 KiB in all outlive a page. */
export const KEEPALIVE_LIMIT = 30_000;

/** Calls our own server with JSON. Throws Refused, or Error when it cannot be reached. */
export async function call<T>(method: string, url: string, body?: unknown): Promise<T> {
	const options: RequestInit = { method, headers: { 'content-type': 'application/json' } };
	if (body !== undefined) {
		options.body = JSON.stringify(body);
		// A small write under way outlives the page that made it.
		options.keepalive = options.body.length < KEEPALIVE_LIMIT;
	}
	let response: Response;
	try {
		response = await fetch(url, options);
	} catch {
		throw new Error('the server does not answer');
	}
	const text = await response.text();
	if (!response.ok) throw Refused.from(response.status, text);
	return JSON.parse(text) as T;
}

/** Largest file worth sending; the server has the same limit. */
export const LARGEST_UPLOAD = 8_000_000_000;

/** Sends a file to an address with progress from 0 to 1. Throws Refused; AbortError when `signal` stops it. */
export function upload(
	method: 'POST' | 'PUT',
	url: string,
	file: File,
	onProgress: (share: number) => void,
	signal: AbortSignal
): Promise<{ id: string }> {
	return new Promise((resolve, reject) => {
		// fetch tells nothing of how far a body has been sent.
		const request = new XMLHttpRequest();
		request.open(method, url);
		// The server's framework hands on no body that does not say what it is.
		request.setRequestHeader('content-type', 'application/octet-stream');
		request.upload.onprogress = (event) => onProgress(event.lengthComputable ? event.loaded / event.total : 0);
		request.onload = () =>
			request.status === 201
				? resolve(JSON.parse(request.responseText) as { id: string })
				: reject(Refused.from(request.status, request.responseText));
		request.onerror = () => reject(new Error('the server does not answer'));
		request.onabort = () => reject(new DOMException('stopped', 'AbortError'));
		signal.addEventListener('abort', () => request.abort());
		request.send(file);
	});
}
