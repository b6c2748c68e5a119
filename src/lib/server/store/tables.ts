import type { CheckTold } from '../../session/pastChecks.js';
import type { LastVerdict, PartSummed, PlanSummed } from '../../session/listing.js';
import {
	bigint,
	boolean,
	customType,
	doublePrecision,
	index,
	integer,
	json,
	jsonb,
	pgSequence,
	pgTable,
	primaryKey,
	smallint,
	text,
	timestamp
} from 'drizzle-orm/pg-core';
import type { Plan, Step, StepKind } from '../../../core/plan/index.js';
import type { Analogue, Note, ReadSettings, RecordingFormat, Slicing, StepFrom } from '../../../core/formats/index.js';
import type { ImportProgress, ImportState, ImportTrouble } from '../../text/imports.js';

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
const moment = () => timestamp({ withTimezone: true });

/** Something worked out of a revision by a build of this program. */
export type Stamped<T> = T & { revision: number; build: string };

/** A plan as it stands; deletedAt set: put away, and can be brought back. */
export const plans = pgTable('plans', {
	id: text().primaryKey(),
	revision: integer().notNull(),
	document: json().$type<Plan>().notNull(),
	/** What Plans lists of it, and of which revision and build that is; worked out when it is wanted. */
	summary: jsonb().$type<Stamped<PlanSummed>>().notNull(),
	lastVerdict: jsonb().$type<LastVerdict>(),
	createdAt: moment().notNull().defaultNow(),
	savedAt: moment().notNull().defaultNow(),
	deletedAt: moment()
});

/** One saved step a row: the plan's history, from which undo works after a reload too. */
export const revisions = pgTable(
	'revisions',
	{
		planId: text()
			.notNull()
			.references(() => plans.id, { onDelete: 'cascade' }),
		number: integer().notNull(),
		kind: text().$type<StepKind>().notNull(),
		merged: smallint().notNull(),
		step: json().$type<Step>().notNull(),
		/** The name that its sender gave it: sent twice, it is stored once. */
		stepId: text(),
		savedAt: moment().notNull().defaultNow()
	},
	(table) => [primaryKey({ columns: [table.planId, table.number] })]
);

/** Checks of a plan as they came out, oldest first by their number. */
export const checks = pgTable(
	'checks',
	{
		number: integer().primaryKey().generatedAlwaysAsIdentity(),
		planId: text()
			.notNull()
			.references(() => plans.id, { onDelete: 'cascade' }),
		revision: integer().notNull(),
		/** What it was made from, and what came of it. */
		told: jsonb().$type<CheckTold>().notNull(),
		madeAt: moment().notNull().defaultNow()
	},
	(table) => [index().on(table.planId)]
);

/** Numbers of attempts to read a file: no two readers ever write rows of one number. */
export const generations = pgSequence('generations');

/** A recording's frame: rationals as "num/den", times in units. */
export const recordings = pgTable(
	'recordings',
	{
		id: text().primaryKey(),
		planId: text()
			.notNull()
			.references(() => plans.id, { onDelete: 'cascade' }),
		name: text().notNull(),
		format: text().$type<RecordingFormat>().notNull(),
		/** Size of the file it was read from, and its SHA-256 in hexadecimal. */
		bytes: bigint({ mode: 'number' }).notNull(),
		sha256: text(),
		/** What was said of the file, and what it was read with in the end. */
		settings: jsonb().$type<ReadSettings>().notNull().default({}),
		stepFrom: text().$type<StepFrom>().notNull().default('unit'),
		/** How far its import is; only one that is ready has lines to show. */
		state: text().$type<ImportState>().notNull().default('ready'),
		progress: jsonb().$type<ImportProgress>(),
		/** Why the last import came to nothing. */
		trouble: jsonb().$type<ImportTrouble>(),
		/** Does the file itself stay? */
		keepFile: boolean().notNull().default(false),
		/** Which of its imports is shown: rows of others are on their way, or left over. */
		generation: integer().notNull().default(0),
		attempts: integer().notNull().default(0),
		/** Who reads it, and when that was last heard of. */
		claim: text(),
		unit: text().notNull(),
		startTime: bigint({ mode: 'number' }).notNull(),
		endTime: bigint({ mode: 'number' }).notNull(),
		resolution: text().notNull(),
		notes: jsonb().$type<Note[]>().notNull(),
		createdAt: moment().notNull().defaultNow(),
		/** Set while it is sent or read: when a piece of it was last taken. */
		arriving: moment(),
		deletedAt: moment()
	},
	(table) => [index().on(table.planId)]
);

/** A recorded line: what its chunks sum up to. */
export const lines = pgTable(
	'lines',
	{
		recordingId: text()
			.notNull()
			.references(() => recordings.id, { onDelete: 'cascade' }),
		generation: integer().notNull().default(0),
		number: integer().notNull(),
		name: text().notNull(),
		initial: smallint().notNull(),
		edges: bigint({ mode: 'number' }).notNull(),
		/** Shortest pulse in units; null for none. */
		shortest: doublePrecision(),
		/** The first edge from 0 to 1, in units; null for none. */
		firstRise: bigint({ mode: 'number' }),
		slicing: jsonb().$type<Slicing>(),
		analogue: jsonb().$type<Analogue>(),
		/** Its own step and the distance of its samples, in seconds, where edges are interpolated. */
		step: text(),
		raster: text(),
		/** How often it was cut from its samples. */
		cut: integer().notNull().default(0)
	},
	(table) => [primaryKey({ columns: [table.recordingId, table.generation, table.number] })]
);

/** Edges, packed, with the summary of each chunk beside them. */
export const chunks = pgTable(
	'chunks',
	{
		recordingId: text()
			.notNull()
			.references(() => recordings.id, { onDelete: 'cascade' }),
		generation: integer().notNull().default(0),
		line: integer().notNull(),
		number: integer().notNull(),
		firstTime: bigint({ mode: 'number' }).notNull(),
		lastTime: bigint({ mode: 'number' }).notNull(),
		count: integer().notNull(),
		firstLevel: smallint().notNull(),
		lastLevel: smallint().notNull(),
		shortest: doublePrecision(),
		/** Times of every 256th edge (float64); null of chunks stored before these were kept. */
		marks: bytea(),
		packed: bytea().notNull()
	},
	(table) => [primaryKey({ columns: [table.recordingId, table.generation, table.line, table.number] })]
);

/** Samples of an analogue line, packed, with bounds of every 256 of them (float32 pairs) beside them. */
export const samples = pgTable(
	'samples',
	{
		recordingId: text()
			.notNull()
			.references(() => recordings.id, { onDelete: 'cascade' }),
		generation: integer().notNull(),
		line: integer().notNull(),
		number: integer().notNull(),
		firstTime: bigint({ mode: 'number' }).notNull(),
		lastTime: bigint({ mode: 'number' }).notNull(),
		least: doublePrecision(),
		most: doublePrecision(),
		bounds: bytea().notNull(),
		packed: bytea().notNull()
	},
	(table) => [primaryKey({ columns: [table.recordingId, table.generation, table.line, table.number] })]
);

/** The bytes of a file that is to be read, or that is kept, as they were sent. */
export const pieces = pgTable(
	'pieces',
	{
		recordingId: text()
			.notNull()
			.references(() => recordings.id, { onDelete: 'cascade' }),
		number: integer().notNull(),
		bytes: bytea().notNull()
	},
	(table) => [primaryKey({ columns: [table.recordingId, table.number] })]
);

/** A part profile of one's own, as text: a draft that is no valid profile yet is kept too. */
export const parts = pgTable('parts', {
	id: text().primaryKey(),
	revision: integer().notNull(),
	text: text().notNull(),
	/** What Parts lists of it. */
	summary: jsonb().$type<Stamped<PartSummed>>(),
	createdAt: moment().notNull().defaultNow(),
	savedAt: moment().notNull().defaultNow(),
	deletedAt: moment()
});

/** What was done once for this database, such as laying in the demo. */
export const onceDone = pgTable('done', { name: text().primaryKey(), at: moment().notNull().defaultNow() });
