import { z } from 'zod';
import { RECORDING_FORMATS } from '../core/formats/index.js';

/**
 * What the command prints with --json. Other programs are built on these shapes: a new key does not raise the version, a
 * changed or missing one does. Rationals are "num/den" in lowest terms; times are in seconds.
 */
const rational = z.string().regex(/^-?\d+\/\d+$/);
const finding = z.object({ code: z.string(), severity: z.enum(['fault', 'warning']), path: z.string() });

export const deriveShape = z.object({
	format: z.literal('nolvet-derive'),
	version: z.literal(1),
	/** The plan's name. */
	plan: z.string(),
	/** Rates of the clock's nodes by id; null: stopped, or unknown. */
	nodes: z.record(z.string(), z.object({ hz: rational }).nullable()),
	aims: z.array(
		z.object({
			id: z.string(),
			name: z.string(),
			kind: z.string(),
			timer: z.string(),
			/** What registers are set to: integers, words, or 1 and 0. */
			settings: z.record(z.string(), z.union([z.number(), z.string()])),
			figures: z.record(z.string(), rational),
			findings: z.array(finding)
		})
	),
	/** Findings that belong to no aim: of the clock, and of lists of writes. */
	findings: z.array(finding)
});

const statistics = z.object({ count: z.int(), mean: rational, min: rational, max: rational }).nullable();

export const measureShape = z.object({
	format: z.literal('nolvet-measure'),
	version: z.literal(1),
	recordings: z.array(
		z.union([
			z.object({
				file: z.string(),
				kind: z.enum(RECORDING_FORMATS),
				/** What an edge's time can be off by. */
				step: rational,
				/** Where that comes from. */
				stepFrom: z.enum(['unit', 'sample', 'digit', 'hand']),
				/** What was said of the recording ahead of reading it. */
				settings: z.looseObject({}),
				notes: z.array(z.object({ code: z.string(), line: z.int().optional() })),
				lines: z.array(
					z.object({
						name: z.string(),
						edges: z.int(),
						/** Times of the first and the last edge; null where there is none. */
						first: rational.nullable(),
						last: rational.nullable(),
						/** Where samples were cut into levels, and the line's own step; left out for a line of levels. */
						threshold: z.number().optional(),
						hysteresis: z.number().optional(),
						step: rational.optional(),
						quantities: z.object({ period: statistics, frequency: statistics, high: statistics, low: statistics, duty: statistics })
					})
				)
			}),
			z.object({ file: z.string(), refused: z.object({ code: z.string(), line: z.int(), byte: z.int(), message: z.string() }) })
		])
	)
});

export type DeriveOutput = z.infer<typeof deriveShape>;
export type MeasureOutput = z.infer<typeof measureShape>;
export type MeasuredRecording = MeasureOutput['recordings'][number];
