import { z } from 'zod';
import { CARD_KINDS } from '../measure/index.js';
import { aimSchema, ident, stimulus, typed, type Aim } from '../aims/index.js';
import { changeList } from './changes.js';
import { partProfile, shapeFindings, uncleanAt, type DocumentFinding, type PartProfile } from '../part/index.js';
import { upgradeDocument } from './migrations.js';

/**
 * The plan document, format version 8: immutable, and holding what people typed, as they typed it. Nothing derived is
 * stored, so a wrong entry survives a reload and a better derivation needs no migration.
 */
export const PLAN_VERSION = 9;

export const mapping = z.strictObject({
	id: ident,
	recording: ident,
	/** Name of the recorded line. */
	line: z.string().max(300),
	aim: ident,
	/** Which of the aim's lines it shows; left out: its first. */
	role: z.string().max(300).optional(),
	/** The instrument's stated error of its time base, as typed; `by` names an instrument that says it instead. */
	instrument: typed,
	by: z.string().max(64).optional()
});

/** Where a recording was laid by hand, as typed. */
export const laying = z.strictObject({
	/** The recording's time at which the plan's time is 0. */
	offset: typed,
	/** How much faster its clock runs, such as "-64 ppm"; empty: not at all. */
	ratio: typed
});

/** What measured: the errors that it states and the rates in which it can be believed, as typed; empty: not said. */
export const instrument = z.strictObject({
	id: ident,
	name: typed,
	/** Of its time base, such as "20 ppm". */
	time: typed,
	/** Of an amplitude, such as "1 %" or "20 mV". */
	amplitude: typed,
	/** Lowest and highest rate of a signal that it can be believed for. */
	lowest: typed,
	highest: typed
});

/** A value that somebody has read off and typed. */
export const reading = z.strictObject({
	id: ident,
	aim: ident,
	/** Which of the aim's planned quantities it is of, and of which of its lines. */
	of: z.string().max(40),
	line: z.string().max(300),
	value: typed,
	/** What it can be off by; empty: half its last digit. */
	error: typed,
	/** The id of an instrument; empty: none is stated. */
	by: z.string().max(64)
});

/** Readings against what was set, row by row, as they were typed or logged. */
export const sweep = z.strictObject({
	id: ident,
	name: typed,
	aim: ident,
	/** What was set and what was read, as a relation of the aim ("rate>ticks"). */
	of: z.string().max(80),
	/** Units of bare numbers; empty: hertz, seconds, a share of 1 or a count. */
	setUnit: typed,
	readUnit: typed,
	/** What a reading can be off by; empty: half its last digit. */
	error: typed,
	/** Ids of the instruments that set and that read; empty: none is stated. */
	setBy: z.string().max(64),
	readBy: z.string().max(64),
	rows: z.array(z.tuple([z.string().max(80), z.string().max(80)])).max(20_000)
});

/** A rate asked of a clock node; `value` is a rate as typed, another node's id for `equal`, and unused for `highest` and `lowest`. */
export const clockWish = z.strictObject({
	id: ident,
	node: ident,
	kind: z.enum(['exactly', 'nearest', 'multiple', 'equal', 'highest', 'lowest']),
	value: typed
});

/** A named moment on the bench: `at` in seconds of plan time, "num/den". */
export const benchMark = z.strictObject({
	id: ident,
	name: z.string().max(60),
	at: z.string().regex(/^-?\d{1,60}\/[1-9]\d{0,40}$/)
});

/** A measurement that stays: of a mapped line, or of it against another. */
export const benchCard = z.strictObject({
	id: ident,
	of: z.enum(CARD_KINDS),
	/** Ids of mappings; `other` is empty where one line is enough. */
	lane: ident,
	other: z.string().max(64),
	over: z.enum(['all', 'view', 'marks']),
	/** Ids of the marks between which it measures; empty where they are not asked for. */
	from: z.string().max(64),
	to: z.string().max(64),
	/** The time that glitches, pauses, bursts and bounces hang on, as typed. */
	limit: typed
});

const frame = {
	version: z.literal(PLAN_VERSION),
	name: typed,
	note: z.string().max(4000),
	/** Settings of clock nodes by node id, as typed; left out: as at reset, or open for a gate that an aim's timer needs. */
	clock: z.record(ident, typed),
	/** The plan's own names and notes for clock nodes, by node id. */
	labels: z.record(ident, z.strictObject({ name: typed, note: z.string().max(2000) })),
	/** Rates asked for, the weightiest first, and the nodes whose settings stay as they are in a search. */
	wishes: z.array(clockWish).max(50),
	held: z.array(ident).max(10_000),
	aims: z.array(aimSchema).max(1000),
	mappings: z.array(mapping).max(1000),
	/** Signals at the inputs of aims, by aim; one that is left out is chosen to fit the aim. */
	stimuli: z.record(ident, stimulus),
	/** Recordings that were laid on the plan by hand, by recording. */
	layings: z.record(z.string().max(64), laying),
	/** What software writes while it runs, at most one list a timer. */
	changes: z.array(changeList).max(100),
	/** What is marked and measured on the bench; `zero` is the mark from which times count, empty for none. */
	marks: z.array(benchMark).max(500),
	zero: z.string().max(64),
	cards: z.array(benchCard).max(500),
	/** Instruments that measured for this plan, and what was read off them. */
	instruments: z.array(instrument).max(200),
	readings: z.array(reading).max(2000),
	sweeps: z.array(sweep).max(200),
	/** Of a plan's file: the revision that it was saved from, and its date. */
	made: z.strictObject({ revision: z.int().min(1), date: z.string().regex(/^\d{4}-\d{2}-\d{2}$/) }).optional()
};

/** `part`: the plan's own snapshot of its part. */
export const planDocument = z.strictObject({ ...frame, part: partProfile }).superRefine(uniqueIds);
/** As planDocument, for a document whose part is known to be sound. */
export const planFrame = z.strictObject({ ...frame, part: z.custom<PartProfile>() }).superRefine(uniqueIds);

const LISTS = ['aims', 'mappings', 'wishes', 'changes', 'marks', 'cards', 'instruments', 'readings', 'sweeps'] as const;

/** What steps, mappings and lanes call by its id must be one. */
function uniqueIds(document: Pick<z.infer<z.ZodObject<typeof frame>>, (typeof LISTS)[number]>, context: z.RefinementCtx): void {
	for (const name of LISTS) {
		const list = document[name];
		const seen = new Set<string>();
		list.forEach(({ id }, i) => {
			if (seen.has(id)) context.addIssue({ code: 'custom', message: 'id-twice', path: [name, i, 'id'], params: { id } });
			seen.add(id);
		});
	}
}

export type Plan = z.infer<typeof planDocument>;
export type { Aim };
export type Mapping = z.infer<typeof mapping>;
export type BenchMark = z.infer<typeof benchMark>;
export type BenchCard = z.infer<typeof benchCard>;
export type Instrument = z.infer<typeof instrument>;
export type Reading = z.infer<typeof reading>;
export type Sweep = z.infer<typeof sweep>;
export type ClockWish = z.infer<typeof clockWish>;

/** A document that cannot be read: all its findings at once, each with its path. */
export class PlanError extends Error {
	constructor(readonly findings: DocumentFinding[]) {
		super(findings.map(({ path, code }) => `${code} ${path.join('.')}`).join('; '));
	}
}

/** Reads a stored or imported document of any known version. Throws PlanError. */
export function readPlan(raw: unknown): Plan {
	const unclean = uncleanAt(raw);
	if (unclean) throw new PlanError([{ path: unclean, code: 'text-unclean' }]);
	const version = z.object({ version: z.int().min(1) }).safeParse(raw);
	if (!version.success) throw new PlanError([{ path: ['version'], code: 'version-wanted' }]);
	if (version.data.version > PLAN_VERSION)
		throw new PlanError([{ path: ['version'], code: 'version-newer', details: { version: version.data.version, known: PLAN_VERSION } }]);
	const read = planDocument.safeParse(upgradeDocument(raw as { version: number }));
	if (read.success) return read.data;
	throw new PlanError(read.error.issues.flatMap(shapeFindings));
}
