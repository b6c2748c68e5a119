import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { AnyReader, FormatError, unpacked, type ParsedRecording } from '../../../core/formats/index.js';
import { cleanText } from '../../../core/part/index.js';
import { packChunk, type EdgeChunk } from '../../../core/trace/index.js';
import { db, type Db } from '../store/db.js';
import { chunks, lines, recordings } from '../store/tables.js';

/** Largest upload, in bytes. */
export const LARGEST_UPLOAD = 1_000_000_000;
/** Chunks gathered before they are written: bounds the memory of an upload. */
const BATCH = 64;
/** So much is heard of a file that is refused, so that its sender hears why. */
const HEARD_OUT = 2 * LARGEST_UPLOAD;

/** An upload over the limit. */
export class TooLarge extends Error {}

/** A recording as the client knows it: rationals as "num/den", times in units. */
export type RecordingInfo = Awaited<ReturnType<typeof listRecordings>>[number];

type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];

/** Seconds between two signs of life of a recording that arrives, and after which one without any is given up. */
const TOUCH_S = 20;
const GIVEN_UP_S = 600;

/**
 * Reads a file's bytes as they come and stores its edges, all or nothing: until the last is there no one is shown it. No connection is
 * held while the sender is waited for. Returns the recording's id. Throws FormatError on a file that cannot be read, TooLarge beyond the limit.
 */
export async function storeRecording(planId: string, name: string, body: AsyncIterable<Uint8Array>): Promise<string> {
	const id = randomUUID();
	// The chunks refer to the recording, whose frame is only known at the end.
	await db()
		.insert(recordings)
		.values({ ...UNKNOWN, id, planId, name: cleanText(name), arriving: sql`now()` });
	const sent = new Sent(body);
	try {
		const writer = new ChunkWriter(db(), id);
		const reader = new AnyReader((line, chunk) => writer.add(line, chunk));
		let touched = performance.now();
		let read = 0;
		for await (const piece of unpacked(sent.pieces())) {
			read += piece.length;
			if (read > LARGEST_UPLOAD) throw new TooLarge();
			reader.feed(piece);
			await writer.flush(BATCH);
			if (performance.now() - touched < TOUCH_S * 1000) continue;
			touched = performance.now();
			await db()
				.update(recordings)
				.set({ arriving: sql`now()` })
				.where(eq(recordings.id, id));
		}
		const parsed = reader.end();
		await writer.flush(1);
		await db().transaction((tx) => writeFrame(tx, id, sent.bytes, parsed));
	} catch (error) {
		// A sender hears an answer only when it has been heard out: what follows a fault is taken and dropped.
		if (error instanceof FormatError || error instanceof TooLarge) await sent.hearOut().catch(() => undefined);
		// What cannot be taken back now is swept away later.
		await db()
			.delete(recordings)
			.where(eq(recordings.id, id))
			.catch(() => undefined);
		throw error;
	}
	return id;
}

/** What a sender sends, counted; it can be taken in turns. */
class Sent {
	bytes = 0;
	private readonly source: AsyncIterator<Uint8Array>;

	constructor(body: AsyncIterable<Uint8Array>) {
		this.source = body[Symbol.asyncIterator]();
	}

	async *pieces(): AsyncGenerator<Uint8Array> {
		for (;;) {
			const piece = await this.source.next();
			if (piece.done) return;
			this.bytes += piece.value.length;
			if (this.bytes > HEARD_OUT) throw new TooLarge();
			yield piece.value;
		}
	}

	async hearOut(): Promise<void> {
		for await (const piece of this.pieces()) void piece;
	}
}

const UNKNOWN = { format: 'csv', bytes: 0, unit: '1/1', startTime: 0, endTime: 0, resolution: '1/1', notes: [] } as const satisfies Partial<
	typeof recordings.$inferInsert
>;

/** Takes away what began to arrive and was given up, by a server that ended or by one that lost its database. */
export async function sweepArriving(): Promise<void> {
	await db()
		.delete(recordings)
		.where(sql`${recordings.arriving} < now() - make_interval(secs => ${GIVEN_UP_S})`);
}

/** All recordings of a plan that are not put away, oldest first, with their lines. */
export async function listRecordings(planId: string) {
	const found = await db()
		.select()
		.from(recordings)
		.where(and(eq(recordings.planId, planId), isNull(recordings.deletedAt), isNull(recordings.arriving)))
		.orderBy(asc(recordings.createdAt), asc(recordings.name));
	const rows = await db()
		.select({ line: lines })
		.from(lines)
		.innerJoin(recordings, eq(lines.recordingId, recordings.id))
		.where(eq(recordings.planId, planId))
		.orderBy(asc(lines.number));
	return found.map((recording) => ({
		...recording,
		lines: rows.filter(({ line }) => line.recordingId === recording.id).map(({ line }) => line)
	}));
}

/** The packed chunks of a line, in order, or undefined when there is no such line. */
export async function lineChunks(recordingId: string, line: number): Promise<Buffer[] | undefined> {
	const where = and(eq(lines.recordingId, recordingId), eq(lines.number, line));
	const [known] = await db().select({ number: lines.number }).from(lines).where(where);
	if (!known) return undefined;
	const rows = await db()
		.select({ packed: chunks.packed })
		.from(chunks)
		.where(and(eq(chunks.recordingId, recordingId), eq(chunks.line, line)))
		.orderBy(asc(chunks.number));
	return rows.map((row) => row.packed);
}

/** Puts a recording away, or brings it back. False for an unknown one. */
export async function setRecordingDeleted(id: string, deleted: boolean): Promise<boolean> {
	const rows = await db()
		.update(recordings)
		.set({ deletedAt: deleted ? sql`now()` : null })
		.where(eq(recordings.id, id))
		.returning({ id: recordings.id });
	return rows.length > 0;
}

async function writeFrame(tx: Tx, id: string, bytes: number, parsed: ParsedRecording): Promise<void> {
	const { format, start, end, notes } = parsed;
	await tx
		.update(recordings)
		.set({
			format,
			bytes,
			unit: parsed.unit.toString(),
			startTime: start,
			endTime: end,
			resolution: parsed.resolution.toString(),
			notes,
			arriving: null
		})
		.where(eq(recordings.id, id));
	const rows = parsed.lines.map((line, number) => ({
		recordingId: id,
		number,
		name: cleanText(line.name),
		initial: line.trace.meta.initial,
		edges: line.edges,
		shortest: Number.isFinite(line.shortest) ? line.shortest : null,
		slicing: line.slicing ?? null
	}));
	for (let i = 0; i < rows.length; i += 1000) await tx.insert(lines).values(rows.slice(i, i + 1000));
}

/** Numbers the chunks of each line as they come, and writes them in batches. */
class ChunkWriter {
	private waiting: (typeof chunks.$inferInsert)[] = [];
	private readonly next = new Map<number, number>();

	constructor(
		private readonly on: Pick<Db, 'insert'>,
		private readonly recordingId: string
	) {}

	add(line: number, chunk: EdgeChunk): void {
		const number = this.next.get(line) ?? 0;
		this.next.set(line, number + 1);
		const count = chunk.offsets.length;
		this.waiting.push({
			recordingId: this.recordingId,
			line,
			number,
			firstTime: chunk.base,
			lastTime: chunk.base + chunk.offsets[count - 1],
			count,
			firstLevel: chunk.levels[0],
			lastLevel: chunk.levels[count - 1],
			shortest: Number.isFinite(chunk.shortest) ? chunk.shortest : null,
			packed: Buffer.from(packChunk(chunk).buffer)
		});
	}

	/** Writes what waits once it is `least` chunks or more. */
	async flush(least: number): Promise<void> {
		while (this.waiting.length >= least && this.waiting.length > 0) {
			await this.on.insert(chunks).values(this.waiting.splice(0, BATCH));
		}
	}
}
