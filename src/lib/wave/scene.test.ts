import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../../core/exact/index.js';
import { PeriodicWave, TraceBuilder, type Level } from '../../core/trace/index.js';
import { columnWorkspace, drawList, laneScene, readColumns, rulerMarks, timeLabel } from './index.js';

const PS = Rational.of(1n, 10n ** 12n);

function build(initial: Level, edges: [number, Level][]) {
	const builder = new TraceBuilder(initial);
	for (const [time, level] of edges) builder.add(time, level);
	return builder.finish({ unit: PS, start: 0, end: 10_000 });
}

describe('readColumns', () => {
	test('entry, exit and edges of each column are those counted one by one (seed 61)', () => {
		const edges = fc.uniqueArray(fc.integer({ min: 0, max: 400 }), { maxLength: 60 }).map((list) => list.sort((a, b) => a - b));
		fc.assert(
			fc.property(
				edges,
				fc.integer({ min: -50, max: 300 }),
				fc.integer({ min: 1, max: 20 }),
				fc.integer({ min: -20, max: 20 }),
				(times, start, perColumn, offsetPs) => {
					const trace = build(
						0,
						times.map((t, i) => [t, ((i + 1) % 2) as Level])
					);
					const columns = 24;
					const into = columnWorkspace(columns);
					readColumns(trace, { offsetPs, unitPs: 1 }, { start, perColumn, columns }, into);
					for (let c = 0; c < columns; c++) {
						const [from, to] = [start + c * perColumn - offsetPs, start + (c + 1) * perColumn - offsetPs];
						const before = times.filter((t) => t < from).length;
						const inside = times.filter((t) => t >= from && t < to).length;
						expect([into.entry[c], into.exit[c], into.toggled[c]]).toEqual([before % 2, (before + inside) % 2, Math.min(2, inside)]);
					}
				}
			),
			{ seed: 61, numRuns: 300 }
		);
	});

	test('a planned wave needs no edges in memory, hours from its start', () => {
		const wave = new PeriodicWave(PS, 1000, [0, 350], [1, 0], 0);
		const into = columnWorkspace(10);
		readColumns(wave, { offsetPs: 0, unitPs: 1 }, { start: 7200e12, perColumn: 100, columns: 10 }, into);
		expect([...into.entry.slice(0, 10)]).toEqual([0, 1, 1, 1, 0, 0, 0, 0, 0, 0]);
		expect([...into.toggled.slice(0, 10)]).toEqual([1, 0, 0, 1, 0, 0, 0, 0, 0, 0]);
	});
});

describe('drawList', () => {
	test('joins what looks alike and keeps every edge', () => {
		const trace = build(0, [
			[25, 1],
			[41, 0],
			[43, 1],
			[44, 0],
			[52, 1],
			[53, 0],
			[75, 2]
		]);
		const items = laneScene(trace, { offsetPs: 0, unitPs: 1 }, { start: 0, perColumn: 10, columns: 9 }, columnWorkspace(9));
		expect(items).toEqual([
			{ kind: 'flat', from: 0, to: 2, level: 0 },
			{ kind: 'edge', at: 2, before: 0, after: 1 },
			{ kind: 'flat', from: 3, to: 4, level: 1 },
			{ kind: 'busy', from: 4, to: 6 },
			{ kind: 'flat', from: 6, to: 7, level: 0 },
			{ kind: 'edge', at: 7, before: 0, after: 2 },
			{ kind: 'flat', from: 8, to: 9, level: 2 }
		]);
	});

	test('covers every column once, whatever they hold (seed 62)', () => {
		fc.assert(
			fc.property(fc.array(fc.constantFrom(0, 1, 2), { maxLength: 80 }), (toggled) => {
				const count = toggled.length;
				const columns = { entry: new Uint8Array(count), exit: new Uint8Array(count), toggled: Uint8Array.from(toggled) };
				const covered = drawList(columns, count).flatMap((item) =>
					item.kind === 'edge' ? [item.at] : Array.from({ length: item.to - item.from }, (_, i) => item.from + i)
				);
				expect(covered).toEqual(toggled.map((_, i) => i));
			}),
			{ seed: 62 }
		);
	});
});

describe('ruler', () => {
	test('marks whole steps apart enough, counted from zero', () => {
		const marks = rulerMarks({ start: -1e9, perColumn: 1e7, columns: 800 }, 0, 100);
		expect(marks.map((m) => [m.x, m.label]).slice(0, 3)).toEqual([
			[0, '−1 ms'],
			[100, '0 ms'],
			[200, '1 ms']
		]);
		expect(rulerMarks({ start: 0, perColumn: 1e7, columns: 300 }, 0.5e9, 100)[0]).toEqual({ x: 50, label: '0 ms' });
	});
	test('has just the decimals that the step needs', () => {
		expect([timeLabel(2.5e9, 5e8), timeLabel(1e12, 2e11), timeLabel(3e3, 1), timeLabel(7, 1)]).toEqual([
			'2.5 ms',
			'1.0 s',
			'3.000 ns',
			'7 ps'
		]);
	});
});
