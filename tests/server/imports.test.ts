import { Readable } from 'node:stream';
import { gzipSync } from 'node:zlib';
import { eq, sql } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import { Rational } from '../../src/core/exact/index.js';
import { measurePulses } from '../../src/core/measure/index.js';
import { fernhollow } from '../../src/core/plan/index.js';
import { CHUNK_EDGES, Trace, unpackChunks } from '../../src/core/trace/index.js';
import { copyPlan, createPlan, loadPlan } from '../../src/lib/server/plans/plans.js';
import { readAgain, runImport, sweepImports, takeFile, takeFileAgain, unread } from '../../src/lib/server/recordings/imports.js';
import {
	chunksFrom,
	cutAgain,
	exportRecording,
	lineWindow,
	measureLine,
	nextEdge,
	sampleWindow,
	shownLine
} from '../../src/lib/server/recordings/lines.js';
import { hasPieces } from '../../src/lib/server/recordings/pieces.js';
import { listRecordings, purgeDeleted, sameFile, setRecordingDeleted } from '../../src/lib/server/recordings/recordings.js';
import { closeDatabase, db, migrateDatabase } from '../../src/lib/server/store/db.js';
import { chunks, pieces, recordings, samples } from '../../src/lib/server/store/tables.js';

beforeAll(async () => {
	process.env.DATABASE_URL = inject('database');
	await migrateDatabase();
});
afterAll(closeDatabase);

const EDGES = 'time (s),out\n0,0\n0.001,1\n0.002,0\n0.003,1\n';

/** Takes a file and reads it; returns its recording. */
async function stored(plan: string, name: string, content: string | Buffer, settings = {}, keepFile = false): Promise<string> {
	const id = await takeFile(plan, { name, body: Readable.from([Buffer.from(content)]), settings, keepFile });
	await runImport(id);
	return id;
}

async function traceOf(recording: string, number: number): Promise<Trace> {
	const line = (await shownLine(recording, number))!;
	const [frame] = await db().select().from(recordings).where(eq(recordings.id, recording));
	const { packed } = await chunksFrom(line, 0, 10_000);
	const meta = { unit: Rational.parse(frame.unit), start: frame.startTime, end: frame.endTime, initial: line.initial };
	return new Trace(
		meta,
		packed.flatMap((bytes) => unpackChunks(bytes))
	);
}

const count = async (table: typeof chunks | typeof pieces | typeof samples, id: string) =>
	(await db().select({ number: table.number }).from(table).where(eq(table.recordingId, id))).length;

/** A long line: steps of 1 to 9 us, 100,000 of them. */
const LONG = `time (us),a\n${Array.from({ length: 100_000 }, (_, i) => `${5 * i + ((i * 7) % 4)},${i % 2}`).join('\n')}\n`;
/** Samples of a wave of 3 V, 16 a period. */
const WAVE = `time (us),v\n${Array.from({ length: 50_000 }, (_, i) => `${i},${(i % 16 < 8 ? 0 : 3) + 0.01 * ((i * 7) % 5)}`).join('\n')}\n`;

describe('a file', () => {
	test('is stored as lines and packed edges, packed ones with the size of the file; the file itself goes', async () => {
		const plan = await createPlan(fernhollow());
		const packed = gzipSync(EDGES);
		const id = await takeFile(plan, { name: 'out.csv.gz', body: Readable.from([packed.subarray(0, 9), packed.subarray(9)]) });
		expect((await listRecordings(plan)).map(({ state, lines }) => [state, lines.length])).toEqual([['waiting', 0]]);
		await runImport(id);
		const [recording] = await listRecordings(plan);
		expect(recording).toMatchObject({ id, name: 'out.csv.gz', format: 'csv', bytes: packed.length, state: 'ready', stepFrom: 'digit' });
		expect(recording.lines.map(({ name, edges, firstRise }) => [name, edges, firstRise])).toEqual([['out', 3, 1e9]]);
		expect((await traceOf(id, 1)).count).toBe(3);
		expect([await shownLine(id, 7), await hasPieces(id)]).toEqual([undefined, false]);
	});

	test('that is broken off leaves nothing; one that cannot be read says why', async () => {
		const plan = await createPlan(fernhollow());
		const broken = (async function* () {
			yield await Promise.resolve(Buffer.from(EDGES));
			throw new Error('broken off');
		})();
		await expect(takeFile(plan, { name: 'broken.csv', body: broken })).rejects.toThrow('broken off');
		expect(await listRecordings(plan)).toEqual([]);
		const id = await stored(plan, 'bad.csv', 'time (s),out\n0,0\n0.002,1\n0.001,0\n');
		const [bad] = await listRecordings(plan);
		expect([bad.state, bad.lines, bad.trouble!.line, await count(chunks, id)]).toEqual(['refused', [], 4, 0]);
		// Its file is still here: it can be read in another way.
		await readAgain(id, { lines: { 1: { name: 'level' } }, timeColumn: -1, interval: '1e-3' });
		await runImport(id);
		expect((await listRecordings(plan))[0]).toMatchObject({ state: 'ready', lines: [{ name: 'level', edges: 2 }] });
	});

	test('is known again by what it holds', async () => {
		const plan = await createPlan(fernhollow());
		const id = await stored(plan, 'one.csv', EDGES);
		const [{ sha256 }] = await listRecordings(plan);
		expect(await sameFile(plan, sha256!)).toEqual({ id, name: 'one.csv', deleted: false });
		await setRecordingDeleted(id, true);
		expect((await sameFile(plan, sha256!))!.deleted).toBe(true);
		expect(await sameFile(await createPlan(fernhollow()), sha256!)).toBeUndefined();
	});

	test('whose sender has gone is swept away', async () => {
		const plan = await createPlan(fernhollow());
		const frame = {
			planId: plan,
			name: 'half',
			format: 'csv',
			bytes: 0,
			unit: '1/1',
			startTime: 0,
			endTime: 0,
			resolution: '1/1'
		} as const;
		await db()
			.insert(recordings)
			.values([
				{ ...frame, notes: [], id: 'given-up', state: 'sending', arriving: sql`now() - interval '1 hour'` },
				{ ...frame, notes: [], id: 'under-way', state: 'sending', arriving: sql`now()` }
			]);
		await sweepImports();
		expect(await db().select({ id: recordings.id }).from(recordings).where(eq(recordings.planId, plan))).toEqual([{ id: 'under-way' }]);
		expect(await listRecordings(plan)).toEqual([]);
	});
});

describe('an import', () => {
	test('is done by one reader, though two take it up', async () => {
		const plan = await createPlan(fernhollow());
		const id = await takeFile(plan, { name: 'long.csv', body: Readable.from([Buffer.from(LONG)]) });
		await Promise.all([runImport(id), runImport(id), runImport(id)]);
		const [recording] = await listRecordings(plan);
		expect([recording.state, recording.lines[0].edges]).toEqual(['ready', 99_999]);
		// Of the two others nothing was written.
		expect(await count(chunks, id)).toBe(Math.ceil(99_999 / CHUNK_EDGES));
	});

	test('that lost its reader is taken up by another, and nothing of the first is shown', async () => {
		const plan = await createPlan(fernhollow());
		const id = await takeFile(plan, { name: 'long.csv', body: Readable.from([Buffer.from(LONG)]) });
		await db()
			.update(recordings)
			.set({ state: 'reading', claim: 'a server that ended', arriving: sql`now() - interval '1 minute'`, attempts: 1 })
			.where(eq(recordings.id, id));
		const rest = { recordingId: id, generation: 1, line: 1, number: 0, firstTime: 0, lastTime: 9, count: 1, firstLevel: 0, lastLevel: 1 };
		await db()
			.insert(chunks)
			.values({ ...rest, packed: Buffer.alloc(0) });
		expect(await unread()).toContain(id);
		expect((await listRecordings(plan))[0].lines).toEqual([]);
		await runImport(id);
		expect((await traceOf(id, 1)).count).toBe(99_999);
		expect(await unread()).not.toContain(id);
	});

	test('that was taken for lost cannot touch what its successor writes', async () => {
		const plan = await createPlan(fernhollow());
		const id = await takeFile(plan, { name: 'long.csv', body: Readable.from([Buffer.from(LONG)]) });
		const first = runImport(id);
		// It is heard of no more, and another takes it up while it still writes.
		const lost = () =>
			db()
				.update(recordings)
				.set({ state: 'reading', arriving: sql`now() - interval '1 minute'` })
				.where(eq(recordings.id, id));
		await lost();
		const second = runImport(id);
		await Promise.all([first, second]);
		await runImport(id);
		const [recording] = await listRecordings(plan);
		expect([recording.state, recording.lines[0].edges, (await traceOf(id, 1)).count]).toEqual(['ready', 99_999, 99_999]);
		expect(await count(chunks, id)).toBe(Math.ceil(99_999 / CHUNK_EDGES));
	});

	test('that is stopped ends, and leaves nothing', async () => {
		const plan = await createPlan(fernhollow());
		const id = await takeFile(plan, { name: 'long.csv', body: Readable.from([Buffer.from(LONG.repeat(1))]) });
		const reading = runImport(id);
		expect(await setRecordingDeleted(id, true)).toEqual({ stored: 0 });
		await reading;
		expect([await listRecordings(plan), await count(chunks, id), await count(pieces, id)]).toEqual([[], 0, 0]);
	});

	test('with other settings takes the place of the first when it is done, and not before', async () => {
		const plan = await createPlan(fernhollow());
		const id = await stored(plan, 'ms.csv', EDGES, {}, true);
		await readAgain(id, { timeExponent: -3, step: '5e-6' });
		expect((await listRecordings(plan))[0]).toMatchObject({ state: 'waiting', endTime: 3e9, lines: [{ edges: 3 }] });
		await runImport(id);
		expect((await listRecordings(plan))[0]).toMatchObject({
			state: 'ready',
			endTime: 3e6,
			resolution: '1/200000',
			stepFrom: 'hand',
			lines: [{ generation: expect.any(Number) as number }],
			hasFile: true
		});
		// What cannot be read in the new way leaves the old one standing.
		await readAgain(id, { format: 'wav' });
		await runImport(id);
		expect((await listRecordings(plan))[0]).toMatchObject({ state: 'refused', endTime: 3e6, lines: [{ edges: 3 }] });
		const broken = (async function* () {
			yield await Promise.resolve(Buffer.from('time (s),out\n0,0\n'));
			throw new Error('broken off');
		})();
		// A new file that is broken off costs neither what is shown nor the file that was kept.
		await expect(takeFileAgain(id, { body: broken })).rejects.toThrow('broken off');
		await readAgain(id, { timeExponent: -3 });
		await runImport(id);
		expect(await listRecordings(plan)).toMatchObject([{ id, state: 'ready', endTime: 3e6, lines: [{ edges: 3 }] }]);
		expect(await takeFileAgain('none', { body: broken })).toBe(false);
		await takeFileAgain(id, { body: Readable.from([Buffer.from(EDGES.replace('0.003', '0.009'))]) });
		await runImport(id);
		expect((await listRecordings(plan))[0]).toMatchObject({ state: 'ready', endTime: 9e9, hasFile: false });
	});
});

describe('a line', () => {
	test('is told in windows, measured and searched as its edges say', async () => {
		const plan = await createPlan(fernhollow());
		const id = await stored(plan, 'long.csv', LONG);
		const line = (await shownLine(id, 1))!;
		const trace = await traceOf(id, 1);
		for (const [start, width] of [
			[0, 1e6],
			[1e11, 3e6],
			[-1e9, 1e9],
			[499e9, 1e5]
		]) {
			const columns = await lineWindow(line, start, width, 200);
			columns.forEach((column, i) => {
				const [a, b] = [trace.edgesBefore(start + i * width), trace.edgesBefore(start + (i + 1) * width)];
				expect((column >> 2) & 3).toBe(Math.min(2, b - a));
				if (b - a < 2) expect(column & 3).toBe(trace.levelAfter(a));
			});
		}
		const window = { start: 123_456_789, end: 400e9 };
		expect(await measureLine(line, window)).toEqual(measurePulses(trace, window));
		for (const at of [0, 77, 50_000]) {
			const time = trace.edgeTime(at);
			expect([await nextEdge(line, time, 1), await nextEdge(line, time, -1)]).toEqual([
				trace.edgeTime(at + 1),
				at === 0 ? undefined : trace.edgeTime(at - 1)
			]);
		}
		expect(await nextEdge(line, trace.edgeTime(trace.count - 1), 1)).toBeUndefined();
	});

	test('of samples keeps them, is drawn from them, and is cut anew', async () => {
		const plan = await createPlan(fernhollow());
		const id = await stored(plan, 'wave.csv', WAVE);
		const [{ lines }] = await listRecordings(plan);
		expect(lines[0]).toMatchObject({
			edges: 6249,
			slicing: { hysteresis: expect.closeTo(0.3, 2) as number },
			analogue: { samples: 50_000, least: 0 }
		});
		expect([lines[0].step, lines[0].raster]).toEqual([expect.any(String), '1/1000000']);
		const before = (await traceOf(id, 1)).edgeTime(0);
		const bounds = await sampleWindow((await shownLine(id, 1))!, -0.25, 1e8 + 0.1, 10);
		expect([...bounds.slice(0, 2)].map((value) => Number(value.toFixed(2)))).toEqual([0, 3.04]);
		expect(await cutAgain(id, 1, { threshold: 2.5, hysteresis: 0.1 })).toBe(true);
		const [again] = await listRecordings(plan);
		expect(again.lines[0]).toMatchObject({ edges: 6249, cut: 1, slicing: { threshold: 2.5, hysteresis: 0.1 } });
		expect(again.settings.lines![1]).toEqual({ threshold: 2.5, hysteresis: 0.1 });
		// Higher up the rising line is crossed later.
		expect((await traceOf(id, 1)).edgeTime(0)).toBeGreaterThan(before);
		expect(await cutAgain(id, 1, { threshold: 9, hysteresis: 0.1 })).toBe(true);
		expect((await traceOf(id, 1)).count).toBe(0);
		// Without a crossing nothing is known of its own step; a threshold that followed is forgotten when it does no more.
		expect((await listRecordings(plan))[0].lines[0].step).toBeNull();
		await cutAgain(id, 1, { threshold: 1.5, hysteresis: 0.1, follow: 40e-6 });
		await cutAgain(id, 1, { threshold: 1.5, hysteresis: 0.1 });
		expect((await listRecordings(plan))[0].settings.lines![1]).toEqual({ threshold: 1.5, hysteresis: 0.1 });
		expect(await cutAgain(id, 9, { threshold: 1 })).toBe(false);
	});

	test('is written as a dump and as rows that read back without a difference, whole or a window of it', async () => {
		const plan = await createPlan(fernhollow());
		const text = async (id: string, format: 'vcd' | 'edges' | 'samples', window = {}) => {
			let all = '';
			for await (const piece of (await exportRecording(id, format, window))!.text) all += piece;
			return all;
		};
		const two = `time (ns),a,b\n${Array.from({ length: 3000 }, (_, i) => `${7 * i + (i % 5)},${i % 2},${['0', '1', 'x'][Math.floor(i / 3) % 3]}`).join('\n')}\n`;
		const id = await stored(plan, 'two.csv', two);
		const traces = [await traceOf(id, 1), await traceOf(id, 2)];
		for (const [format, first] of [
			['vcd', 0],
			['edges', 1]
		] as const) {
			const again = await stored(plan, `again.${format}`, await text(id, format));
			const [{ resolution }] = (await listRecordings(plan)).filter((one) => one.id === again);
			expect([await traceOf(again, first), await traceOf(again, first + 1)].map(({ meta, chunks: own }) => [meta.initial, own])).toEqual(
				traces.map(({ meta, chunks: own }) => [meta.initial, own])
			);
			expect(resolution).toBe(format === 'vcd' ? '1/1000000000000' : '1/1000000000');
		}
		const window = { start: 3_000_000, end: 9_000_000 };
		const part = await stored(plan, 'part.csv', await text(id, 'edges', window));
		const cut = await traceOf(part, 1);
		expect([cut.meta.start, cut.meta.end, cut.meta.initial]).toEqual([3_000_000, 8_999_999, traces[0].levelAt(3_000_000)]);
		expect(cut.count).toBe(traces[0].edgesBefore(window.end) - traces[0].edgesBefore(window.start + 1));
		const wave = await stored(plan, 'wave.csv', WAVE);
		const back = await stored(plan, 'back.csv', await text(wave, 'samples'));
		expect((await traceOf(back, 1)).chunks).toEqual((await traceOf(wave, 1)).chunks);
	});

	test('whose chunks were stored before there were summaries is told as well', async () => {
		const plan = await createPlan(fernhollow());
		const id = await stored(plan, 'long.csv', LONG);
		await db().update(chunks).set({ marks: null }).where(eq(chunks.recordingId, id));
		const trace = await traceOf(id, 1);
		const columns = await lineWindow((await shownLine(id, 1))!, 0, 4e6, 300);
		columns.forEach((column, i) => {
			const edges = trace.edgesBefore((i + 1) * 4e6) - trace.edgesBefore(i * 4e6);
			expect([(column >> 2) & 3, edges > 1 ? 0 : column & 3]).toEqual([Math.min(2, edges), edges > 1 ? 0 : trace.levelAt(i * 4e6 - 1)]);
		});
	});
});

describe('what is deleted', () => {
	test('says what it takes, and frees it when it can no longer be brought back', async () => {
		const plan = await createPlan(fernhollow());
		const id = await stored(plan, 'long.csv', LONG);
		const { stored: bytes } = (await setRecordingDeleted(id, true))!;
		expect(bytes).toBeGreaterThan(10_000);
		await purgeDeleted();
		expect(await setRecordingDeleted(id, false)).toEqual({ stored: bytes });
		await db()
			.update(recordings)
			.set({ deletedAt: sql`now() - interval '2 hours'` })
			.where(eq(recordings.id, id));
		await purgeDeleted();
		expect([await setRecordingDeleted(id, false), await count(chunks, id)]).toEqual([undefined, 0]);
	});

	test('is not copied with a plan; what is copied has lines of its own', async () => {
		const document = fernhollow();
		const from = await createPlan(document);
		const recording = await stored(from, 'out.csv', EDGES);
		const gone = await stored(from, 'gone.csv', EDGES);
		await setRecordingDeleted(gone, true);
		const mapping = { line: 'out', aim: document.aims[0].id, instrument: '0' };
		const mappings = [
			{ ...mapping, id: 'm', recording },
			{ ...mapping, id: 'n', recording: gone }
		];
		const layings = { [recording]: { offset: '1 ms', ratio: '' }, [gone]: { offset: '0', ratio: '' } };
		const input = (id: string) => ({ kind: 'recorded', recording: id, line: 'a', second: '', log: '' }) as const;
		const stimuli = { x: input(recording), y: input(gone) };
		const copy = (await loadPlan(await copyPlan(from, { ...document, mappings, layings, stimuli })))!;
		const [own] = await listRecordings(copy.id);
		expect(Object.keys(copy.document.layings)).toEqual([own.id]);
		expect(copy.document.stimuli).toEqual({ x: { kind: 'recorded', recording: own.id, line: 'a', second: '', log: '' } });
		expect(copy.document.mappings.map((m) => [m.id, m.recording])).toEqual([['m', own.id]]);
		expect(own.id).not.toBe(recording);
		expect((await traceOf(own.id, 1)).count).toBe(3);
	});
});
