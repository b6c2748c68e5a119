import type { z } from 'zod';

/** What a finding's code is about: words of the document and numbers, by name. */
export type FindingDetails = Readonly<Record<string, string | number>>;

/** Something wrong in a document, as data, with the place: ["clock", 3, "from"]. */
export interface DocumentFinding {
	path: (string | number)[];
	code: string;
	details?: FindingDetails;
}

/** What a schema found, flattened: a union speaks for the branch that reached deepest, which is the one that was meant. */
export function shapeFindings(issue: z.core.$ZodIssue): DocumentFinding[] {
	const path = issue.path.map((key) => (typeof key === 'symbol' ? String(key) : key));
	switch (issue.code) {
		case 'unrecognized_keys':
			return issue.keys.map((key) => ({ path: [...path, key], code: 'unknown-key' }));
		case 'invalid_union': {
			const depth = (branch: z.core.$ZodIssue[]) => Math.max(0, ...branch.map((one) => one.path.length));
			const meant = [...issue.errors].sort((a, b) => depth(b) - depth(a))[0] ?? [];
			if (depth(meant) === 0) return [{ path, code: 'not-understood' }];
			return meant.flatMap(shapeFindings).map((one) => ({ ...one, path: [...path, ...one.path] }));
		}
		case 'custom':
			return [{ path, code: issue.message, ...(issue.params && { details: issue.params as FindingDetails }) }];
		case 'invalid_type':
			return [{ path, code: 'wrong-type', details: { expected: issue.expected } }];
		case 'invalid_value':
			return [{ path, code: 'wrong-word', details: { known: issue.values.map(String).join(', ') } }];
		case 'invalid_format':
			return [{ path, code: issue.message.startsWith('format:') ? issue.message.slice(7) : 'wrong-format' }];
		case 'too_small':
			return [{ path, code: `too-small-${issue.origin}`, details: { limit: Number(issue.minimum) } }];
		case 'too_big':
			return [{ path, code: `too-large-${issue.origin}`, details: { limit: Number(issue.maximum) } }];
		default:
			return [{ path, code: 'not-understood' }];
	}
}
