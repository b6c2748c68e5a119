import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { CHUNK_EDGES, Disagreement, packChunk, PeriodicWave, Trace, TraceBuilder, unpackChunks, type Level } from './index.js';

const PS = Rational.of(1n, 10n ** 12n);

function build(initial: Level, edges: [number, Level][], end = 1_000_000): Trace {
	const builder = new TraceBuilder(initial);
	for (const [time, level] of edges) builder.add(time, level);
	return builder.finish({ unit: PS, start: 0, end });
}

function listed(trace: Trace): [number, Level][] {
	const edges: [number, Level][] = [];
	trace.forEdges(0, trace.count, (time, level) => edges.push([time, level]));
	return edges;
}

const level = fc.constantFrom<Level>(0, 1, 2);
const events = fc
	.array(fc.tuple(fc.integer({ min: 0, max: 300 }), level), { maxLength: 120 })
	.map((list) => list.sort((a, b) => a[0] - b[0]));

/** Slow twin: what stands after all events of each time, and only where it changes. */
function settled(initial: Level, list: [number, Level][]): [number, Level][] {
	const last = new Map<number, Level>(list);
	const edges: [number, Level][] = [];
	let now = initial;
	for (const [time, to] of [...last].sort((a, b) => a[0] - b[0])) {
		if (to !== now) edges.push([time, to]);
		now = to;
	}
	return edges;
}

describe('TraceBuilder', () => {
	test('keeps what stands after each moment, and no edge that changes nothing (seed 3)', () => {
		fc.assert(
			fc.property(level, events, (initial, list) => {
				const trace = build(initial, list);
				expect(listed(trace)).toEqual(settled(initial, list));
			}),
			{ seed: 3, numRuns: 400 }
		);
	});

	test('refuses time that runs back, times that are no integers, and edges after the end', () => {
		const builder = new TraceBuilder(0);
		builder.add(10, 1);
		expect(() => builder.add(9, 0)).toThrow('after one at 10');
		expect(() => builder.add(10.5, 0)).toThrow('no safe integer');
		builder.finish({ unit: PS, start: 0, end: 20 });
		expect(() => builder.add(30, 0)).toThrow('finished');
	});

	test('starts a new chunk when one is full, whatever its reach in units', () => {
		const builder = new TraceBuilder(0);
		for (let i = 0; i < CHUNK_EDGES + 3; i++) builder.add(10 * i, i % 2 ? 0 : 1);
		builder.add(2 ** 40, 0);
		const trace = builder.finish({ unit: PS, start: 0, end: 2 ** 41 });
		expect(trace.chunks.map((c) => c.offsets.length)).toEqual([CHUNK_EDGES, 4]);
		expect([trace.edgeTime(CHUNK_EDGES), trace.edgeTime(CHUNK_EDGES + 3)]).toEqual([10 * CHUNK_EDGES, 2 ** 40]);
		expect(trace.shortestPulse).toBe(10);
	});

	test('a slow line in fine units fills chunks like any other', () => {
		const builder = new TraceBuilder(0);
		for (let i = 0; i < 100; i++) builder.add(i * 9e12, i % 2 ? 0 : 1);
		const trace = builder.finish({ unit: PS, start: 0, end: 9e14 });
		expect(trace.chunks).toHaveLength(1);
		expect(trace.edgesBefore(450e12)).toBe(50);
		expect(unpackChunks(packChunk(trace.chunks[0]))).toEqual([...trace.chunks]);
	});

	test('knows the raster on which all edges lie (seed 21)', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 50 }),
				fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 2, maxLength: 60 }),
				(grid, steps) => {
					const builder = new TraceBuilder(0);
					let time = 7;
					for (const [i, step] of steps.entries()) builder.add((time += step * grid), i % 2 ? 0 : 1);
					builder.finish({ unit: PS, start: 0, end: time });
					const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
					expect(builder.raster).toBe(steps.slice(1).reduce((all, step) => gcd(all, step * grid), 0));
				}
			),
			{ seed: 21 }
		);
	});

	test('gives full chunks away as they fill', () => {
		const sizes: number[] = [];
		const builder = new TraceBuilder(0, (chunk) => sizes.push(chunk.offsets.length));
		for (let i = 0; i < 2 * CHUNK_EDGES + 5; i++) builder.add(i, i % 2 ? 0 : 1);
		expect(builder.count).toBe(2 * CHUNK_EDGES + 5);
		expect(builder.finish({ unit: PS, start: 0, end: 99 }).count).toBe(0);
		expect(sizes).toEqual([CHUNK_EDGES, CHUNK_EDGES, 5]);
	});
});

describe('Trace', () => {
	test('levels and counts are those of a plain list (seed 4)', () => {
		fc.assert(
			fc.property(level, events, fc.integer({ min: -5, max: 310 }), (initial, list, t) => {
				const trace = build(initial, list);
				const edges = listed(trace);
				const before = edges.filter(([time]) => time < t).length;
				expect(trace.edgesBefore(t)).toBe(before);
				expect(trace.levelAfter(before)).toBe(before === 0 ? initial : edges[before - 1][1]);
				expect(trace.levelAt(t)).toBe(edges.filter(([time]) => time <= t).at(-1)?.[1] ?? initial);
			}),
			{ seed: 4, numRuns: 400 }
		);
	});

	test('has no edge outside its count', () => {
		expect(() => build(0, [[1, 1]]).edgeTime(1)).toThrow(RangeError);
		expect(() => build(0, []).edgeTime(0)).toThrow(RangeError);
	});

	test('refuses chunks out of order', () => {
		const chunk = (base: number) => ({ base, offsets: Uint32Array.of(0, 5), levels: Uint8Array.of(1, 0), shortest: 5 });
		expect(() => new Trace({ unit: PS, start: 0, end: 9, initial: 0 }, [chunk(10), chunk(12)])).toThrow('starts at 12, after 15');
	});

	test('times in seconds are exact', () => expect(build(0, []).seconds(1250).toString()).toBe('1/800000000'));
});

describe('packed chunks', () => {
	test('come back as they were (seed 8)', () => {
		fc.assert(
			fc.property(events, events, (a, b) => {
				const chunks = [...build(0, a).chunks, ...build(1, b).chunks];
				const bytes = chunks.map(packChunk);
				expect(unpackChunks(new Uint8Array(bytes.flatMap((c) => [...c])))).toEqual(chunks);
				expect(bytes.every((c) => c.length % 8 === 0)).toBe(true);
			}),
			{ seed: 8 }
		);
	});

	test('hold steps of any size, and few bytes where they are steady (seed 9)', () => {
		const step = fc.oneof(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 1, max: 2 ** 33 }), fc.constantFrom(2 ** 32, 2 ** 40, 2 ** 45));
		fc.assert(
			fc.property(
				fc.array(fc.tuple(step, level), { minLength: 1, maxLength: 400 }),
				fc.integer({ min: -(2 ** 50), max: 2 ** 50 }),
				(list, from) => {
					const builder = new TraceBuilder(0);
					let time = from;
					for (const [by, to] of list) builder.add((time += by), to);
					const { chunks } = builder.finish({ unit: PS, start: from, end: time });
					for (const chunk of chunks) expect(unpackChunks(packChunk(chunk))).toEqual([chunk]);
				}
			),
			{ seed: 9 }
		);
		// 12.3456 kHz at a third of the period, sampled every 20 ns.
		const sampled = new TraceBuilder(0);
		for (let i = 0; i < CHUNK_EDGES; i++) {
			const at = (Math.floor(i / 2) + (i % 2) / 3) * 81_000_518;
			sampled.add(20_000 * Math.ceil(at / 20_000), i % 2 ? 0 : 1);
		}
		const [chunk] = sampled.finish({ unit: PS, start: 0, end: 1e15 }).chunks;
		expect(packChunk(chunk).length / CHUNK_EDGES).toBeLessThan(0.3);
	});

	test('stored first, with 32 bits an edge, can still be read', () => {
		// "NVE1", base 7, shortest 3, two edges at 7 and 10, to 1 and to 0.
		const bytes = new Uint8Array(40);
		const view = new DataView(bytes.buffer);
		view.setUint32(0, 0x3145564e, true);
		view.setFloat64(4, 7, true);
		view.setFloat64(12, 3, true);
		view.setUint32(20, 2, true);
		view.setUint32(28, 3, true);
		bytes.set([1, 0], 32);
		const first = [{ base: 7, shortest: 3, offsets: Uint32Array.of(0, 3), levels: Uint8Array.of(1, 0) }];
		expect(unpackChunks(bytes)).toEqual(first);
		expect(unpackChunks(new Uint8Array([...bytes, ...packChunk(first[0])]))).toEqual([...first, ...first]);
	});

	test('that are cut or made up are refused with the byte', () => {
		const bytes = packChunk(build(0, [[7, 1]]).chunks[0]);
		expect(() => unpackChunks(bytes.subarray(0, bytes.length - 8))).toThrow('byte 0');
		const two = new Uint8Array([...bytes, ...bytes]);
		two[bytes.length] ^= 1;
		expect(() => unpackChunks(two)).toThrow(`byte ${bytes.length}`);
		const many = bytes.slice();
		new DataView(many.buffer).setUint32(8, 2 ** 31, true);
		expect(() => unpackChunks(many)).toThrow('do not fit');
	});
});

describe('PeriodicWave', () => {
	const wave = new PeriodicWave(PS, 10, [2, 5], [1, 0], 0);
	test('repeats for ever in both directions', () => {
		const at = (t: number) => wave.levelAfter(wave.edgesBefore(t + 1));
		expect([-8, -7, -5, 1, 2, 4, 5, 12, 15, 1002].map(at)).toEqual([1, 1, 0, 0, 1, 1, 0, 1, 0, 1]);
		expect([wave.edgeTime(-2), wave.edgeTime(-1), wave.edgeTime(0), wave.edgeTime(3)]).toEqual([-8, -5, 2, 15]);
	});
	test('a steady level has no edges', () => {
		const steady = new PeriodicWave(PS, 10, [], [], 1);
		expect([steady.edgesBefore(55), steady.levelAfter(0)]).toEqual([0, 1]);
		expect(() => steady.edgeTime(0)).toThrow(RangeError);
	});
	test.each<[number[], Level[]]>([
		[
			[5, 2],
			[1, 0]
		],
		[
			[2, 10],
			[1, 0]
		],
		[
			[2, 5],
			[1, 1]
		],
		[[2], [1, 0]]
	])('refuses edges at %j with levels %j', (offsets, levels) => {
		expect(() => new PeriodicWave(PS, 10, offsets, levels, 0)).toThrow(RangeError);
	});
});

describe('Disagreement', () => {
	const wave = new PeriodicWave(PS, 10, [0, 4], [1, 0], 0);

	test('shares of a recording that is 1 high too long', () => {
		// Plan: high 0..4, 10..14. Recorded: high 0..5, 10..15, until 20. They differ in 4..5 and 14..15.
		const trace = build(
			1,
			[
				[5, 0],
				[10, 1],
				[15, 0]
			],
			20
		);
		const found = Disagreement.between(trace, wave, 0);
		expect(found.count).toBe(2);
		expect([found.share(4, 5), found.share(0, 10), found.share(4.5, 5.5), found.share(6, 14)]).toEqual([1, 0.1, 0.5, 0]);
	});

	test('is what comparing every tick gives, for any shift (seed 12)', () => {
		fc.assert(
			fc.property(level, events, fc.integer({ min: -30, max: 30 }), (initial, list, shift) => {
				const trace = build(initial, list, 300);
				const found = Disagreement.between(trace, wave, shift);
				let differing = 0;
				for (let t = 0; t < 300; t++) {
					const [plan, real] = [wave.levelAfter(wave.edgesBefore(t - shift + 1)), trace.levelAt(t)];
					if (real !== 2 && plan !== real) differing++;
				}
				expect(found.before(300) - found.before(0)).toBe(differing);
			}),
			{ seed: 12, numRuns: 300 }
		);
	});
});
