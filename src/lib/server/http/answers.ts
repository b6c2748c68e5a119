import { error, isHttpError, isRedirect, json } from '@sveltejs/kit';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { FormatError } from '../../../core/formats/index.js';
import { PlanError, StepMismatch } from '../../../core/plan/index.js';
import { documentsText, formatText, mismatchText } from '../../text/index.js';
import { log } from '../log.js';
import { Gone, LARGEST_UPLOAD, TooLarge } from '../recordings/pieces.js';
import { StaleRevision } from '../store/revision.js';
import { reasonOf, unavailable } from '../store/trouble.js';
import { BodyError } from './body.js';

/** What a failed call answers: what was wrong, and what would be accepted. */
export interface Refusal {
	message: string;
	accepted?: string;
	/** Line and byte in an uploaded file. */
	line?: number;
	byte?: number;
	/** The newest revision, when the call was made for an older one. */
	revision?: number;
	/** The recording whose file could not be read. */
	recording?: string;
	/** What the server's log calls an error that is ours. */
	id?: string;
}

export function refuse(status: number, refusal: Refusal): Response {
	return json(refusal, { status, headers: status === 503 ? { 'retry-after': '2' } : {} });
}

/** Runs a route and turns its errors into answers: what a caller can mend is told, what is ours is logged and gets an id. */
export async function answering(route: () => Promise<Response>): Promise<Response> {
	try {
		return await route();
	} catch (thrown) {
		if (isHttpError(thrown) || isRedirect(thrown)) throw thrown;
		if (thrown instanceof BodyError)
			return refuse(thrown.status, { message: thrown.message, ...(thrown.accepted && { accepted: thrown.accepted }) });
		if (thrown instanceof StaleRevision) return refuse(409, { message: thrown.message, revision: thrown.revision });
		if (thrown instanceof FormatError) {
			const { found, accepted } = formatText(thrown);
			return refuse(422, { message: found, accepted, line: thrown.line, byte: thrown.byte });
		}
		if (thrown instanceof TooLarge)
			return refuse(413, { message: 'the file is too large', accepted: `recordings of up to ${LARGEST_UPLOAD / 1e9} GB are read` });
		if (thrown instanceof Gone) return refuse(410, { message: 'the recording was deleted meanwhile' });
		if (thrown instanceof PlanError) return refuse(422, { message: documentsText(thrown.findings) });
		if (thrown instanceof StepMismatch) return refuse(422, { message: mismatchText(thrown) });
		if (thrown instanceof z.ZodError) return refuse(400, { message: z.prettifyError(thrown) });
		if (thrown instanceof SyntaxError) return refuse(400, { message: 'the body is no JSON' });
		const later = unavailable(thrown);
		if (later) return refuse(503, { message: later });
		return refuse(500, { message: OURS, id: noteError(thrown, {}) });
	}
}

/** Runs a page's load: where the database cannot serve, the page says so and asks again. */
export async function loading<T>(load: () => Promise<T>): Promise<T> {
	try {
		return await load();
	} catch (thrown) {
		const later = unavailable(thrown);
		if (later === undefined) throw thrown;
		error(503, { message: 'Not just now.', accepted: `${later[0].toUpperCase()}${later.slice(1)}.` });
	}
}

export const OURS = 'something went wrong here, not with what you sent';

/** Logs an error that is ours with its reason, never with what was sent. Returns the id that the page shows. */
export function noteError(thrown: unknown, where: Record<string, unknown>): string {
	const id = randomUUID().slice(0, 8);
	log.error({ id, ...where, ...reasonOf(thrown) }, 'a call failed');
	return id;
}
