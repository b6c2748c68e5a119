import { and, asc, eq, isNull, lt, ne, or, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import { Cutter, FormatError, readAll, type ParsedLine, type ParsedRecording, type ReadSettings } from '../../../core/formats/index.js';
import { cleanText } from '../../../core/part/index.js';
import { unpackChunks, unpackSamples } from '../../../core/trace/index.js';
import type { ImportProgress, ImportTrouble } from '../../text/imports.js';
import { formatText } from '../../text/index.js';
import { log } from '../log.js';
import { db, type Db } from '../store/db.js';
import { chunks, lines, pieces, recordings, samples } from '../store/tables.js';
import { reasonOf } from '../store/trouble.js';
import { Gone, storedPieces, storePieces, TooLarge } from './pieces.js';
import { ImportWriter, type Target } from './writers.js';

type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];

/** Bytes that are read in one go: a request that comes meanwhile waits for no more. */
const SLICE = 1 << 16;
/** Milliseconds between two words of how far an import is. */
const TELL_MS = 400;
/** What is read and not heard of for so long has lost its reader; what is sent, its sender. */
export const SILENT_S = Math.max(2, Number(process.env.NOLVET_PATIENCE ?? 30) / 2);
const GIVEN_UP_S = 600;
/** So often is a file begun before it is given up. */
const MOST_ATTEMPTS = 4;
/** Most bytes that a packed file may come to: what is larger is a bomb, or no file of ours. */
const MOST_UNPACKED = 40e9;

export interface Sent {
	name: string;
	body: AsyncIterable<Uint8Array>;
	settings?: ReadSettings;
	keepFile?: boolean;
}

const UNKNOWN = { format: 'csv', bytes: 0, unit: '1/1', startTime: 0, endTime: 0, resolution: '1/1', notes: [] } as const satisfies Partial<
	typeof recordings.$inferInsert
>;

/** Stores a file that is to be read; it is in the list from the beginning. Nothing of it stays when it does not come in whole. Throws TooLarge, Gone. */
export async function takeFile(planId: string, { name, body, settings = {}, keepFile = false }: Sent): Promise<string> {
	return await arriving({ planId, name: cleanText(name), settings, keepFile }, body, async (id, stored) => {
		await db()
			.update(recordings)
			.set({ ...stored, state: 'waiting', arriving: null })
			.where(eq(recordings.id, id));
	});
}

type Stored = Awaited<ReturnType<typeof storePieces>>;

/** Stores a file as a recording that is being sent, and does with it what is to be done once it is whole. Returns its id. */
async function arriving(
	frame: Pick<typeof recordings.$inferInsert, 'planId' | 'name' | 'settings' | 'keepFile'>,
	body: AsyncIterable<Uint8Array>,
	whole: (id: string, stored: Stored) => Promise<void>
): Promise<string> {
	const id = randomUUID();
	await db()
		.insert(recordings)
		.values({ ...UNKNOWN, ...frame, id, state: 'sending', arriving: sql`now()` });
	try {
		await whole(id, await storePieces(id, body));
	} catch (error) {
		// What cannot be taken back now is swept away later.
		await db()
			.delete(recordings)
			.where(eq(recordings.id, id))
			.catch(() => undefined);
		throw error;
	}
	return id;
}

/** Takes a file for a recording that is there, to be read in its place; a file that was kept stays until the new one is whole. False for an unknown one. */
export async function takeFileAgain(id: string, { body, settings = {}, keepFile = false }: Omit<Sent, 'name'>): Promise<boolean> {
	const [known] = await db().select({ planId: recordings.planId, name: recordings.name }).from(recordings).where(eq(recordings.id, id));
	if (!known) return false;
	await arriving({ ...known, settings, keepFile }, body, (sent, stored) =>
		db().transaction(async (tx) => {
			await tx.delete(pieces).where(eq(pieces.recordingId, id));
			await tx.update(pieces).set({ recordingId: id }).where(eq(pieces.recordingId, sent));
			await tx.delete(recordings).where(eq(recordings.id, sent));
			await tx
				.update(recordings)
				.set({ ...stored, keepFile })
				.where(eq(recordings.id, id));
			await readAgain(id, settings, tx);
		})
	);
	return true;
}

/** Lets a recording be read once more with other settings; what is shown of it stays until that is done. */
export async function readAgain(id: string, settings: ReadSettings, on: Pick<Db, 'update'> = db()): Promise<void> {
	await on
		.update(recordings)
		.set({ settings, state: 'waiting', trouble: null, attempts: 0, claim: null, arriving: null })
		.where(eq(recordings.id, id));
}

/** Waits until a recording is read, at most a minute. Returns why it was not. */
export async function importEnded(id: string): Promise<ImportTrouble | undefined> {
	for (const until = Date.now() + 60_000; Date.now() < until; await pause(40)) {
		const [row] = await db().select({ state: recordings.state, trouble: recordings.trouble }).from(recordings).where(eq(recordings.id, id));
		if (!row || row.state === 'ready') return undefined;
		if (row.state === 'refused') return row.trouble ?? undefined;
	}
	return undefined;
}

/** Ids of what waits to be read, or has lost its reader. */
export async function unread(): Promise<string[]> {
	const lost = and(eq(recordings.state, 'reading'), lt(recordings.arriving, sql`now() - make_interval(secs => ${SILENT_S})`));
	const rows = await db()
		.select({ id: recordings.id })
		.from(recordings)
		.where(or(eq(recordings.state, 'waiting'), lost));
	return rows.map(({ id }) => id);
}

/** Takes away files whose senders have gone. */
export async function sweepImports(): Promise<void> {
	await db()
		.delete(recordings)
		.where(and(eq(recordings.state, 'sending'), lt(recordings.arriving, sql`now() - make_interval(secs => ${GIVEN_UP_S})`)));
}

/**
 * Reads a stored file and puts its lines in place of what was shown of it, all or nothing. One reader at a time: who finds another at it, or
 * the recording gone, leaves. A file that cannot be read is told as refused; any other error is thrown, and another attempt follows.
 */
export async function runImport(id: string): Promise<void> {
	const claimed = await claim(id);
	if (!claimed) return;
	const { claim: mine, target, settings, total } = claimed;
	log.info({ recording: id, bytes: total }, 'a file is read');
	try {
		const reading = new Reading(id, mine, total);
		const read = await readAll({
			open: () => sliced(storedPieces(id), (bytes) => reading.took(bytes)),
			settings,
			sink: () => reading.begin(target),
			onPiece: (bytes) => reading.tell(bytes)
		});
		await reading.writer!.flush(true);
		const cut = await cutLines(read.recording.lines, read.recording, target, reading);
		await db().transaction((tx) => show(tx, { ...read, lines: cut }, target, reading));
	} catch (error) {
		await failed(target, mine, error);
	}
}

/** One attempt to read a file: what it wrote, and how far it is. */
class Reading {
	writer: ImportWriter | undefined;
	/** Bytes of the stored file so far: what a packed one comes to is not known ahead. */
	private taken = 0;
	private told = 0;

	constructor(
		private readonly id: string,
		readonly claim: string,
		private readonly total: number
	) {}

	begin(target: Target): ImportWriter {
		this.taken = 0;
		// A second beginning starts with nothing.
		this.writer = new ImportWriter(db(), target);
		return this.writer;
	}

	took(bytes: number): void {
		this.taken = bytes;
	}

	async tell(unpacked: number, cutting = false): Promise<void> {
		if (unpacked > MOST_UNPACKED) throw new FormatError('too-large', 0, this.taken, { most: MOST_UNPACKED });
		await this.writer!.flush(false);
		if (performance.now() - this.told < TELL_MS) return;
		this.told = performance.now();
		const progress: ImportProgress = { read: this.taken, total: this.total, edges: this.writer!.edgesWritten, ...(cutting && { cutting }) };
		const rows = await db()
			.update(recordings)
			.set({ arriving: sql`now()`, progress })
			.where(and(eq(recordings.id, this.id), eq(recordings.claim, this.claim)))
			.returning({ id: recordings.id });
		if (rows.length === 0) throw new Gone();
	}
}

async function claim(id: string) {
	const mine = randomUUID();
	const free = or(eq(recordings.state, 'waiting'), lt(recordings.arriving, sql`now() - make_interval(secs => ${SILENT_S})`));
	const [row] = await db()
		.update(recordings)
		.set({ state: 'reading', claim: mine, arriving: sql`now()`, attempts: sql`${recordings.attempts} + 1`, progress: null })
		.where(and(eq(recordings.id, id), or(eq(recordings.state, 'waiting'), eq(recordings.state, 'reading')), free))
		// A reader that was taken for lost may still write: its rows and ours must not meet.
		.returning({ generation: sql<number>`nextval('generations')`.mapWith(Number), settings: recordings.settings, bytes: recordings.bytes });
	if (!row) return undefined;
	return { claim: mine, settings: row.settings, total: row.bytes, target: { recordingId: id, generation: row.generation } };
}

/** Takes away what one attempt wrote; what a server left that ended goes when another attempt is shown. */
async function dropRows({ recordingId, generation }: Target): Promise<void> {
	for (const table of [chunks, samples])
		await db()
			.delete(table)
			.where(and(eq(table.recordingId, recordingId), eq(table.generation, generation)));
}

async function* sliced(file: AsyncIterable<Uint8Array>, took: (bytes: number) => void): AsyncGenerator<Uint8Array> {
	let bytes = 0;
	for await (const piece of file)
		for (let at = 0; at < piece.length; at += SLICE) {
			const part = piece.subarray(at, at + SLICE);
			bytes += part.length;
			took(bytes);
			yield part;
		}
}

/** Cuts the analogue lines, whose samples are stored, into edges. */
async function cutLines(
	all: readonly ParsedLine[],
	{ unit, start, end }: ParsedRecording,
	target: Target,
	reading: Reading
): Promise<ParsedLine[]> {
	const cut: ParsedLine[] = [];
	for (const line of all) {
		if (!line.slicing || line.trace.count > 0 || !line.analogue) {
			cut.push(line);
			continue;
		}
		const writer = reading.writer!;
		const cutter = new Cutter(line.slicing, unit, (chunk) => writer.edges(line.number, chunk));
		for await (const block of storedSamples(target, line.number)) {
			cutter.push(block);
			await reading.tell(0, true);
		}
		cut.push({ ...line, ...cutter.finish({ unit, start, end }, line.sample) });
	}
	await reading.writer!.flush(true);
	return cut;
}

/** A line's blocks of samples in order. */
export async function* storedSamples({ recordingId, generation }: Target, line: number) {
	for (let number = 0; ; number++) {
		const [row] = await db()
			.select({ packed: samples.packed })
			.from(samples)
			.where(
				and(eq(samples.recordingId, recordingId), eq(samples.generation, generation), eq(samples.line, line), eq(samples.number, number))
			);
		if (!row) return;
		yield* unpackSamples(row.packed);
	}
}

async function show(
	tx: Tx,
	{ recording, settings, lines: parsed }: { recording: ParsedRecording; settings: ReadSettings; lines: ParsedLine[] },
	{ recordingId, generation }: Target,
	reading: Reading
): Promise<void> {
	const { format, unit, start, end, resolution, stepFrom, notes } = recording;
	const rows = await tx
		.update(recordings)
		.set({
			format,
			unit: unit.toString(),
			startTime: start,
			endTime: end,
			resolution: resolution.toString(),
			stepFrom,
			notes,
			settings,
			generation,
			state: 'ready',
			progress: null,
			trouble: null,
			claim: null,
			arriving: null
		})
		.where(and(eq(recordings.id, recordingId), eq(recordings.claim, reading.claim)))
		.returning({ keepFile: recordings.keepFile });
	if (rows.length === 0) throw new Gone();
	const own = parsed.map((line) => lineRow(line, { recordingId, generation }, reading.writer!));
	for (let i = 0; i < own.length; i += 500) await tx.insert(lines).values(own.slice(i, i + 500));
	for (const table of [chunks, samples, lines])
		await tx.delete(table).where(and(eq(table.recordingId, recordingId), ne(table.generation, generation)));
	if (!rows[0].keepFile) await tx.delete(pieces).where(eq(pieces.recordingId, recordingId));
}

/** A line's row, but for where its edges are. */
export function lineRow(line: ParsedLine, target: Target, writer: ImportWriter): typeof lines.$inferInsert {
	const { number, name, trace, edges, shortest, slicing, analogue, step, sample } = line;
	return {
		...target,
		number,
		name: cleanText(name),
		initial: trace.meta.initial,
		edges,
		shortest: Number.isFinite(shortest) ? shortest : null,
		firstRise: writer.firstRise(number, trace.meta.initial),
		slicing: slicing ?? null,
		analogue: analogue ?? null,
		step: step?.step.toString() ?? null,
		raster: (step?.raster ?? sample)?.toString() ?? null
	};
}

async function failed(target: Target, mine: string, error: unknown): Promise<void> {
	const id = target.recordingId;
	// A database that is away leaves them, until another attempt is shown.
	await dropRows(target).catch(() => undefined);
	if (error instanceof Gone) return;
	const [row] = await db().select({ attempts: recordings.attempts }).from(recordings).where(eq(recordings.id, id));
	const known = troubleOf(error);
	if (!known) log.warn({ recording: id, ...reasonOf(error) }, 'an import failed');
	if (!known && row && row.attempts < MOST_ATTEMPTS) {
		await db()
			.update(recordings)
			.set({ state: 'waiting', claim: null, arriving: null })
			.where(and(eq(recordings.id, id), eq(recordings.claim, mine)));
		throw error;
	}
	const trouble = known ?? { message: 'it could not be stored', accepted: 'see the server’s log; read it again when that is mended' };
	await db()
		.update(recordings)
		.set({ state: 'refused', trouble, claim: null, arriving: null, progress: null })
		.where(and(eq(recordings.id, id), eq(recordings.claim, mine)));
}

/** What is wrong with a file, in words; undefined for what is not the file's fault. */
function troubleOf(error: unknown): ImportTrouble | undefined {
	if (error instanceof TooLarge) return { message: 'the file is too large' };
	if (!(error instanceof FormatError)) return undefined;
	const { found, accepted } = formatText(error);
	return { message: found, accepted, line: error.line, byte: error.byte };
}

/** First rises of lines that were stored before they were kept. */
export async function findFirstRises(): Promise<void> {
	const rows = await db()
		.select({ recordingId: lines.recordingId, number: lines.number, initial: lines.initial, packed: chunks.packed })
		.from(lines)
		.innerJoin(
			chunks,
			and(eq(chunks.recordingId, lines.recordingId), eq(chunks.line, lines.number), eq(chunks.generation, 0), eq(chunks.number, 0))
		)
		.where(and(eq(lines.generation, 0), isNull(lines.firstRise)))
		.orderBy(asc(lines.recordingId));
	for (const { recordingId, number, initial, packed } of rows) {
		const [{ base, offsets, levels }] = unpackChunks(packed);
		const at = levels.findIndex((level, i) => level === 1 && (i === 0 ? initial : levels[i - 1]) === 0);
		if (at < 0) continue;
		await db()
			.update(lines)
			.set({ firstRise: base + offsets[at] })
			.where(and(eq(lines.recordingId, recordingId), eq(lines.generation, 0), eq(lines.number, number)));
	}
}
