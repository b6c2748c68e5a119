import { z } from 'zod';
import { Rational } from '../exact/index.js';
import type { Prescaler } from './prescaler.js';

/**
 * A part profile: what a chip offers, as validated data (timers.md 1, 2, 3, 5). Frequencies and factors are
 * rational texts ("72000000", "3/2"); everything else is an integer or a word. Format version 1.
 */
export const PROFILE_VERSION = 1;

const id = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'small letters, digits and dashes, a letter first');
const name = z.string().min(1).max(80);
const positive = z
	.int()
	.min(1)
	.max(2 ** 32);
const rational = z
	.string()
	.max(80)
	.refine((text) => Rational.tryParse(text) !== undefined, 'a number such as "72000000" or "3/2"');
const positiveRational = rational.refine((text) => (Rational.tryParse(text)?.sign ?? 1) > 0, 'must be above zero');

const limit = z.object({ hz: positiveRational, why: z.string().max(300) });
const nodeBase = { id, name, min: limit.optional(), max: limit.optional() };
const range = z.object({ from: positive, to: positive });
const factors = z.union([z.array(positive).min(1), range]);

export const clockNode = z.discriminatedUnion('kind', [
	z.object({
		...nodeBase,
		kind: z.literal('source'),
		hz: positiveRational,
		ppm: z.object({ lo: rational, hi: rational }),
		/** True where the board decides the frequency (a crystal). */
		chosen: z.boolean()
	}),
	z.object({ ...nodeBase, kind: z.literal('divide'), from: id, by: factors, reset: positive }),
	z.object({ ...nodeBase, kind: z.literal('multiply'), from: id, by: factors, reset: positive }),
	z.object({ ...nodeBase, kind: z.literal('select'), from: z.array(id).min(1), reset: id }),
	z.object({
		...nodeBase,
		kind: z.literal('follow'),
		from: id,
		watch: id,
		table: z.array(z.tuple([positive, positiveRational])),
		otherwise: positiveRational
	}),
	z.object({ ...nodeBase, kind: z.literal('gate'), from: id, reset: z.boolean() })
]);

const prescaler: z.ZodType<Prescaler> = z.lazy(() =>
	z.discriminatedUnion('kind', [
		z.object({ kind: z.literal('linear'), max: positive }),
		z.object({
			kind: z.literal('ladder'),
			steps: z
				.array(
					z.object({
						ratio: z
							.int()
							.min(0)
							.max(2 ** 32),
						code: z.int().min(0)
					})
				)
				.min(1)
		}),
		z.object({ kind: z.literal('fixed'), ratio: positive }),
		z.object({ kind: z.literal('chain'), stages: z.array(prescaler).min(1).max(4) })
	])
);

export const timerProfile = z.object({
	id,
	name,
	kernel: id,
	prescaler,
	width: z.int().min(4).max(32),
	modes: z.array(z.enum(['up', 'down', 'updown'])).min(1),
	rule: z.enum(['inclusive', 'exclusive']),
	channels: z.array(z.object({ id, name, pin: z.string().min(1).max(40), output: z.enum(['below', 'above', 'enter', 'leave']) })).min(1)
});

export const partProfile = z
	.object({
		version: z.literal(PROFILE_VERSION),
		id,
		name,
		summary: z.string().max(400),
		clock: z.array(clockNode).min(1).max(10_000),
		timers: z.array(timerProfile)
	})
	.superRefine((part, ctx) => {
		const nodes = new Set<string>();
		part.clock.forEach((node, i) => {
			if (nodes.has(node.id)) ctx.addIssue({ code: 'custom', path: ['clock', i, 'id'], message: `"${node.id}" stands twice` });
			nodes.add(node.id);
		});
		part.clock.forEach((node, i) => {
			const inputs = node.kind === 'source' ? [] : node.kind === 'select' ? node.from : [node.from];
			if (node.kind === 'follow') inputs.push(node.watch);
			for (const from of inputs)
				if (!nodes.has(from)) ctx.addIssue({ code: 'custom', path: ['clock', i, 'from'], message: `there is no node "${from}"` });
			if (node.kind === 'select' && !node.from.includes(node.reset))
				ctx.addIssue({ code: 'custom', path: ['clock', i, 'reset'], message: `"${node.reset}" is none of its inputs` });
		});
		part.timers.forEach((timer, i) => {
			if (!nodes.has(timer.kernel))
				ctx.addIssue({ code: 'custom', path: ['timers', i, 'kernel'], message: `there is no node "${timer.kernel}"` });
		});
	});

export type PartProfile = z.infer<typeof partProfile>;
export type ClockNodeProfile = z.infer<typeof clockNode>;
export type TimerProfile = z.infer<typeof timerProfile>;
export type ChannelProfile = TimerProfile['channels'][number];

/** Is `value` among a node's factors: a list, or a range with both ends included? */
export function factorAllowed(factors: number[] | { from: number; to: number }, value: number): boolean {
	return Array.isArray(factors) ? factors.includes(value) : Number.isInteger(value) && value >= factors.from && value <= factors.to;
}
