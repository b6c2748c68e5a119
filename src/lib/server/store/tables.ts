import type { LastVerdict, PartSummed, PlanSummed } from '../../session/listing.js';
import {
	bigint,
	customType,
	doublePrecision,
	index,
	integer,
	jsonb,
	pgTable,
	primaryKey,
	smallint,
	text,
	timestamp
} from 'drizzle-orm/pg-core';
import type { Plan, Step, StepKind } from '../../../core/plan/index.js';
import type { Note, RecordingFormat, Slicing } from '../../../core/formats/index.js';

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
const moment = () => timestamp({ withTimezone: true });

/** Something worked out of a revision by a build of this program. */
export type Stamped<T> = T & { revision: number; build: string };

/** A plan as it stands; deletedAt set: put away, and can be brought back. */
export const plans = pgTable('plans', {
	id: text().primaryKey(),
	revision: integer().notNull(),
	document: jsonb().$type<Plan>().notNull(),
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
		step: jsonb().$type<Step>().notNull(),
		/** The name that its sender gave it: sent twice, it is stored once. */
		stepId: text(),
		savedAt: moment().notNull().defaultNow()
	},
	(table) => [primaryKey({ columns: [table.planId, table.number] })]
);

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
		/** Size of the file it was read from. */
		bytes: bigint({ mode: 'number' }).notNull(),
		unit: text().notNull(),
		startTime: bigint({ mode: 'number' }).notNull(),
		endTime: bigint({ mode: 'number' }).notNull(),
		resolution: text().notNull(),
		notes: jsonb().$type<Note[]>().notNull(),
		createdAt: moment().notNull().defaultNow(),
		/** Set while it arrives: when a piece of it last came. It is shown to no one until then. */
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
		number: integer().notNull(),
		name: text().notNull(),
		initial: smallint().notNull(),
		edges: bigint({ mode: 'number' }).notNull(),
		/** Shortest pulse in units; null for none. */
		shortest: doublePrecision(),
		slicing: jsonb().$type<Slicing>()
	},
	(table) => [primaryKey({ columns: [table.recordingId, table.number] })]
);

/** Edges, packed, with the summary of each chunk beside them. */
export const chunks = pgTable(
	'chunks',
	{
		recordingId: text()
			.notNull()
			.references(() => recordings.id, { onDelete: 'cascade' }),
		line: integer().notNull(),
		number: integer().notNull(),
		firstTime: bigint({ mode: 'number' }).notNull(),
		lastTime: bigint({ mode: 'number' }).notNull(),
		count: integer().notNull(),
		firstLevel: smallint().notNull(),
		lastLevel: smallint().notNull(),
		shortest: doublePrecision(),
		packed: bytea().notNull()
	},
	(table) => [primaryKey({ columns: [table.recordingId, table.line, table.number] })]
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
