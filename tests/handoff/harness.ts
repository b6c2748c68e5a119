import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Access } from '../../src/core/registers/index.js';

/** Flags under which generated code may not warn. */
export const STRICT =
	'-ffreestanding -Wall -Wextra -Wconversion -Wsign-conversion -Wshadow -Wundef -Wstrict-prototypes -Wmissing-prototypes -pedantic -Werror'.split(
		' '
	);
const SHIFT = 0x60000000;
const PAGE = 4096;

/** What a call did, access by access: reads and writes as "r ADDRESS BITS", "w ADDRESS BITS VALUE" in hexadecimal; and what it returned. */
export interface Called {
	log: string[];
	returned: number;
}

/** Generated files compiled for this machine, and run with registers in plain memory. */
export class Compiled {
	private readonly folder = mkdtempSync(join(tmpdir(), 'nolvet-code-'));

	/** `calls`: C expressions that are called by number, `wish` the argument; `clears`: addresses of registers whose bits a written 1 clears. */
	constructor(files: ReadonlyMap<string, string>, accesses: readonly Access[], calls: readonly string[], clears: readonly number[] = []) {
		for (const [name, text] of files) writeFileSync(this.at(name), text);
		const source = [...files.keys()].find((name) => name.endsWith('.c'))!;
		const header = source.replace(/c$/, 'h');
		const pages = [...new Set(accesses.map(({ address }) => address - (address % PAGE)))];
		const waits = accesses.flatMap((one) => (one.do === 'wait' ? [`{0x${one.address.toString(16)}UL, ${one.mask}U, ${one.value}U}`] : []));
		writeFileSync(
			this.at('calls.h'),
			[
				`#include "${header}"`,
				`#define NV_SHIFT 0x${SHIFT.toString(16)}UL`,
				`static const unsigned long pages[] = {${pages.map((page) => `0x${page.toString(16)}UL`).join(', ')}};`,
				'static const struct { unsigned long address; uint32_t mask, value; } waits[] = {',
				[...waits, '{~0UL, 0U, 0U}'].join(', '),
				'};',
				`static const unsigned long clears[] = {${[...clears.map((at) => `0x${at.toString(16)}UL`), '~0UL'].join(', ')}};`,
				'static int call(unsigned which, uint32_t wish) {',
				'(void)wish; switch (which) {',
				...calls.map((call, i) => `case ${i}: return ${call};`),
				'default: return -9; } }',
				''
			].join('\n')
		);
		const watched = ['-fsanitize=thread', '--param=tsan-distinguish-volatile=1', `-DNV_ADDR(a)=((a)+0x${SHIFT.toString(16)}UL)`];
		for (const standard of ['c99', 'c11'])
			this.gcc([`-std=${standard}`, ...STRICT, '-Os', '--param=min-pagesize=0', '-c', source, '-o', 'strict.o']);
		// Two cores of 32 bits, and two with an int of 16.
		for (const target of ['--target=thumbv7m-none-eabi', '--target=riscv32-unknown-elf', '--target=avr', '--target=msp430'])
			this.compile('clang', [target, '-std=c99', ...STRICT, '-Os', '-c', source, '-o', 'strict.o']);
		this.gcc(['-std=c99', '-O1', ...watched, '-c', source, '-o', 'watched.o']);
		this.gcc(['-O1', '-I.', '-c', join(import.meta.dirname, 'harness.c'), '-o', 'harness.o']);
		this.gcc(['harness.o', 'watched.o', '-o', 'run']);
	}

	run(calls: readonly (readonly [which: number, wish: number])[]): Called[] {
		const input = calls.map(([which, wish]) => `${which} ${wish}`).join('\n');
		const out = execFileSync(this.at('run'), { input, encoding: 'utf8', maxBuffer: 1 << 28 });
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

	close(): void {
		rmSync(this.folder, { recursive: true, force: true });
	}

	private at(name: string): string {
		return join(this.folder, name);
	}

	private gcc(args: readonly string[]): void {
		this.compile('gcc', args);
	}

	private compile(compiler: string, args: readonly string[]): void {
		execFileSync(compiler, args, { cwd: this.folder, stdio: 'pipe' });
	}
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
