import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { FormatError } from '../../../core/formats/index.js';
import { PlanError, StepMismatch } from '../../../core/plan/index.js';
import { documentsText, formatText, mismatchText } from '../../text/index.js';
import { StaleRevision } from '../store/revision.js';
import { LARGEST_UPLOAD, TooLarge } from '../recordings/recordings.js';

/** What a failed call answers: what was wrong, and what would be accepted. */
export interface Refusal {
	message: string;
	accepted?: string;
	/** Line and byte in an uploaded file. */
	line?: number;
	byte?: number;
	/** The newest revision, when the call was made for an older one. */
	revision?: number;
}

export function refuse(status: number, refusal: Refusal): Response {
	return json(refusal, { status });
}

/** The body as `schema` has it. Throws what `answering` turns into a 400. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
	return schema.parse(await request.json());
}

/** Runs a route and turns the errors that a caller can cause into answers. */
export async function answering(route: () => Promise<Response>): Promise<Response> {
	try {
		return await route();
	} catch (error) {
		if (error instanceof StaleRevision) return refuse(409, { message: error.message, revision: error.revision });
		if (error instanceof FormatError) {
			const { found, accepted } = formatText(error);
			return refuse(422, { message: found, accepted, line: error.line, byte: error.byte });
		}
		if (error instanceof TooLarge) return tooLarge();
		if (error instanceof PlanError) return refuse(422, { message: documentsText(error.findings) });
		if (error instanceof StepMismatch) return refuse(422, { message: mismatchText(error) });
		if (error instanceof z.ZodError) return refuse(400, { message: z.prettifyError(error) });
		if (error instanceof SyntaxError) return refuse(400, { message: 'the body is no JSON' });
		throw error;
	}
}

export function tooLarge(): Response {
	return refuse(413, { message: 'the file is too large', accepted: `recordings of up to ${LARGEST_UPLOAD / 1e6} MB are read` });
}
