import { execFileSync } from 'node:child_process';
import { Folder, readCalled, STRICT, type Call, type Called, type Job } from './calls.js';

/** A program by the package that brings it. */
const programOf = (pack: string, ending: string) =>
	execFileSync('dpkg', ['-L', pack], { encoding: 'utf8' })
		.split('\n')
		.find((path) => path.startsWith('/usr/bin/') && path.endsWith(ending))!;

/** Registers lie below, the program's own variables above. */
const MOST = 0x400;

/** Generated files for a core of 8 bits, whose int has 16, run on the simulated core of its debugger, instruction by instruction. */
export class Small {
	private readonly folder: Folder;

	/** Are a job's registers such that this core can reach them? */
	static takes({ accesses }: Job): boolean {
		return accesses.every(({ address, bits }) => bits === 8 && address < MOST);
	}

	constructor(private readonly job: Job) {
		if (!Small.takes(job)) throw new Error('registers of 8 bits below 0x400 are needed');
		const compiler = programOf('gcc-avr', '-gcc');
		this.folder = new Folder(job);
		for (const name of ['small.c', 'small.py']) this.folder.take(name);
		// A table of jumps would go through the compiler's library, which is passed over.
		const own = ['-std=c99', '-Os', '-ffreestanding', '-fno-jump-tables'];
		this.folder.run(compiler, [...own, ...STRICT, '-c', this.folder.source, '-o', 'code.o']);
		this.folder.run(compiler, [...own, '-g', '-c', 'small.c', '-o', 'small.o']);
		const objects = ['small.o', 'code.o', 'end.o'];
		this.folder.write('end.c', 'void code_end(void);\nvoid code_end(void) {}\n');
		this.folder.run(compiler, [...own, '-c', 'end.c', '-o', 'end.o']);
		const link = ['-nostartfiles', '-nostdlib', `-Wl,--section-start=.data=0x${(0x800000 + MOST).toString(16)}`];
		this.folder.run(compiler, [...link, ...objects, '-lgcc', '-o', 'small.elf']);
	}

	run(calls: readonly Call[]): Called[] {
		const { accesses, clears = [] } = this.job;
		const waits = accesses.flatMap((one) => (one.do === 'wait' ? [[one.address, one.mask, one.value]] : []));
		this.folder.write('asked.json', JSON.stringify({ calls, waits, clears, most: MOST }));
		this.folder.run(programOf('gdb-avr', '-gdb'), ['-nx', '-batch', '-x', 'small.py', 'small.elf']);
		return readCalled(this.folder.read('log'));
	}

	close(): void {
		this.folder.remove();
	}
}
