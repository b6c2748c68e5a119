import { z } from 'zod';
import { Rational } from '../../src/core/exact/index.js';

/** The plain shapes of the vectors (vectors/README.md), strict: a field that is not known here fails its case. */
export const rational = z
	.string()
	.regex(/^-?\d+\/\d+$/)
	.transform((text) => Rational.parse(text));
export const integer = z.int();

export const vectorFile = z.strictObject({
	kind: z.string(),
	cases: z.array(z.strictObject({ name: z.string(), given: z.unknown(), expect: z.unknown() }))
});

/** What one kind, or one `what` of it, does with a case: read the given, return what is to equal `expect`; that is handed over for the ranges in it. */
export type Check = (given: unknown, expect: unknown) => unknown;

/** Plain JSON of a result, rationals as "num/den". */
export function plain(value: unknown): unknown {
	return JSON.parse(JSON.stringify(value));
}
