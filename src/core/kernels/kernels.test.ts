import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { kernelsFile } from '../../../tools/kernels.mjs';
import { AnyReader, type ParsedRecording } from '../formats/index.js';
import { HistogramBuilder } from '../formats/histogram.js';
import { PulseMeter } from '../measure/index.js';
import { Rational } from '../exact/index.js';
import { TraceBuilder, type EdgeChunk, type Level } from '../trace/index.js';

/** The loops are held against what does the same step by step. */

const encode = (text: string) => new TextEncoder().encode(text);

function read(text: string, piece = Infinity): ParsedRecording {
	const reader = new AnyReader();
	const bytes = encode(text);
	for (let at = 0; at < bytes.length; at += piece) reader.feed(bytes.subarray(at, at + piece));
	return reader.end();
}

const edgesOf = ({ lines }: ParsedRecording) =>
	lines.map(({ name, trace }) => {
		const edges: [number, Level][] = [];
		trace.forEdges(0, trace.count, (time, level) => edges.push([time, level]));
		return { name, edges };
	});

/** Numbers that look like chance and are the same in every run. */
function drawn(seed: number): (below: number) => number {
	let state = seed;
	return (below) => {
		state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
		return (state >> 8) % below;
	};
}

test('code.ts is what the source gives', () => {
	expect(readFileSync('src/core/kernels/code.ts', 'utf8')).toBe(kernelsFile());
});

describe('words of a dump', () => {
	/** Identifiers of one, two and three characters; times that stand still, levels that repeat, words of other kinds in between. */
	function dump(seed: number, moments: number): { text: string; edges: [number, Level][][] } {
		const draw = drawn(seed);
		const ids = ['!', '~', 'A', '!!', '~z', 'abc'];
		let text = `$timescale 1ns $end\n${ids.map((id) => `$var wire 1 ${id} ${id} $end`).join('\n')}\n$enddefinitions $end\n#0\n`;
		text += ids.map((id) => `0${id}`).join(' ');
		const builders = ids.map(() => new TraceBuilder(0));
		for (let i = 0, time = 1; i < moments; i++) {
			time += draw(3) === 0 ? 0 : 10 ** draw(6);
			text += `\n#${time}`;
			for (let k = draw(5); k > 0; k--) {
				const line = draw(ids.length);
				const level = draw(40) === 0 ? 2 : draw(2);
				text += `${draw(2) ? '\n' : ' \t'}${level === 2 ? 'x' : level}${ids[line]}`;
				builders[line].add(time, level as Level);
			}
			if (draw(30) === 0) text += '\n$comment 1! $end';
		}
		const meta = { unit: Rational.one, start: 0, end: Number.MAX_SAFE_INTEGER };
		const edges = builders.map((builder) => {
			const found: [number, Level][] = [];
			const trace = builder.finish(meta);
			trace.forEdges(0, trace.count, (time, level) => found.push([time, level]));
			return found;
		});
		return { text: `${text}\n`, edges };
	}

	test('give the edges that one level after the other gives, however the file comes (seeds drawn)', () => {
		fc.assert(
			fc.property(fc.nat(), fc.constantFrom(1, 7, 1000, Infinity), (seed, piece) => {
				const { text, edges } = dump(seed, 200);
				expect(edgesOf(read(text, piece)).map((line) => line.edges)).toEqual(edges);
			}),
			{ numRuns: 60, seed: 41 }
		);
	});

	test('fill columns and pieces more than once', () => {
		const { text, edges } = dump(5, 60_000);
		expect(text.length).toBeGreaterThan(2 * 262_144);
		expect(edgesOf(read(text)).map((line) => line.edges)).toEqual(edges);
	});

	test('a time that goes back, and one that is none, are refused with their place', () => {
		const head = '$timescale 1ns $end $var wire 1 ! a $end $enddefinitions $end\n#0 0!\n#5 1!\n#9 0!\n';
		expect(() => read(`${head}#8 1!\n`)).toThrow(expect.objectContaining({ code: 'time-back', line: 5, byte: head.length }));
		expect(() => read(`${head}#1x 1!\n`)).toThrow(expect.objectContaining({ code: 'bad-time', line: 5, byte: head.length }));
	});
});

describe('rows of levels', () => {
	/** A blank behind a cell makes the row one for the long way. */
	const table = (seed: number, rows: number, lines: number, end: string, blank: string) => {
		const draw = drawn(seed);
		let text = `time (us),${Array.from({ length: lines }, (_, i) => `L${i}`).join(',')}${end}`;
		const levels = Array.from({ length: lines }, () => draw(2));
		for (let i = 0, time = 0; i < rows; i++) {
			time += 1 + draw(20_000);
			for (let k = draw(3); k > 0; k--) levels[draw(lines)] ^= 1;
			const cells = levels.map((level) => (draw(200) === 0 ? '' : `${level}${blank}`));
			text += `${(time / 1000).toFixed(draw(2) ? 3 : 4)},${cells.join(',')}${end}`;
		}
		return text;
	};

	test('give what the long way gives: edges, notes and steps (seeds drawn)', () => {
		fc.assert(
			fc.property(fc.nat(), fc.integer({ min: 1, max: 9 }), fc.constantFrom('\n', '\r\n'), (seed, lines, end) => {
				const [fast, slow] = ['', ' '].map((blank) => read(table(seed, 120, lines, end, blank)));
				expect(edgesOf(fast)).toEqual(edgesOf(slow));
				expect([fast.notes, fast.resolution.toString(), fast.stepFrom]).toEqual([slow.notes, slow.resolution.toString(), slow.stepFrom]);
			}),
			{ numRuns: 60, seed: 42 }
		);
	});

	test('fill columns and pieces more than once', () => {
		const [fast, slow] = ['', ' '].map((blank) => table(3, 40_000, 5, '\n', blank));
		expect(fast.length).toBeGreaterThan(2 * 262_144);
		expect(edgesOf(read(fast, 100_000))).toEqual(edgesOf(read(slow)));
	});
});

describe('edges in a row', () => {
	test('make the chunks that one after the other makes, shortest pulse and raster among them (seeds drawn)', () => {
		fc.assert(
			fc.property(
				fc.array(fc.array(fc.integer({ min: 1, max: 4_000_000_000 }), { minLength: 1, maxLength: 9000 }), { maxLength: 5 }),
				fc.constantFrom(0, 1, 2),
				(runs, initial) => {
					const [one, other] = [new TraceBuilder(initial), new TraceBuilder(initial)];
					let time = 0;
					runs.forEach((steps, k) => {
						const times = Float64Array.from(steps, (step) => (time += step));
						one.addRun(times, (k % 2) as Level);
						times.forEach((at, i) => other.add(at, ((k + i) % 2) as Level));
					});
					const meta = { unit: Rational.one, start: 0, end: time };
					expect(one.finish(meta)).toEqual(other.finish(meta));
					expect([one.count, one.raster, one.shortestPulse]).toEqual([other.count, other.raster, other.shortestPulse]);
				}
			),
			{ numRuns: 30, seed: 43 }
		);
	});
});

test('samples are counted into the bins in which one after the other falls (seeds drawn)', () => {
	const value = fc.oneof(fc.integer({ min: -40, max: 40 }), fc.constantFrom(NaN, 1e6, -3), fc.float({ noNaN: true, min: -1, max: 1 }));
	fc.assert(
		fc.property(fc.array(value, { maxLength: 400 }), (values) => {
			const [all, each] = [new HistogramBuilder(), new HistogramBuilder()];
			all.addAll(Float32Array.from(values));
			for (const one of Float32Array.from(values)) if (Number.isFinite(one)) each.add(one);
			expect(all.bounds).toEqual(each.bounds);
			const [a, b] = [all.finish(), each.finish()];
			expect(a?.counts.reduce((sum, count) => sum + count, 0)).toBe(b?.counts.reduce((sum, count) => sum + count, 0));
			if (!a || !b) return;
			// A value on the border of two bins may be rounded into either.
			const width = (b.to - b.from) / b.counts.length;
			expect(Math.abs(a.from - b.from) + Math.abs(a.to - b.to)).toBeLessThanOrEqual(3 * width);
			for (const side of [0, 1]) expect(Math.abs(a.levels[side] - b.levels[side])).toBeLessThanOrEqual(3 * width);
		}),
		{ numRuns: 200, seed: 44 }
	);
});

test('periods are summed as one after the other is, to the last of their exact parts (seeds drawn)', () => {
	const width = fc.oneof(fc.integer({ min: 1, max: 12 }), fc.integer({ min: 1, max: 2 ** 40 }), fc.constant(1000));
	fc.assert(
		fc.property(fc.array(width, { minLength: 8, maxLength: 900 }), fc.nat(3), (widths, odd) => {
			const levels = widths.map((_, i) => (odd > 0 && i % 97 === 96 ? 2 : (i + 1) % 2));
			let time = 0;
			const times = widths.map((step) => (time += step));
			const offsets = time > 2 ** 32 - 1 ? Float64Array.from(times) : Uint32Array.from(times);
			const chunk: EdgeChunk = { base: 7, shortest: 1, offsets, levels: Uint8Array.from(levels) };
			const [run, each] = [new PulseMeter(0), new PulseMeter(0)];
			run.addRun(chunk, 0, times.length);
			times.forEach((at, i) => each.add(7 + at, levels[i] as Level));
			const [a, b] = [run.result(Rational.one), each.result(Rational.one)];
			for (const of of ['period', 'high', 'low', 'duty'] as const) {
				const [x, y] = [a[of], b[of]];
				expect([x?.count, x?.min.toString(), x?.max.toString(), x?.rounded]).toEqual([
					y?.count,
					y?.min.toString(),
					y?.max.toString(),
					y?.rounded
				]);
				if (!x || !y) continue;
				expect(x.mean.sub(y.mean).toNumber() / y.mean.toNumber()).toBeCloseTo(0, 12);
				expect(x.deviation).toBeCloseTo(y.deviation, Math.max(0, 9 - Math.ceil(Math.log10(1 + y.deviation))));
			}
			expect([a.rises, a.edges, a.stretches]).toEqual([b.rises, b.edges, b.stretches]);
		}),
		{ numRuns: 100, seed: 45 }
	);
});
