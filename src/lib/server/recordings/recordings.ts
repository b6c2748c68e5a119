import { and, asc, eq, inArray, isNotNull, isNull, lt, ne, sql } from 'drizzle-orm';
import type { StepFrom } from '../../../core/formats/index.js';
import { cleanText } from '../../../core/part/index.js';
import { db } from '../store/db.js';
import { lines, pieces, recordings } from '../store/tables.js';

/** A recording as the client knows it: rationals as "num/den", times in units. */
export type RecordingInfo = Awaited<ReturnType<typeof listRecordings>>[number];

/** Minutes for which a recording that was deleted can be brought back; then its space is freed. */
const UNDO_MINUTES = 60;

/** Bytes that a recording takes in the database. */
const STORED = sql<number>`(
	coalesce((select sum(octet_length(packed) + coalesce(octet_length(marks), 0)) from chunks where chunks.recording_id = recordings.id), 0)
	+ coalesce((select sum(octet_length(packed) + octet_length(bounds)) from samples where samples.recording_id = recordings.id), 0)
	+ coalesce((select sum(octet_length(bytes)) from pieces where pieces.recording_id = recordings.id), 0)
)`.mapWith(Number);

/** All recordings of a plan whose files are here and that are not put away, oldest first, with their lines; those to be read have none yet. */
export async function listRecordings(planId: string) {
	const found = await db()
		.select({
			id: recordings.id,
			name: recordings.name,
			format: recordings.format,
			bytes: recordings.bytes,
			sha256: recordings.sha256,
			unit: recordings.unit,
			startTime: recordings.startTime,
			endTime: recordings.endTime,
			resolution: recordings.resolution,
			stepFrom: recordings.stepFrom,
			notes: recordings.notes,
			settings: recordings.settings,
			state: recordings.state,
			progress: recordings.progress,
			trouble: recordings.trouble,
			keepFile: recordings.keepFile,
			generation: recordings.generation,
			hasFile: sql<boolean>`exists (select 1 from ${pieces} where ${pieces.recordingId} = ${recordings.id})`
		})
		.from(recordings)
		.where(and(eq(recordings.planId, planId), isNull(recordings.deletedAt), ne(recordings.state, 'sending')))
		.orderBy(asc(recordings.createdAt), asc(recordings.name));
	const rows = await db()
		.select({ line: lines })
		.from(lines)
		.innerJoin(recordings, and(eq(lines.recordingId, recordings.id), eq(lines.generation, recordings.generation)))
		.where(eq(recordings.planId, planId))
		.orderBy(asc(lines.number));
	return found.map((recording) => ({
		...recording,
		// An import that ended between the two questions shows with its lines the next time.
		lines: rows.filter(({ line }) => line.recordingId === recording.id && line.generation === recording.generation).map(({ line }) => line)
	}));
}

/** A recording of the plan that was made from the same file; undefined when there is none. */
export async function sameFile(planId: string, sha256: string): Promise<{ id: string; name: string; deleted: boolean } | undefined> {
	const [row] = await db()
		.select({ id: recordings.id, name: recordings.name, deletedAt: recordings.deletedAt })
		.from(recordings)
		.where(and(eq(recordings.planId, planId), eq(recordings.sha256, sha256), ne(recordings.state, 'refused')))
		.orderBy(asc(recordings.createdAt))
		.limit(1);
	return row && { id: row.id, name: row.name, deleted: row.deletedAt !== null };
}

/** Recordings of a plan that were deleted and can be brought back, newest first. */
export async function deletedRecordings(planId: string): Promise<{ id: string; name: string; stored: number }[]> {
	return await db()
		.select({ id: recordings.id, name: recordings.name, stored: STORED })
		.from(recordings)
		.where(and(eq(recordings.planId, planId), isNotNull(recordings.deletedAt)))
		.orderBy(asc(recordings.deletedAt));
}

/**
 * Puts a recording away, or brings it back; one that is not there yet is stopped and is gone at once. Returns the bytes that it takes;
 * undefined for an unknown one.
 */
export async function setRecordingDeleted(id: string, deleted: boolean): Promise<{ stored: number } | undefined> {
	if (deleted) {
		const stopped = await db()
			.delete(recordings)
			.where(
				and(eq(recordings.id, id), eq(recordings.generation, 0), inArray(recordings.state, ['sending', 'waiting', 'reading', 'refused']))
			)
			.returning({ id: recordings.id });
		if (stopped.length > 0) return { stored: 0 };
	}
	const [row] = await db()
		.update(recordings)
		.set({ deletedAt: deleted ? sql`now()` : null })
		.where(eq(recordings.id, id))
		.returning({ id: recordings.id });
	if (!row) return undefined;
	const [{ stored }] = await db().select({ stored: STORED }).from(recordings).where(eq(recordings.id, id));
	return { stored };
}

/** Is there such a recording, put away or not? */
export async function isRecording(id: string): Promise<boolean> {
	return (await db().select({ id: recordings.id }).from(recordings).where(eq(recordings.id, id))).length > 0;
}

/** Sets a recording's step, in seconds, "num/den". False for an unknown one. */
export async function setStep(id: string, step: string, from: StepFrom): Promise<boolean> {
	const rows = await db()
		.update(recordings)
		.set({ resolution: step, stepFrom: from })
		.where(eq(recordings.id, id))
		.returning({ id: recordings.id });
	return rows.length > 0;
}

/** Gives a recording another name. False for an unknown one. */
export async function renameRecording(id: string, name: string): Promise<boolean> {
	const rows = await db()
		.update(recordings)
		.set({ name: cleanText(name) })
		.where(eq(recordings.id, id))
		.returning({ id: recordings.id });
	return rows.length > 0;
}

/** Frees the space of what was deleted longer ago than it can be brought back. */
export async function purgeDeleted(): Promise<void> {
	await db()
		.delete(recordings)
		.where(lt(recordings.deletedAt, sql`now() - make_interval(mins => ${UNDO_MINUTES})`));
}
