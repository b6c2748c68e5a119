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

const outcome = z.enum(['within', 'outside', 'undecided']);
const bounds = z.tuple([rational, rational]);
const where = z.object({
	timer: z.string(),
	channel: z.string().optional(),
	aim: z.string().optional(),
	what: z.string(),
	planned: z.union([z.number(), z.string()]),
	found: z.union([z.number(), z.string()]),
	clock: z.record(z.string(), z.string()).optional()
});
const known = z.tuple([z.number(), z.number()]);
/** What a dump of registers says of it, where one was given that does. */
const dump = z.enum(['holds', 'contradicts']).optional();
const about = z.object({ aims: z.array(z.string()), recording: z.string().optional() }).optional();

export const checkShape = z.object({
	format: z.literal('nolvet-check'),
	version: z.literal(1),
	plan: z.string(),
	/** Do the pins do what was wished? */
	verdict: outcome,
	/** Do they do what the registers say? */
	as_set: outcome,
	/** What each recorded line shows; without an aim: nothing of the plan. */
	lines: z.array(
		z.object({ file: z.string(), line: z.string(), guessed: z.boolean(), aim: z.string().optional(), role: z.string().optional() })
	),
	aims: z.array(
		z.object({
			id: z.string(),
			name: z.string(),
			verdict: outcome,
			as_set: outcome,
			/** Does every line show what is predicted? */
			explained: z.boolean().optional(),
			reasons: z.array(z.string()),
			quantities: z.array(
				z.object({
					of: z.string(),
					role: z.string(),
					recording: z.string(),
					line: z.string(),
					unit: z.string(),
					against: z.string().optional(),
					set: rational.optional(),
					set_unit: z.string().optional(),
					planned: rational.nullable(),
					wish: rational.optional(),
					measured: rational.nullable(),
					count: z.int(),
					deviation: rational.nullable(),
					parts: z.object({ aim: rational, source: bounds, rounding: bounds, recording: rational, instrument: rational }).nullable(),
					within: z.boolean().nullable(),
					explained: z.boolean().nullable(),
					shown: z.boolean().nullable()
				})
			)
		})
	),
	/** How each recording lies on the plan. */
	alignment: z.array(
		z.object({
			recording: z.string(),
			fits: z.boolean(),
			offset_s: z.number(),
			ratio_ppm: z.number(),
			offset_known_s: known.optional(),
			ratio_known_ppm: known.optional(),
			matched: z.int().optional(),
			missing: z.int().optional(),
			extra: z.int().optional(),
			places: z.int().optional(),
			/** What source and instrument allow of the ratio. */
			ratio_allowed_ppm: known,
			/** How far matched edges lie from their places: how many in each bin, the first of which begins at `from_s`. */
			errors: z.object({ from_s: z.number(), width_s: z.number(), counts: z.array(z.int()) }).optional()
		})
	),
	differences: z.array(
		z.object({
			recording: z.string(),
			line: z.string(),
			aim: z.string(),
			kind: z.enum(['late', 'early', 'missing', 'extra', 'glitch']),
			at_s: z.number(),
			off_s: z.number().optional()
		})
	),
	/** Best first; what cannot be told from the first of an entry stands in its ties. */
	suspects: z.array(
		z.object({
			codes: z.array(z.string()),
			where: z.array(where),
			explains: z.boolean(),
			/** The greatest residual: at most 1 explains. null: beyond any. */
			worst: z.number().nullable(),
			ties: z.array(z.object({ codes: z.array(z.string()), where: z.array(where), dump })),
			dump,
			/** The aims, and the one of several recordings, that it explains; left out: all. */
			about,
			/** What would tell it from the first of its ties. */
			tell: z.object({ of: z.string(), line: z.string(), aim: z.string(), role: z.string(), seconds: z.number().optional() }).nullable()
		})
	),
	damage: z.array(
		z.object({ code: z.string(), recording: z.string(), lines: z.array(z.string()), count: z.number(), at_s: z.number().optional() })
	),
	/** Suspects against quantities: signed residuals; the first row is the plan as it stands. */
	evidence: z.object({
		columns: z.array(z.object({ recording: z.string(), line: z.string(), aim: z.string(), role: z.string(), of: z.string() })),
		rows: z.array(
			z.object({
				codes: z.array(z.string()),
				where: z.array(where),
				explains: z.boolean(),
				tie: z.boolean(),
				about,
				cells: z.array(z.number().nullable())
			})
		)
	}),
	/** Measured times as ticks of their timers. */
	turned: z.array(
		z.object({
			line: z.string(),
			aim: z.string(),
			of: z.string(),
			seconds: z.number(),
			tick_s: z.number(),
			ticks: known,
			planned: z.number(),
			timer: z.string()
		})
	)
});

const registerFinding = z.tuple([z.string()]).rest(z.union([z.string(), z.number()]));

const access = z.object({
	do: z.enum(['read', 'write', 'wait']),
	step: z.string(),
	reg: z.string(),
	address: z.int(),
	bits: z.int(),
	for: z.array(z.string()),
	value: z.int().optional(),
	mask: z.int().optional()
});

export const registersShape = z.object({
	format: z.literal('nolvet-registers'),
	version: z.literal(1),
	plan: z.string(),
	/** Revision, date and hash of the plan. */
	state: z.string(),
	quantities: z.record(z.string(), z.record(z.string(), z.union([z.number(), z.string(), z.boolean()]))),
	/** In their order; all mask bits set: a whole write. */
	accesses: z.array(access),
	/** What registers come to: bits of `value` that `known` has; `decided`: bits that an access wrote. */
	registers: z.array(
		z.object({
			reg: z.string(),
			address: z.int(),
			bits: z.int(),
			reset: z.int().nullable(),
			value: z.int(),
			known: z.int(),
			decided: z.int()
		})
	),
	findings: z.array(registerFinding)
});

export const codeShape = z.object({
	format: z.literal('nolvet-code'),
	version: z.literal(1),
	plan: z.string(),
	/** Texts by name of the file. */
	files: z.record(z.string(), z.string())
});

export const readBackShape = z.object({
	format: z.literal('nolvet-read-back'),
	version: z.literal(1),
	plan: z.string(),
	/** What the dump says of every unit. */
	quantities: z.record(z.string(), z.record(z.string(), z.union([z.number(), z.string(), z.boolean()]))),
	differing: z.array(
		z.object({
			quantity: z.string(),
			planned: z.union([z.number(), z.string(), z.boolean()]),
			read: z.union([z.number(), z.string(), z.boolean()])
		})
	),
	/** Bits that the set-up decides, and what stands there. */
	registers: z.array(
		z.object({
			reg: z.string(),
			address: z.int(),
			bits: z.int(),
			planned: z.int(),
			decided: z.int(),
			read: z.int(),
			known: z.int(),
			differing: z.int()
		})
	),
	findings: z.array(registerFinding)
});

export const importSvdShape = z.object({
	format: z.literal('nolvet-import-svd'),
	version: z.literal(1),
	name: z.string(),
	peripherals: z.array(z.object({ name: z.string(), base: z.int(), registers: z.int() })),
	findings: z.array(z.object({ line: z.int(), fault: z.string(), of: z.string() }))
});

export type ImportSvdOutput = z.infer<typeof importSvdShape>;
export type ReadBackOutput = z.infer<typeof readBackShape>;
export type RegistersOutput = z.infer<typeof registersShape>;
export type CodeOutput = z.infer<typeof codeShape>;
export type CheckOutput = z.infer<typeof checkShape>;
export type DeriveOutput = z.infer<typeof deriveShape>;
export type MeasureOutput = z.infer<typeof measureShape>;
export type MeasuredRecording = MeasureOutput['recordings'][number];
