import { z } from 'zod';
import { factors, id, links, multiples, name, positive, positiveRational, rational } from './words.js';

/** A clock node as a part profile has it: what it is, its limits, and its setting at reset (timers.md 1). */
const limit = z.strictObject({ hz: positiveRational, why: z.string().max(300) });
const base = { id, name, min: limit.optional(), max: limit.optional(), links };

export const clockNode = z.discriminatedUnion('kind', [
	z.strictObject({
		...base,
		kind: z.literal('source'),
		hz: positiveRational,
		ppm: z.strictObject({ lo: rational, hi: rational }),
		/** True where the board decides the frequency (a crystal). */
		chosen: z.boolean()
	}),
	z.strictObject({ ...base, kind: z.literal('divide'), from: id, by: factors, reset: positive }),
	z.strictObject({ ...base, kind: z.literal('multiply'), from: id, by: multiples, reset: z.union([positive, positiveRational]) }),
	z.strictObject({ ...base, kind: z.literal('select'), from: z.array(id).min(1).max(64), reset: id }),
	z.strictObject({
		...base,
		kind: z.literal('follow'),
		from: id,
		/** A divide node, whose setting decides the factor. */
		watch: id,
		table: z.array(z.tuple([positive, positiveRational])).max(1000),
		otherwise: positiveRational
	}),
	z.strictObject({ ...base, kind: z.literal('gate'), from: id, reset: z.boolean() })
]);

export type ClockNodeProfile = z.infer<typeof clockNode>;
export type NodeKind = ClockNodeProfile['kind'];
export type NodeOf<K extends NodeKind> = Extract<ClockNodeProfile, { kind: K }>;

/** Ids that a node takes its clock or its factor from. */
export function feedersOf(node: ClockNodeProfile): string[] {
	if (node.kind === 'source') return [];
	if (node.kind === 'select') return node.from;
	return node.kind === 'follow' ? [node.from, node.watch] : [node.from];
}
