import { afterEach, describe, expect, test, vi } from 'vitest';
import { Rational } from '../../core/exact/index.js';
import { tableOf, TraceBuilder, windowColumns, type Level, type Trace } from '../../core/trace/index.js';
import { ABSENT, columnWorkspace, readColumns } from '../wave/index.js';
import { WindowedLine } from './windowedLine.js';

/** Edges to 1, to 0 and to unknown, 400 to 1400 units apart. */
function recorded(): Trace {
	const builder = new TraceBuilder(0);
	let time = 0;
	for (let i = 0; i < 5000; i++) builder.add((time += 400 + ((i * 7919) % 1000)), ([1, 0, 1, 2, 0] as Level[])[i % 5]);
	return builder.finish({ unit: Rational.of(1n, 10n ** 12n), start: 0, end: time });
}

/** Answers as the server does; counts what is asked for. */
function serve(trace: Trace): string[] {
	const asked: string[] = [];
	vi.stubGlobal('fetch', (url: string) => {
		asked.push(url);
		const [start, width, count] = ['start', 'width', 'count'].map((name) => Number(new URL(url, 'http://x').searchParams.get(name)));
		const details = { marks: new Map(), edges: new Map(trace.chunks.map((chunk, i) => [i, chunk])) };
		const { columns } = windowColumns(tableOf(trace.meta.initial, trace.chunks), start, width, count, details);
		return Promise.resolve(new Response(Uint8Array.from(columns)));
	});
	return asked;
}
afterEach(() => vi.unstubAllGlobals());

describe('a line that is not held', () => {
	const trace = recorded();
	const { start, end, initial } = trace.meta;
	const frame = { url: '/line', version: '1.0', edges: trace.count, unit: '1/1000000000000', start, end, initial };
	const settle = () => new Promise((done) => setTimeout(done, 150));

	test('is drawn as the edges say once its tiles are here, and from coarser ones until then', async () => {
		const asked = serve(trace);
		let arrived = 0;
		const line = new WindowedLine(frame, () => arrived++);
		const [found, want] = [columnWorkspace(200), columnWorkspace(200)];
		const view = { start: 100_000, perColumn: 256, columns: 200 };
		readColumns(line, { offsetPs: 0, unitPs: 1 }, view, found);
		expect([...found.toggled].every((toggled) => toggled === ABSENT)).toBe(true);
		await settle();
		expect(arrived).toBeGreaterThan(0);
		readColumns(line, { offsetPs: 0, unitPs: 1 }, view, found);
		// Columns of tiles begin at whole multiples of their width.
		readColumns(trace, { offsetPs: 0, unitPs: 1 }, { ...view, start: 256 * Math.floor(view.start / 256) }, want);
		expect(found).toEqual(want);
		const before = asked.length;
		readColumns(line, { offsetPs: 0, unitPs: 1 }, view, found);
		await settle();
		expect(asked.length).toBe(before);
		line.close();
	});
});
