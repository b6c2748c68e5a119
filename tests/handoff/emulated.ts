import { asInput, Folder, readCalled, type Call, type Called, type Job } from './calls.js';

/** Cores that are emulated: what the compiler calls them. */
const CORES = { arm: ['--target=thumbv7m-none-eabi'], riscv: ['--target=riscv32-unknown-elf', '-march=rv32imac'] };
export type Core = keyof typeof CORES;
export const EMULATED = Object.keys(CORES) as Core[];

/** Generated files compiled for a core of 32 bits, and run as they are on an emulated one. */
export class Emulated {
	private readonly folder: Folder;

	constructor(
		job: Job,
		private readonly core: Core
	) {
		this.folder = new Folder(job);
		const { source } = this.folder;
		for (const name of ['emulated.c', 'entry.c']) this.folder.take(name);
		const own = [...CORES[core], '-std=c99', '-Os', '-ffreestanding'];
		for (const [from, to] of [
			[source, 'code.o'],
			['entry.c', 'entry.o']
		])
			this.folder.run('clang', [...own, '-c', from, '-o', to]);
		this.folder.run('ld.lld', ['--image-base=0x08000000', '-e', 'entry', '--no-relax', 'code.o', 'entry.o', '-o', 'code.elf']);
		this.folder.run('gcc', ['-O1', 'emulated.c', '-lunicorn', '-o', 'run']);
	}

	run(calls: readonly Call[]): Called[] {
		return readCalled(this.folder.run('./run', ['code.elf', this.core], asInput(calls)));
	}

	close(): void {
		this.folder.remove();
	}
}
