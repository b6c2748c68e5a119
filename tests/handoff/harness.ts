import { asInput, Folder, readCalled, STRICT, type Call, type Called, type Job } from './calls.js';

const SHIFT = '0x60000000UL';

/** Generated files compiled for this machine, and run with registers in plain memory. */
export class Compiled {
	private readonly folder: Folder;

	constructor(job: Job) {
		this.folder = new Folder(job);
		this.folder.take('harness.c');
		const { source } = this.folder;
		for (const standard of ['c99', 'c11'])
			this.gcc([`-std=${standard}`, ...STRICT, '-Os', '--param=min-pagesize=0', '-c', source, '-o', 'strict.o']);
		// Two cores of 32 bits, and two with an int of 16.
		for (const target of ['--target=thumbv7m-none-eabi', '--target=riscv32-unknown-elf', '--target=avr', '--target=msp430'])
			this.folder.run('clang', [target, '-std=c99', ...STRICT, '-Os', '-c', source, '-o', 'strict.o']);
		const watched = ['-fsanitize=thread', '--param=tsan-distinguish-volatile=1', `-DNV_ADDR(a)=((a)+${SHIFT})`];
		this.gcc(['-std=c99', '-O1', ...watched, '-c', source, '-o', 'watched.o']);
		this.gcc(['-O1', `-DNV_SHIFT=${SHIFT}`, '-c', 'harness.c', '-o', 'harness.o']);
		this.gcc(['harness.o', 'watched.o', '-o', 'run']);
	}

	run(calls: readonly Call[]): Called[] {
		return readCalled(this.folder.run('./run', [], asInput(calls)));
	}

	close(): void {
		this.folder.remove();
	}

	private gcc(args: readonly string[]): void {
		this.folder.run('gcc', args);
	}
}
