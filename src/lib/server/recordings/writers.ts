import { setImmediate as breathe } from 'node:timers/promises';
import type { RecordingSink } from '../../../core/formats/index.js';
import {
	chunkMarks,
	packChunk,
	packSamples,
	sampleBounds,
	type EdgeChunk,
	type Level,
	type SampleBlock
} from '../../../core/trace/index.js';
import type { Db } from '../store/db.js';
import { chunks, samples } from '../store/tables.js';

/** Rows gathered before they are written: bounds the memory of an import. */
const BATCH = 32;

/** Where chunks and blocks of one import go. */
export interface Target {
	recordingId: string;
	generation: number;
}

/** Numbers the chunks and blocks of each line as they come, and writes them in batches. */
export class ImportWriter implements RecordingSink {
	edgesWritten = 0;
	private readonly waiting: (() => void)[] = [];
	private edgeRows: (typeof chunks.$inferInsert)[] = [];
	private sampleRows: (typeof samples.$inferInsert)[] = [];
	private readonly next = { edges: new Map<number, number>(), samples: new Map<number, number>() };
	/** Of each line its first edge, the first rise behind that, and the level at hand until then. */
	private readonly opening = new Map<number, { time: number; level: number }>();
	private readonly rises = new Map<number, number>();
	private readonly level = new Map<number, number>();

	constructor(
		private readonly on: Pick<Db, 'insert'>,
		private readonly target: Target
	) {}

	edges(line: number, chunk: EdgeChunk): void {
		this.watchRise(line, chunk);
		this.edgesWritten += chunk.offsets.length;
		this.waiting.push(() => this.edgeRows.push(this.edgeRow(line, numbered(this.next.edges, line), chunk)));
	}

	samples(line: number, block: SampleBlock): void {
		this.waiting.push(() => this.sampleRows.push(this.sampleRow(line, numbered(this.next.samples, line), block)));
	}

	private edgeRow(line: number, number: number, chunk: EdgeChunk): typeof chunks.$inferInsert {
		const count = chunk.offsets.length;
		return {
			...this.target,
			line,
			number,
			firstTime: chunk.base,
			lastTime: chunk.base + chunk.offsets[count - 1],
			count,
			firstLevel: chunk.levels[0],
			lastLevel: chunk.levels[count - 1],
			shortest: Number.isFinite(chunk.shortest) ? chunk.shortest : null,
			marks: Buffer.from(chunkMarks(chunk).buffer as ArrayBuffer),
			packed: Buffer.from(packChunk(chunk).buffer)
		};
	}

	private sampleRow(line: number, number: number, block: SampleBlock): typeof samples.$inferInsert {
		const { times, values } = block;
		const bounds = sampleBounds(block);
		const [least, most] = [0, 1].map((side) => bounds.filter((value, i) => i % 2 === side && value === value));
		return {
			...this.target,
			line,
			number,
			firstTime: times[0],
			lastTime: times[times.length - 1],
			least: least.length > 0 ? Math.min(...least) : null,
			most: most.length > 0 ? Math.max(...most) : null,
			bounds: Buffer.from(bounds.buffer as ArrayBuffer),
			packed: Buffer.from(packSamples({ times, values }).buffer)
		};
	}

	/** Packs what waits, one after the other with room for other requests between, and writes it once it is a batch, or all of it. */
	async flush(all: boolean): Promise<void> {
		const least = all ? 1 : BATCH;
		for (const pack of this.waiting.splice(0)) {
			pack();
			await breathe();
		}
		await breathe();
		while (this.edgeRows.length >= least) await this.on.insert(chunks).values(this.edgeRows.splice(0, BATCH));
		while (this.sampleRows.length >= least) await this.on.insert(samples).values(this.sampleRows.splice(0, BATCH));
	}

	/** The first edge from 0 to 1 of a line that begins with a level. */
	firstRise(line: number, initial: Level): number | null {
		const opening = this.opening.get(line);
		return (opening && initial === 0 && opening.level === 1 ? opening.time : this.rises.get(line)) ?? null;
	}

	private watchRise(line: number, { base, offsets, levels }: EdgeChunk): void {
		if (this.rises.has(line)) return;
		if (!this.opening.has(line)) this.opening.set(line, { time: base, level: levels[0] });
		let before = this.level.get(line);
		for (let i = 0; i < levels.length; i++) {
			if (before === 0 && levels[i] === 1) {
				this.rises.set(line, base + offsets[i]);
				return;
			}
			before = levels[i];
		}
		this.level.set(line, before!);
	}
}

function numbered(next: Map<number, number>, line: number): number {
	const number = next.get(line) ?? 0;
	next.set(line, number + 1);
	return number;
}
