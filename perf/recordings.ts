import { gzipSync } from 'node:zlib';
import { Rational } from '../src/core/exact/index.js';
import { AnyReader, unpacked } from '../src/core/formats/index.js';
import { measurePulses } from '../src/core/measure/index.js';
import { packChunk, TraceBuilder, type EdgeChunk, type Level, type Trace } from '../src/core/trace/index.js';
import { columnWorkspace, readColumns } from '../src/lib/wave/index.js';
import type { Report } from './report.js';

const PS = Rational.of(1n, 10n ** 12n);
const COLUMNS = 1280;
const LINE = 10_000_000;
const LONG_LINE = 100_000_000;

/** Statistics of a long line, windows of a longer one, bytes an edge in the store, and the readers of waves and of packed dumps. */
export async function benchRecordings(report: Report): Promise<void> {
	benchStatistics(report);
	benchStored(report);
	benchWindows(report);
	benchWav(report);
	await benchGzip(report);
}

/** A line with jitter; edge i lies at `at(i)`. */
function lineOf(edges: number, step: (i: number) => number, onChunk?: (chunk: EdgeChunk) => void): Trace {
	const builder = new TraceBuilder(0, onChunk);
	let time = 0;
	for (let i = 0; i < edges; i++) builder.add((time += step(i)), ((i + 1) % 2) as Level);
	return builder.finish({ unit: PS, start: 0, end: time });
}

function benchStatistics(report: Report): void {
	const trace = lineOf(LINE, (i) => 1000 + ((i * 7919) % 3001));
	const window = { start: 0, end: trace.meta.end + 1 };
	measurePulses(trace, window);
	const took = Array.from({ length: 5 }, () => timed(() => measurePulses(trace, window)));
	report('stats_10M', median(took), 'ms');
}

/** 12.3 kHz at a third of its period, sampled every 20 ns, as stored. */
function benchStored(report: Report): void {
	let bytes = 0;
	const period = 81_000_518;
	const at = (i: number) => 20_000 * Math.ceil((Math.floor(i / 2) + (i % 2) / 3) * (period / 20_000));
	lineOf(
		1_000_000,
		(i) => at(i + 1) - at(i),
		(chunk) => (bytes += packChunk(chunk).length)
	);
	report('stored_bytes_edge', bytes / 1_000_000, 'B');
}

function benchWindows(report: Report): void {
	const trace = lineOf(LONG_LINE, (i) => 1000 + ((i * 7919) % 3001));
	const workspace = columnWorkspace(COLUMNS);
	const took: number[] = [];
	for (let round = 0; round < 4; round++)
		for (let zoom = 0; zoom < 60; zoom++) {
			const span = trace.meta.end / 1.35 ** zoom;
			const start = (trace.meta.end - span) * ((zoom * 0.37) % 1);
			took.push(
				timed(() => readColumns(trace, { offsetPs: 0, unitPs: 1 }, { start, perColumn: span / COLUMNS, columns: COLUMNS }, workspace))
			);
		}
	report('window_query_100M', median(took), 'ms');
	report('window_query_100M_worst', Math.max(...took.slice(60)), 'ms');
}

const WAV_BYTES = 200_000_000;
const PIECE = 1 << 20;

/** Two channels of 16 bits: a square wave with noise. */
function benchWav(report: Report): void {
	const samples = Buffer.alloc(1 << 22);
	for (let i = 0; i < samples.length / 4; i++) {
		samples.writeInt16LE((i % 480 < 200 ? 9000 : -9000) + ((i * 7919) % 301), 4 * i);
		samples.writeInt16LE((i % 96 < 40 ? 12_000 : -12_000) + ((i * 104_729) % 157), 4 * i + 2);
	}
	const reader = new AnyReader({ edges: () => undefined, samples: () => undefined });
	reader.feed(wavHead(2, 48_000, WAV_BYTES));
	let fed = 0;
	const took = timed(() => {
		for (; fed < WAV_BYTES; fed += PIECE) reader.feed(samples.subarray(fed % samples.length, (fed % samples.length) + PIECE));
		reader.end();
	});
	report('wav_parse', fed / 1e3 / took, 'MB/s');
	report('wav_parse_peak', process.memoryUsage.rss() / 1e6, 'MB');
}

function wavHead(channels: number, rate: number, bytes: number): Buffer {
	const head = Buffer.alloc(44);
	head.write('RIFF', 0, 'latin1');
	head.write('WAVEfmt ', 8, 'latin1');
	head.writeUInt32LE(16, 16);
	head.writeUInt16LE(1, 20);
	head.writeUInt16LE(channels, 22);
	head.writeUInt32LE(rate, 24);
	head.writeUInt32LE(rate * channels * 2, 28);
	head.writeUInt16LE(channels * 2, 32);
	head.writeUInt16LE(16, 34);
	head.write('data', 36, 'latin1');
	head.writeUInt32LE(bytes, 40);
	return head;
}

/** A dump packed with gzip: how fast its own bytes go, and how much of that is unpacking. */
async function benchGzip(report: Report): Promise<void> {
	const head = '$timescale 1ns $end\n$var wire 1 ! a $end\n$enddefinitions $end\n#0\n0!\n';
	let text = head;
	for (let i = 1; text.length < 60_000_000; i++) text += `#${i * 417 + ((i * 7) % 13)}\n${i % 2}!\n`;
	const packed = gzipSync(text, { level: 6 });
	const open = async function* () {
		await Promise.resolve();
		for (let at = 0; at < packed.length; at += PIECE) yield packed.subarray(at, at + PIECE);
	};
	const run = async (feed: (piece: Uint8Array) => void) => {
		const began = performance.now();
		for await (const piece of unpacked(open())) feed(piece);
		return performance.now() - began;
	};
	const alone = await run(() => undefined);
	const reader = new AnyReader({ edges: () => undefined, samples: () => undefined });
	const whole = await run((piece) => reader.feed(piece));
	reader.end();
	report('gunzip_vcd', text.length / 1e3 / whole, 'MB/s');
	report('gunzip_vcd_share', (100 * alone) / whole, '%');
	report('gunzip_vcd_peak', process.memoryUsage.rss() / 1e6, 'MB');
}

function timed(work: () => void): number {
	const began = performance.now();
	work();
	return performance.now() - began;
}

function median(values: number[]): number {
	return [...values].sort((a, b) => a - b)[values.length >> 1];
}
