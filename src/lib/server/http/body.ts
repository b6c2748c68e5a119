import { z } from 'zod';
import { uncleanAt } from '../../../core/part/index.js';

/** Largest bodies of JSON, in bytes; plans and profiles hold whole documents. */
export const JSON_LIMIT = 5_000_000;
export const DOCUMENT_LIMIT = 20_000_000;
/** Deepest nesting that any document of ours comes near to. */
const DEEPEST = 64;
/** How long a sender may keep silent, and how long it has for a body of JSON. */
const PATIENCE_MS = 1000 * Number(process.env.NOLVET_PATIENCE ?? 30);
/** An upload must bring so much in so many times the patience, time that we took to work on it not counted. */
const LEAST_BYTES = 32_768;

/** The number of a revision, as far as the database counts. */
export const revisionNumber = z.int().min(1).max(2_147_483_647);

/** A body that is not taken, and what would be. */
export class BodyError extends Error {
	constructor(
		readonly status: number,
		message: string,
		readonly accepted?: string
	) {
		super(message);
	}
}

/** The body as `schema` has it: JSON that can be stored as it is. Throws BodyError, SyntaxError or ZodError. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>, limit = JSON_LIMIT): Promise<T> {
	const text = await readText(request, limit);
	if (nesting(text) > DEEPEST) throw new BodyError(400, 'the body is nested too deep', `${DEEPEST} levels are read`);
	const value = JSON.parse(text) as unknown;
	// Only what is escaped can be a text that cannot be stored.
	const at = /\\u(?:0000|d[89a-f])/i.test(text) ? uncleanAt(value) : undefined;
	if (at) throw new BodyError(400, `${at.join('.') || 'the text'} holds a NUL or half a character`, 'whole characters are taken');
	return schema.parse(value);
}

/** The pieces of a body as they come. Throws BodyError when the sender is silent or slow for too long. */
export async function* piecesOf(request: Request): AsyncGenerator<Uint8Array> {
	if (!request.body) return;
	const reader = (request.body as ReadableStream<Uint8Array>).getReader();
	let waited = 0;
	let bytes = 0;
	try {
		for (;;) {
			const began = performance.now();
			const { done, value } = await inTime(reader.read(), PATIENCE_MS);
			if (done) return;
			yield value;
			waited += performance.now() - began;
			bytes += value.length;
			if (waited < 2 * PATIENCE_MS) continue;
			if (bytes < LEAST_BYTES) throw tooSlow();
			waited = bytes = 0;
		}
	} finally {
		reader.releaseLock();
	}
}

/** The whole body as text. One that is too large is heard out up to the fourfold, so that the sender hears the answer. */
async function readText(request: Request, limit: number): Promise<string> {
	const told = Number(request.headers.get('content-length') ?? 0);
	if (told > 4 * limit) throw tooLarge(limit);
	const until = performance.now() + PATIENCE_MS;
	const pieces: Uint8Array[] = [];
	let bytes = 0;
	for await (const piece of piecesOf(request)) {
		bytes += piece.length;
		if (bytes > 4 * limit) throw tooLarge(limit);
		if (performance.now() > until) throw tooSlow();
		if (bytes <= limit) pieces.push(piece);
	}
	if (bytes > limit) throw tooLarge(limit);
	return new TextDecoder().decode(Buffer.concat(pieces));
}

function tooLarge(limit: number): BodyError {
	return new BodyError(413, 'the body is too large', `bodies of up to ${limit / 1e6} MB are read here`);
}

function tooSlow(): BodyError {
	return new BodyError(408, 'the body came too slowly');
}

async function inTime<T>(work: Promise<T>, ms: number): Promise<T> {
	let timer: ReturnType<typeof setTimeout> | undefined;
	const late = new Promise<never>((_, fail) => (timer = setTimeout(() => fail(tooSlow()), ms)));
	try {
		return await Promise.race([work, late]);
	} finally {
		clearTimeout(timer);
	}
}

/** How deep brackets and braces stand in one another, outside of strings. */
function nesting(text: string): number {
	let depth = 0;
	let deepest = 0;
	let quoted = false;
	for (let i = 0; i < text.length; i++) {
		const c = text.charCodeAt(i);
		if (quoted) {
			if (c === 0x5c) i++;
			else if (c === 0x22) quoted = false;
		} else if (c === 0x22) quoted = true;
		else if (c === 0x5b || c === 0x7b) deepest = Math.max(deepest, ++depth);
		else if (c === 0x5d || c === 0x7d) depth--;
	}
	return deepest;
}
