import { gcdSafe, Rational } from '../exact/index.js';
import { joined } from './bytes.js';
import { CsvReader } from './csv/index.js';
import { isWav, WavReader } from './wav/index.js';
import { VcdReader } from './vcd/index.js';
import { FormatError, type ParsedLine, type ParsedRecording, type RecordingReader, type RecordingSink } from './recording.js';
import type { ReadSettings } from './settings.js';
import { startOf, WideText, type TextStart } from './text.js';

/** Fewer edges lie on some raster by chance. */
const TELLING_EDGES = 20;
/** So many bytes tell what a file is. */
const HEAD = 12;

/**
 * Reads a recording of any known format: the first bytes tell which, and in what characters. To add a format: a folder with its push
 * reader, and a line in `readerFor`.
 */
export class AnyReader implements RecordingReader {
	private reader: RecordingReader | undefined;
	private head: Uint8Array = new Uint8Array(0);
	private start: TextStart = { mark: 0, wide: undefined };
	private wide: WideText | undefined;
	/** Bytes of the file so far. */
	private fed = 0;

	constructor(
		private readonly sink?: RecordingSink,
		private readonly settings: ReadSettings = {}
	) {}

	feed(chunk: Uint8Array): void {
		if (this.reader || this.wide) return this.pass(chunk);
		this.head = joined(this.head, chunk);
		if (this.head.length >= HEAD) this.open();
	}

	end(): ParsedRecording {
		if (!this.reader && this.head.length > 0) this.open();
		if (this.wide) this.hand(this.wide.end());
		const { reader } = this;
		if (!reader) throw new FormatError('empty', 0, 0);
		const recording = this.placed(() => reader.end());
		nameApart(recording.lines);
		tellRaster(recording);
		return recording;
	}

	private open(): void {
		const { head } = this;
		this.head = new Uint8Array(0);
		const { format } = this.settings;
		if (format === 'wav' || (format === undefined && isWav(head))) this.reader = new WavReader(this.sink, this.settings);
		else this.start = startOf(head);
		if (this.start.wide) this.wide = new WideText(this.start.wide);
		this.fed = this.start.mark;
		this.pass(head.subarray(this.start.mark));
	}

	private pass(chunk: Uint8Array): void {
		this.fed += chunk.length;
		this.hand(this.wide ? this.wide.feed(chunk) : chunk);
	}

	private hand(chunk: Uint8Array): void {
		if (chunk.length === 0) return;
		this.placed(() => {
			const reader = (this.reader ??= this.readerFor(chunk));
			reader.feed(chunk);
		});
	}

	/** Errors name the byte of the file, not of the text that was made of it. */
	private placed<T>(read: () => T): T {
		try {
			return read();
		} catch (error) {
			const { mark, wide } = this.start;
			if (!(error instanceof FormatError)) throw error;
			// What was put behind the end, or stands for a broken character, is no byte of the file.
			const byte = Math.min(mark + (wide ? 2 : 1) * error.byte, this.fed);
			throw new FormatError(error.code, error.line, byte, error.details);
		}
	}

	private readerFor(first: Uint8Array): RecordingReader {
		const visible = first.find((byte) => byte > 32);
		const dump = this.settings.format === undefined ? visible === 0x24 : this.settings.format === 'vcd';
		return dump ? new VcdReader(this.sink, this.settings) : new CsvReader(this.sink, this.settings);
	}
}

/** Lines are known by their names: of several alike, the later ones get a number. */
function nameApart(lines: ParsedLine[]): void {
	const taken = new Set<string>();
	for (const line of lines) {
		const name = line.name || 'unnamed';
		line.name = name;
		for (let n = 2; taken.has(line.name); n++) line.name = `${name} (${n})`;
		taken.add(line.name);
	}
}

/** Edges that all lie on a raster coarser than the step may be sampled ones: it is told, and never taken unasked (timers.md 11). */
function tellRaster({ unit, resolution, stepFrom, lines, notes }: ParsedRecording): void {
	if (stepFrom !== 'unit' && stepFrom !== 'digit') return;
	if (lines.reduce((sum, { edges }) => sum + edges, 0) < TELLING_EDGES) return;
	const rasters = lines.filter(({ raster }) => raster > 0).map(({ raster }) => raster);
	const raster = unit.mul(Rational.int(rasters.reduce((all, one) => gcdSafe(all, one), 0)));
	if (raster.compare(resolution) > 0) notes.push({ code: 'on-raster', name: raster.toString() });
}
