import { afterEach, describe, expect, test, vi } from 'vitest';
import { Rational } from '../core/exact/index.js';
import { measurePulses } from '../core/measure/index.js';
import { CHUNK_EDGES, packChunk, TraceBuilder, type Trace } from '../core/trace/index.js';
import { MOST_EDGES, type LineFrame } from './benchWire.js';
import { loadWithin } from './loadLine.js';

/** Chunks that the pretended server holds in one answer. */
const AN_ANSWER = 3;

/** A line of 20 chunks, high for 3 to 6 of every 10 units. */
function long(): Trace {
	const builder = new TraceBuilder(0);
	for (let k = 0; k < 10 * CHUNK_EDGES; k++) {
		builder.add(10 * k + 2, 1);
		builder.add(10 * k + 5 + (k % 4), 0);
	}
	return builder.finish({ unit: Rational.ratio(1, 1_000_000), start: 0, end: 100 * CHUNK_EDGES });
}

/** Answers as the line's own addresses do. */
function serve(trace: Trace): void {
	const before = (time: number) => {
		const edges = trace.edgesBefore(time);
		return edges === 0 ? null : trace.edgeTime(edges - 1);
	};
	const answer = (address: string): Response => {
		const url = new URL(address, 'http://loop');
		const number = (name: string) => Number(url.searchParams.get(name));
		if (url.pathname.endsWith('/next')) return Response.json({ time: before(number('time')) });
		const [from, to] = [number('from'), number('to')];
		const inside = trace.chunks.filter(({ base, offsets }) => base <= to && base + offsets[offsets.length - 1] >= from);
		if (inside.length > AN_ANSWER) return new Response(null, { status: 413 });
		const parts = inside.map((chunk) => Buffer.from(packChunk(chunk)));
		return new Response(new Uint8Array(Buffer.concat(parts)));
	};
	vi.stubGlobal('fetch', (address: string) => Promise.resolve(answer(address)));
}

function frameOf(trace: Trace, edges: number): LineFrame {
	const { start, end, initial } = trace.meta;
	return { url: 'line', version: '1', edges, unit: '1/1000000', start, end, initial };
}

describe('a line that is too long to be held', () => {
	afterEach(() => void vi.unstubAllGlobals());
	const trace = long();
	const asLong = frameOf(trace, MOST_EDGES + 1);

	test.each([
		['from its beginning', 0, 700_003],
		['over many answers', 12_345, 1_000_000],
		['inside one chunk', 40_004, 41_000]
	])('measures in a window as the whole line does: %s', async (_, start, end) => {
		serve(trace);
		const part = await loadWithin(asLong, { start, end });
		expect(measurePulses(part!, { start, end })).toEqual(measurePulses(trace, { start, end }));
		expect(part!.chunks.length).toBeLessThanOrEqual(trace.chunks.length);
	});

	test('is not read where a window has too many edges', async () => {
		serve(trace);
		expect(await loadWithin(asLong, { start: 0, end: 1_000_000 }, 150_000)).toBeUndefined();
		expect(await loadWithin(asLong, { start: 0, end: 100_000 }, 150_000)).toBeDefined();
	});

	test('is told when not even a moment of it is answered', async () => {
		vi.stubGlobal('fetch', (address: string) =>
			Promise.resolve(address.includes('next') ? Response.json({ time: null }) : new Response(null, { status: 413 }))
		);
		await expect(loadWithin(asLong, { start: 0, end: 1000 })).rejects.toThrow('could not be loaded');
	});
});
