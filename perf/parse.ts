import { closeSync, mkdtempSync, openSync, readSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AnyReader } from '../src/core/formats/index.js';
import { writeCsv, writeVcd } from './files.js';
import type { Report } from './report.js';

const SIZE = 200_000_000;
/** As the server's streams deliver. */
const PIECE = 1 << 20;

/** Reads a generated file of 200 MB with 8 lines, pieces as a stream gives them, chunks given away as the server stores them. */
export function benchParse(report: Report, kind: 'vcd' | 'csv'): void {
	const folder = mkdtempSync(join(tmpdir(), 'nolvet-bench-'));
	const path = join(folder, `lines.${kind}`);
	const bytes = kind === 'vcd' ? writeVcd(path, SIZE) : writeCsv(path, SIZE);
	globalThis.gc?.();
	const buffer = Buffer.alloc(PIECE);
	const file = openSync(path, 'r');
	let chunks = 0;
	let edges = 0;
	let peak = 0;
	let pieces = 0;
	const start = performance.now();
	const reader = new AnyReader({
		edges: (_, chunk) => {
			chunks++;
			edges += chunk.offsets.length;
		},
		samples: () => undefined
	});
	for (let size = readSync(file, buffer); size > 0; size = readSync(file, buffer)) {
		reader.feed(buffer.subarray(0, size));
		if (++pieces % 64 === 0) peak = Math.max(peak, process.memoryUsage.rss());
	}
	const recording = reader.end();
	const seconds = (performance.now() - start) / 1000;
	closeSync(file);
	rmSync(folder, { recursive: true });
	if (edges !== recording.lines.reduce((sum, line) => sum + line.edges, 0) || chunks === 0) throw new Error('edges were lost');
	report(`${kind}_parse`, bytes / 1e6 / seconds, 'MB/s');
	report(`${kind}_parse_peak`, peak / 1e6, 'MB');
}
