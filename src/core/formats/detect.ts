import { CsvReader } from './csv/index.js';
import { VcdReader } from './vcd/index.js';
import { FormatError, type ChunkSink, type ParsedLine, type ParsedRecording, type RecordingReader } from './recording.js';

/**
 * Reads a recording of any known format: the first bytes tell which. To add a format: a folder with its push reader,
 * and a line in `readerFor`.
 */
export class AnyReader implements RecordingReader {
	private reader: RecordingReader | undefined;

	constructor(private readonly sink?: ChunkSink) {}

	feed(chunk: Uint8Array): void {
		if (chunk.length === 0) return;
		this.reader ??= this.readerFor(chunk);
		this.reader.feed(chunk);
	}

	end(): ParsedRecording {
		if (!this.reader) throw new FormatError('empty', 0, 0);
		const recording = this.reader.end();
		nameApart(recording.lines);
		return recording;
	}

	private readerFor(first: Uint8Array): RecordingReader {
		const nul = first.subarray(0, 4096).indexOf(0);
		if (nul >= 0) throw new FormatError('binary', 0, nul);
		const visible = first.find((byte) => byte > 32);
		return visible === 0x24 ? new VcdReader(this.sink) : new CsvReader(this.sink);
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
