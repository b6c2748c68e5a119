import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { imported, withDemo, type Listed } from './demo.js';
import { writeDense, writeLong } from './files.js';
import type { Report } from './report.js';

const SIZE = 1_000_000_000;
const LONG_LINE = 100_000_000;
const COLUMNS = 1280;
const WINDOWS = 60;

/**
 * A dump of a gigabyte with 16 lines goes through the built application: how long it takes to be sent and read, what memory the server needs
 * at the most, what other requests wait meanwhile; then windows of a line anywhere, and the first picture of it.
 */
export async function benchImports(report: Report): Promise<void> {
	await withDemo(async (demo) => {
		const { address, plan, pid } = demo;
		const path = join(demo.folder, 'dense.vcd');
		writeDense(path, SIZE);
		const asking = new Worker(new URL('asking.mjs', import.meta.url), { workerData: `${address}/api/plans/${plan}` });
		const began = performance.now();
		const found = await imported(demo, path, () => report('import_vcd_1G_sent', (performance.now() - began) / 1000, 's'));
		asking.postMessage('end');
		const [waits] = (await once(asking, 'message')) as [number[]];
		report('import_vcd_1G', (performance.now() - began) / 1000, 's');
		report(
			'import_vcd_1G_edges',
			found.lines.reduce((sum, { edges }) => sum + edges, 0),
			'edges'
		);
		report('import_vcd_1G_peak', peakOf(pid), 'MB');
		waits.sort((a, b) => a - b);
		report('import_other_median', waits[waits.length >> 1], 'ms');
		report('import_other_worst', waits[waits.length - 1], 'ms');
		await benchWindows(report, 'window_route', address, found);
	});
}

/** Windows of one line of 100 million edges, through server and database. */
export async function benchLongLine(report: Report): Promise<void> {
	await withDemo(async (demo) => {
		const path = join(demo.folder, 'long.vcd');
		writeLong(path, LONG_LINE);
		const found = await imported(demo, path);
		report('window_route_100M_edges', found.lines[0].edges, 'edges');
		await benchWindows(report, 'window_route_100M', demo.address, found);
	});
}

async function benchWindows(report: Report, name: string, address: string, { id, lines, endTime }: Listed): Promise<void> {
	const busiest = lines.reduce((most, line) => (line.edges > most.edges ? line : most));
	const window = async (start: number, width: number) => {
		const url = `${address}/api/recordings/${id}/lines/${busiest.number}/window?start=${start}&width=${width}&count=${COLUMNS}`;
		return timed(() => fetch(url).then((r) => r.arrayBuffer()));
	};
	report(`${name}_first_picture`, await window(0, endTime / COLUMNS), 'ms');
	const took: number[] = [];
	for (let i = 0; i < WINDOWS; i++) {
		const width = endTime / COLUMNS / 1.3 ** (i % 40);
		took.push(await window((endTime - width * COLUMNS) * ((i * 0.37) % 1), width));
	}
	took.sort((a, b) => a - b);
	report(name, took[took.length >> 1], 'ms');
	report(`${name}_worst`, took[took.length - 1], 'ms');
}

async function timed(work: () => Promise<unknown>): Promise<number> {
	const began = performance.now();
	await work();
	return performance.now() - began;
}

/** The most memory that a process ever had, in MB. */
function peakOf(pid: number): number {
	return Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1000;
}
