import { closeSync, openSync, writeSync } from 'node:fs';

/** Eight lines that toggle at different rates: the same file in every run. Writes at least `bytes` and returns what was written. */
function writeLines(path: string, bytes: number, head: string, row: (n: number) => string): number {
	const file = openSync(path, 'w');
	let written = writeSync(file, head);
	for (let n = 0; written < bytes;) {
		const rows: string[] = [];
		for (const end = n + 20_000; n < end; n++) rows.push(row(n));
		written += writeSync(file, rows.join(''));
	}
	closeSync(file);
	return written;
}

/** Line k changes at every (k + 1)-th moment, so some moments change several lines. */
export function writeVcd(path: string, bytes: number): number {
	const ids = '!"#%&\'()';
	const vars = [...ids].map((id, k) => `$var wire 1 ${id} line${k} $end\n`).join('');
	const head = `$timescale 1ps $end\n$scope module bench $end\n${vars}$upscope $end\n$enddefinitions $end\n#0\n${[...ids].map((id) => `0${id}\n`).join('')}`;
	return writeLines(path, bytes, head, (n) => {
		let row = `#${(n + 1) * 416_667}\n`;
		for (let k = 0; k < 8; k++) if (n % (k + 1) === 0) row += `${Math.floor(n / (k + 1)) % 2 ? 0 : 1}${ids[k]}\n`;
		return row;
	});
}

/** Sixteen lines that all change at every moment, as a dump of a bus does: over 60 million edges a gigabyte. */
export function writeDense(path: string, bytes: number): number {
	const ids = [...'!"#%&\'()*+,-./:;'].slice(0, 16);
	const vars = ids.map((id, k) => `$var wire 1 ${id} line${k} $end\n`).join('');
	const head = `$timescale 1ns $end\n$scope module bench $end\n${vars}$upscope $end\n$enddefinitions $end\n#0\n${ids.map((id) => `0${id}\n`).join('')}`;
	return writeLines(path, bytes, head, (n) => {
		let row = `#${(n + 1) * 417 + ((n * 7) % 13)}\n`;
		for (let k = 0; k < 16; k++) if ((n + k) % 3 !== 0) row += `${(n + Math.floor((n + k) / 3) + k) % 2}${ids[k]}\n`;
		return row;
	});
}

/** One line of so many edges. */
export function writeLong(path: string, edges: number): void {
	const file = openSync(path, 'w');
	writeSync(file, '$timescale 1ns $end\n$var wire 1 ! long $end\n$enddefinitions $end\n#0\n0!\n');
	for (let n = 0, time = 0; n < edges;) {
		const rows: string[] = [];
		for (const end = Math.min(edges, n + 100_000); n < end; n++) rows.push(`#${(time += 100 + ((n * 7919) % 37))}\n${(n + 1) % 2}!\n`);
		writeSync(file, rows.join(''));
	}
	closeSync(file);
}

/** A row a moment with the levels of all eight lines. */
export function writeCsv(path: string, bytes: number): number {
	const head = 'time (s),line0,line1,line2,line3,line4,line5,line6,line7\n';
	return writeLines(path, bytes, head, (n) => {
		let row = ((n + 1) * 416_667e-12).toFixed(12);
		for (let k = 0; k < 8; k++) row += Math.floor(n / (k + 1)) % 2 ? ',1' : ',0';
		return `${row}\n`;
	});
}
