import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Access } from '../../src/core/registers/index.js';

/** Flags under which generated code may not warn. */
export const STRICT =
	'-ffreestanding -Wall -Wextra -Wconversion -Wsign-conversion -Wshadow -Wundef -Wstrict-prototypes -Wmissing-prototypes -pedantic -Werror'.split(
		' '
	);
const PAGE = 4096;

/** What a call did, access by access: reads and writes as "r ADDRESS BITS", "w ADDRESS BITS VALUE" in hexadecimal; and what it returned. */
export interface Called {
	log: string[];
	returned: number;
}

/** A call by its place in the list of calls, with the argument that its expression knows as `wish`. */
export type Call = readonly [which: number, wish: number];

/** Generated files, what of them is called, and how their registers behave. */
export interface Job {
	files: ReadonlyMap<string, string>;
	/** What the registers are known by, and what is waited for. */
	accesses: readonly Access[];
	/** C expressions. */
	calls: readonly string[];
	/** Addresses of registers whose bits a written 1 clears. */
	clears?: readonly number[];
}

const hex = (n: number) => `0x${n.toString(16)}UL`;

/** A folder with the generated files of a job, `calls.h` to call them by number, and `model.h` of their registers. */
export class Folder {
	readonly path = mkdtempSync(join(tmpdir(), 'nolvet-code-'));
	/** The generated C source. */
	readonly source: string;

	constructor({ files, accesses, calls, clears = [] }: Job) {
		for (const [name, text] of files) this.write(name, text);
		this.source = [...files.keys()].find((name) => name.endsWith('.c'))!;
		const pages = [...new Set(accesses.map(({ address }) => address - (address % PAGE)))];
		const waits = accesses.flatMap((one) => (one.do === 'wait' ? [`{${hex(one.address)}, ${one.mask}U, ${one.value}U}`] : []));
		this.write(
			'model.h',
			[
				'#include <stdint.h>',
				`static const unsigned long pages[] = {${pages.map(hex).join(', ')}};`,
				'static const struct { unsigned long address; uint32_t mask, value; } waits[] = {',
				[...waits, '{~0UL, 0U, 0U}'].join(', '),
				'};',
				`static const unsigned long clears[] = {${[...clears.map(hex), '~0UL'].join(', ')}};`,
				''
			].join('\n')
		);
		this.write(
			'calls.h',
			[
				`#include "${this.source.replace(/c$/, 'h')}"`,
				'static int call(unsigned which, uint32_t wish) {',
				'(void)wish; switch (which) {',
				...calls.map((one, i) => `case ${i}: return ${one};`),
				'default: return -9; } }',
				''
			].join('\n')
		);
	}

	/** Copies a file that lies beside this one. */
	take(name: string): void {
		this.write(name, readFileSync(join(import.meta.dirname, name), 'utf8'));
	}

	write(name: string, text: string): void {
		writeFileSync(join(this.path, name), text);
	}

	read(name: string): string {
		return readFileSync(join(this.path, name), 'utf8');
	}

	/** Runs a program in this folder; what it prints. Throws with its words when it fails, or takes longer than a minute. */
	run(program: string, args: readonly string[], input = ''): string {
		return execFileSync(program, args, {
			cwd: this.path,
			input,
			encoding: 'utf8',
			stdio: 'pipe',
			maxBuffer: 1 << 28,
			timeout: 60_000
		});
	}

	remove(): void {
		rmSync(this.path, { recursive: true, force: true });
	}
}

/** Calls as a watching program takes them, and what it printed of them. */
export const asInput = (calls: readonly Call[]) => calls.map(([which, wish]) => `${which} ${wish}`).join('\n');
export function readCalled(out: string): Called[] {
	const found: Called[] = [];
	let log: string[] = [];
	for (const line of out.trimEnd().split('\n')) {
		if (!line.startsWith('=')) log.push(line);
		else {
			found.push({ log, returned: Number(line.slice(2)) });
			log = [];
		}
	}
	return found;
}

/** What plain memory would show of accesses, in the same words; the memory goes on from call to call. */
export class Expected {
	private readonly words = new Map<number, number>();

	log(accesses: readonly Access[]): string[] {
		return accesses.map((access) => {
			const { address, bits } = access;
			const at = `${address.toString(16)} ${bits}`;
			if (access.do === 'read') return `r ${at}`;
			const after = BigInt.asUintN(32, (BigInt(this.words.get(address) ?? 0) & ~BigInt(access.mask)) | BigInt(access.value));
			this.words.set(address, Number(after));
			return access.do === 'wait' ? `r ${at}` : `w ${at} ${after.toString(16)}`;
		});
	}
}
