import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { chunkMarks, tableOf, TraceBuilder, windowColumns, type EdgeChunk, type Level, type Trace } from './index.js';

function bursts(steps: readonly number[], length: number): Trace {
	const builder = new TraceBuilder(0);
	let time = 5;
	for (let i = 0; i < length; i++) builder.add((time += steps[i % steps.length]), ((i + 1) % 2) as Level);
	return builder.finish({ unit: Rational.one, start: 0, end: time });
}

/** As a store answers: what is wanted, and no more, until nothing is missing. */
function settled(trace: Trace, start: number, width: number, count: number) {
	const table = tableOf(trace.meta.initial, trace.chunks);
	const [marks, edges] = [new Map<number, Float64Array>(), new Map<number, EdgeChunk>()];
	for (let round = 0; ; round++) {
		const found = windowColumns(table, start, width, count, { marks, edges });
		if (found.wantedMarks.length + found.wantedEdges.length === 0) return { ...found, round, marks, edges };
		for (const i of found.wantedMarks) marks.set(i, chunkMarks(trace.chunks[i]));
		for (const i of found.wantedEdges) edges.set(i, trace.chunks[i]);
		if (round > 2) throw new Error('still missing something');
	}
}

describe('windowColumns', () => {
	test('are what the edges themselves say, at any zoom (seed 5)', () => {
		const step = fc.oneof(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 100_000 }));
		fc.assert(
			fc.property(
				fc.array(step, { minLength: 1, maxLength: 40 }),
				fc.integer({ min: 1, max: 60_000 }),
				fc.double({ min: 0, max: 1, noNaN: true }),
				fc.integer({ min: 0, max: 34 }),
				(steps, length, at, zoom) => {
					const trace = bursts(steps, length);
					const [start, width] = [Math.floor(at * trace.meta.end) - 10, 2 ** zoom];
					const { columns } = settled(trace, start, width, 50);
					columns.forEach((column, i) => {
						const [a, b] = [start + i * width, start + (i + 1) * width].map((t) => trace.edgesBefore(t));
						expect((column >> 2) & 3).toBe(Math.min(2, b - a));
						if (b - a < 2) expect([column & 3, column >> 4]).toEqual([trace.levelAfter(a), trace.levelAfter(b)]);
					});
				}
			),
			{ seed: 5, numRuns: 150 }
		);
	});

	test('ask for few edges of a steady line, however far the view is', () => {
		const trace = bursts([1000, 2000], 2_000_000);
		for (let zoom = 0; zoom < 32; zoom++) {
			const { edges, marks } = settled(trace, 1e6, 2 ** zoom, 1280);
			expect(edges.size).toBeLessThan(30);
			expect(marks.size).toBeLessThanOrEqual(123);
		}
	});
});
