import { and, asc, eq, gte, inArray, lte, sql } from 'drizzle-orm';
import { setImmediate as breathe } from 'node:timers/promises';
import { Rational } from '../../../core/exact/index.js';
import { Cutter, recordingEdges, recordingSamples, recordingVcd, type ExportLine, type Slicing } from '../../../core/formats/index.js';
import { PulseMeter, SampleMeter, type PulseMeasures, type SampledOf, type Window } from '../../../core/measure/index.js';
import {
	lowerBound,
	SampleColumns,
	unpackChunks,
	unpackSamples,
	windowColumns,
	type ChunkTable,
	type EdgeChunk,
	type Level
} from '../../../core/trace/index.js';
import { commandText } from '../../text/index.js';
import { db } from '../store/db.js';
import { chunks, lines, recordings, samples } from '../store/tables.js';
import { lineRow, storedSamples } from './imports.js';
import { ImportWriter } from './writers.js';

/** What is shown of a line. */
export interface ShownLine {
	recordingId: string;
	generation: number;
	line: number;
	initial: Level;
	edges: number;
	cut: number;
}

/** A line of what is shown of a recording; undefined when there is none. */
export async function shownLine(recordingId: string, number: number): Promise<ShownLine | undefined> {
	const [row] = await db()
		.select({ generation: lines.generation, initial: lines.initial, edges: lines.edges, cut: lines.cut })
		.from(lines)
		.innerJoin(recordings, and(eq(recordings.id, lines.recordingId), eq(recordings.generation, lines.generation)))
		.where(and(eq(lines.recordingId, recordingId), eq(lines.number, number)));
	return row && { ...row, initial: row.initial as Level, recordingId, line: number };
}

const ofLine = ({ recordingId, generation, line }: ShownLine) =>
	and(eq(chunks.recordingId, recordingId), eq(chunks.generation, generation), eq(chunks.line, line));

/** A time as the database can compare it: no line has any beyond. */
const stored = (time: number) => Math.min(9e18, Math.max(-9e18, time));

/** The packed chunks of a line that have edges in from..to (units, both included), in order, at most so many; and whether that is all. */
export async function lineChunks(line: ShownLine, from: number, to: number, most: number): Promise<{ packed: Buffer[]; all: boolean }> {
	const rows = await db()
		.select({ packed: chunks.packed })
		.from(chunks)
		.where(and(ofLine(line), gte(chunks.lastTime, stored(Math.floor(from))), lte(chunks.firstTime, stored(Math.ceil(to)))))
		.orderBy(asc(chunks.number))
		.limit(most + 1);
	return { packed: rows.slice(0, most).map((row) => row.packed), all: rows.length <= most };
}

/** The packed chunks of a line from one on, at most so many; and whether that is all. */
export async function chunksFrom(line: ShownLine, first: number, most: number): Promise<{ packed: Buffer[]; all: boolean }> {
	const rows = await db()
		.select({ packed: chunks.packed })
		.from(chunks)
		.where(and(ofLine(line), gte(chunks.number, first), lte(chunks.number, first + most)))
		.orderBy(asc(chunks.number));
	return { packed: rows.slice(0, most).map((row) => row.packed), all: rows.length <= most };
}

/** A recording, or a window of it in units, written in a format of files; undefined for an unknown one. */
export async function exportRecording(
	recordingId: string,
	format: 'vcd' | 'edges' | 'samples',
	window: Partial<Window>
): Promise<{ name: string; text: AsyncGenerator<string, void> } | undefined> {
	const [recording] = await db().select().from(recordings).where(eq(recordings.id, recordingId));
	if (!recording) return undefined;
	const rows = await db()
		.select()
		.from(lines)
		.where(and(eq(lines.recordingId, recordingId), eq(lines.generation, recording.generation)))
		.orderBy(asc(lines.number));
	const from = Math.max(recording.startTime, Math.floor(window.start ?? -Infinity));
	const to = Math.max(from, Math.min(recording.endTime + 1, Math.ceil(window.end ?? Infinity)));
	const target = { recordingId, generation: recording.generation };
	const all = await Promise.all(
		rows.map(async (row): Promise<ExportLine> => {
			const line: ShownLine = { ...target, line: row.number, initial: row.initial as Level, edges: row.edges, cut: row.cut };
			return {
				name: row.name,
				initial: await levelAt(line, from),
				edges: chunksBetween(line, from, to),
				...(row.analogue && { samples: storedSamples(target, row.number) })
			};
		})
	);
	const frame = {
		unit: Rational.parse(recording.unit),
		step: Rational.parse(recording.resolution),
		from,
		to,
		comment: `${recording.name}, as recorded.`
	};
	const write = { vcd: recordingVcd, edges: recordingEdges, samples: recordingSamples }[format];
	return { name: recording.name, text: write(all, frame, commandText.timeColumn) };
}

/** The level of a line at a time; an edge there counts. */
async function levelAt(line: ShownLine, time: number): Promise<Level> {
	const table = await tableOf(line);
	const at = lowerBound(table.last, table.last.length, time + 0.5);
	const before = at === 0 ? line.initial : (table.level[at - 1] as Level);
	if (at === table.first.length || table.first[at] > time) return before;
	const [{ base, offsets, levels }] = await chunksOf(line, at, 1);
	return levels[lowerBound(offsets, offsets.length, time - base + 1) - 1] as Level;
}

async function* chunksBetween(line: ShownLine, from: number, to: number): AsyncGenerator<EdgeChunk> {
	const table = await tableOf(line);
	for (let at = lowerBound(table.last, table.last.length, from); at < table.first.length && table.first[at] < to; at++)
		yield* await chunksOf(line, at, 1);
}

/** What the pulses of a line measure in a window, chunk by chunk, however many there are. */
export async function measureLine(line: ShownLine, { start, end }: Window): Promise<PulseMeasures> {
	const table = await tableOf(line);
	const [row] = await db().select({ unit: recordings.unit }).from(recordings).where(eq(recordings.id, line.recordingId));
	let chunk = lowerBound(table.last, table.last.length, start);
	let meter: PulseMeter | undefined;
	let level = chunk === 0 ? line.initial : (table.level[chunk - 1] as Level);
	for (; chunk < table.first.length && table.first[chunk] < end; chunk += STRIDE) {
		for (const one of await chunksOf(line, chunk, STRIDE)) {
			const { base, offsets, levels } = one;
			const [first, last] = [start, end].map((time) => lowerBound(offsets, offsets.length, time - base));
			if (first > 0) level = levels[first - 1] as Level;
			if (last > first) (meter ??= new PulseMeter(level)).addRun(one, first, last);
		}
		await breathe();
	}
	return (meter ?? new PulseMeter(level)).result(Rational.parse(row.unit));
}

/** Chunks that are unpacked in one go. */
const STRIDE = 16;

async function chunksOf(line: ShownLine, first: number, count: number): Promise<EdgeChunk[]> {
	const { packed } = await chunksFrom(line, first, count);
	return packed.flatMap((bytes) => unpackChunks(bytes));
}

/** The edge next to a time, behind or before it, in units; undefined where there is none. */
export async function nextEdge(line: ShownLine, time: number, by: 1 | -1): Promise<number | undefined> {
	const table = await tableOf(line);
	const at = by > 0 ? lowerBound(table.last, table.last.length, time + 0.5) : lowerBound(table.first, table.first.length, time - 0.5) - 1;
	if (at < 0 || at >= table.first.length) return undefined;
	const [{ base, offsets }] = await chunksOf(line, at, 1);
	const inside = lowerBound(offsets, offsets.length, time - base + by / 2) - (by > 0 ? 0 : 1);
	return base + offsets[inside];
}

/** Tables of the lines that were looked at last. */
const tables = new Map<string, Promise<ChunkTable>>();
const MOST_TABLES = 64;
/** More chunks than this are not unpacked for one answer: what they would settle is told as busy. */
const MOST_UNPACKED = 96;

function tableOf(line: ShownLine): Promise<ChunkTable> {
	const key = [line.recordingId, line.generation, line.line, line.cut].join('/');
	const known = tables.get(key);
	tables.delete(key);
	const table = known ?? readTable(line);
	tables.set(key, table);
	table.catch(() => tables.delete(key));
	for (const old of tables.keys()) if (tables.size > MOST_TABLES) tables.delete(old);
	return table;
}

async function readTable(line: ShownLine): Promise<ChunkTable> {
	const rows = await db()
		.select({ first: chunks.firstTime, last: chunks.lastTime, count: chunks.count, level: chunks.lastLevel })
		.from(chunks)
		.where(ofLine(line))
		.orderBy(asc(chunks.number));
	return {
		initial: line.initial,
		first: Float64Array.from(rows, ({ first }) => first),
		last: Float64Array.from(rows, ({ last }) => last),
		count: Float64Array.from(rows, ({ count }) => count),
		level: Uint8Array.from(rows, ({ level }) => level)
	};
}

/** Columns of a window (core/trace/overview), from the summaries and no more edges than that takes. */
export async function lineWindow(line: ShownLine, start: number, width: number, count: number): Promise<Uint8Array<ArrayBuffer>> {
	const table = await tableOf(line);
	const marks = new Map<number, Float64Array>();
	const edges = new Map<number, EdgeChunk>();
	for (;;) {
		const found = windowColumns(table, start, width, count, { marks, edges });
		const wanted = found.wantedEdges.slice(0, MOST_UNPACKED - edges.size);
		if (found.wantedMarks.length === 0 && wanted.length === 0) return Uint8Array.from(found.columns);
		if (found.wantedMarks.length > 0) await readMarks(line, found.wantedMarks, marks);
		if (wanted.length > 0) await readEdges(line, wanted, edges);
	}
}

async function readMarks(line: ShownLine, numbers: readonly number[], into: Map<number, Float64Array>): Promise<void> {
	const rows = await db()
		.select({ number: chunks.number, marks: chunks.marks, first: chunks.firstTime })
		.from(chunks)
		.where(and(ofLine(line), inArray(chunks.number, [...numbers])));
	for (const { number, marks, first } of rows) into.set(number, marks ? float64(marks) : Float64Array.of(first));
	for (const number of numbers) if (!into.has(number)) into.set(number, new Float64Array(0));
}

async function readEdges(line: ShownLine, numbers: readonly number[], into: Map<number, EdgeChunk>): Promise<void> {
	const rows = await db()
		.select({ number: chunks.number, packed: chunks.packed })
		.from(chunks)
		.where(and(ofLine(line), inArray(chunks.number, [...numbers])));
	for (const { number, packed } of rows) into.set(number, unpackChunks(packed)[0]);
}

/** Most values that a card of samples comes to; what is beyond is left out. */
const MOST_VALUES = 2_000_000;

/** What is measured on the samples of an analogue line in a window: pairs of when, in units, and what. undefined for a line without samples. */
export async function measureSamples(
	{ recordingId, generation, line }: ShownLine,
	of: SampledOf,
	window: Window
): Promise<Float64Array | undefined> {
	const [row] = await db()
		.select({ slicing: lines.slicing })
		.from(lines)
		.where(and(eq(lines.recordingId, recordingId), eq(lines.generation, generation), eq(lines.number, line)));
	if (!row?.slicing) return undefined;
	const own = and(eq(samples.recordingId, recordingId), eq(samples.generation, generation), eq(samples.line, line));
	const [{ first, last }] = await db()
		.select({ first: sql<number | null>`min(${samples.number})`, last: sql<number | null>`max(${samples.number})` })
		.from(samples)
		.where(and(own, gte(samples.lastTime, stored(Math.floor(window.start))), lte(samples.firstTime, stored(Math.ceil(window.end)))));
	const meter = new SampleMeter(of, row.slicing, window);
	for (let number = first ?? 1; number <= (last ?? 0); number++) {
		const [block] = await db()
			.select({ packed: samples.packed })
			.from(samples)
			.where(and(own, eq(samples.number, number)));
		if (block) for (const one of unpackSamples(block.packed)) meter.push(one);
		await breathe();
	}
	const { at, parts } = meter.finish();
	const count = Math.min(MOST_VALUES, at.length);
	return Float64Array.from({ length: 2 * count }, (_, i) => (i % 2 === 0 ? at : parts)[i >> 1]);
}

/** Least and greatest of an analogue line in the columns of a window, least first (float32); NaN where there is none. */
export async function sampleWindow(
	{ recordingId, generation, line }: ShownLine,
	start: number,
	width: number,
	count: number
): Promise<Float32Array> {
	const columns = new SampleColumns(start, width, count);
	const where = and(
		eq(samples.recordingId, recordingId),
		eq(samples.generation, generation),
		eq(samples.line, line),
		// Stored times are whole.
		gte(samples.lastTime, stored(Math.floor(start))),
		lte(samples.firstTime, stored(Math.ceil(start + width * count)))
	);
	const [{ blocks, span }] = await db()
		.select({
			blocks: sql<number>`count(*)`.mapWith(Number),
			span: sql<number>`coalesce(max(${samples.lastTime} - ${samples.firstTime}), 0)`.mapWith(Number)
		})
		.from(samples)
		.where(where);
	if (blocks > FEW_BLOCKS && span <= width) {
		const rows = await db()
			.select({ from: samples.firstTime, to: samples.lastTime, least: samples.least, most: samples.most })
			.from(samples)
			.where(where);
		for (const { from, to, least, most } of rows) if (least !== null && most !== null) columns.stretch(from, to, least, most);
	} else if (blocks > FEW_BLOCKS) {
		const rows = await db().select({ from: samples.firstTime, to: samples.lastTime, bounds: samples.bounds }).from(samples).where(where);
		for (const { from, to, bounds } of rows) {
			const pairs = float32(bounds);
			const step = (to - from) / (pairs.length / 2);
			for (let i = 0; i < pairs.length / 2; i++) columns.stretch(from + i * step, from + (i + 1) * step, pairs[2 * i], pairs[2 * i + 1]);
		}
	} else {
		const rows = await db().select({ packed: samples.packed }).from(samples).where(where).orderBy(asc(samples.number));
		for (const { packed } of rows) for (const block of unpackSamples(packed)) columns.add(block);
	}
	return columns.bounds;
}
/** Blocks whose samples are drawn one by one. */
const FEW_BLOCKS = 24;

/** Cuts an analogue line anew with other thresholds. Undefined for a line without samples. */
export async function cutAgain(recordingId: string, number: number, told: Partial<Slicing>): Promise<boolean> {
	const [row] = await db()
		.select({
			line: lines,
			unit: recordings.unit,
			start: recordings.startTime,
			end: recordings.endTime,
			settings: recordings.settings,
			resolution: recordings.resolution
		})
		.from(lines)
		.innerJoin(recordings, and(eq(recordings.id, lines.recordingId), eq(recordings.generation, lines.generation)))
		.where(and(eq(lines.recordingId, recordingId), eq(lines.number, number)));
	if (!row?.line.slicing || !row.line.analogue) return false;
	const slicing: Slicing = { ...row.line.slicing, ...told };
	if (told.follow === undefined) delete slicing.follow;
	const target = { recordingId, generation: row.line.generation };
	const unit = Rational.parse(row.unit);
	const own = and(eq(chunks.recordingId, recordingId), eq(chunks.generation, target.generation), eq(chunks.line, number));
	await db().transaction(async (tx) => {
		// Two cuts of one line wait for each other.
		await tx.select({ id: recordings.id }).from(recordings).where(eq(recordings.id, recordingId)).for('update');
		await tx.delete(chunks).where(own);
		const writer = new ImportWriter(tx, target);
		const cutter = new Cutter(slicing, unit, (chunk) => writer.edges(number, chunk));
		for await (const block of storedSamples(target, number)) {
			cutter.push(block);
			await writer.flush(false);
			await breathe();
		}
		const sample = row.line.raster === null ? undefined : Rational.parse(row.line.raster);
		const made = cutter.finish({ unit, start: row.start, end: row.end }, sample);
		await writer.flush(true);
		const { initial, edges, shortest, firstRise, step } = lineRow({ number, name: row.line.name, ...made }, target, writer);
		await tx
			.update(lines)
			.set({ initial, edges, shortest, firstRise, step, slicing, cut: row.line.cut + 1 })
			.where(and(eq(lines.recordingId, recordingId), eq(lines.generation, target.generation), eq(lines.number, number)));
		const settings = {
			...row.settings,
			// What is not told any more is found again.
			lines: { ...row.settings.lines, [number]: { ...row.settings.lines?.[number], ...NOTHING_TOLD, ...told } }
		};
		await tx.update(recordings).set({ settings }).where(eq(recordings.id, recordingId));
	});
	return true;
}

const NOTHING_TOLD = { threshold: undefined, hysteresis: undefined, follow: undefined };

function float64(bytes: Buffer): Float64Array {
	return new Float64Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
}

function float32(bytes: Buffer): Float32Array {
	return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
}
