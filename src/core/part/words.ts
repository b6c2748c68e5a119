import { z } from 'zod';
import { Rational } from '../exact/index.js';

/** The small words that every piece of a part profile is made of. */
export const id = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'format:id-wanted');
export const name = z.string().min(1).max(80);

/** A whole number of 1 to 2^32: a divisor, a ratio, a count. */
export const positive = z
	.int()
	.min(1)
	.max(2 ** 32);
export const whole = z
	.int()
	.min(0)
	.max(2 ** 32);

/** "72000000", "0.5" or "3/2". */
export const rational = z
	.string()
	.max(80)
	.regex(/^[+-]?(\d+ ?\/ ?\d+|(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,4})?)$/, 'format:number-wanted')
	.refine((text) => Rational.tryParse(text) !== undefined, 'zero-denominator');
export const positiveRational = rational.refine((text) => (Rational.tryParse(text)?.sign ?? 1) > 0, 'positive-wanted');

/** A page of a manual or a note elsewhere, on any element. */
export const link = z.strictObject({
	title: z.string().min(1).max(200),
	address: z
		.string()
		.max(500)
		.regex(/^(https?:\/\/[^\s/\\]|\.{0,2}\/(?![/\\]))\S*$/, 'format:address-wanted'),
	page: z.int().min(1).optional()
});
export const links = z.array(link).max(20).optional();

const range = z.strictObject({ from: positive, to: positive });

/** Whole factors: a list, or a range with both ends included. */
export const factors = z.union([z.array(positive).min(1).max(10_000), range]);

/** Factors of a multiplier: m of a list or a range, and with `fractionBits` b also m + k/2^b for k of 0 to 2^b - 1. */
export const multiples = z.union([
	z.array(positiveRational).min(1).max(10_000),
	z.array(positive).min(1).max(10_000),
	z.strictObject({ from: positive, to: positive, fractionBits: z.int().min(1).max(24).optional() })
]);

export type Link = z.infer<typeof link>;
export type Factors = z.infer<typeof factors>;
export type Multiples = z.infer<typeof multiples>;
