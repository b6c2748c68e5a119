export { AnyReader } from './detect.js';
export { VcdReader, writeVcd, MOST_DUMPED } from './vcd/index.js';
export type { DumpLine } from './vcd/index.js';
export { CsvReader } from './csv/index.js';
export { FormatError } from './recording.js';
export type { FormatDetails } from './recording.js';
export type { ParsedRecording, ParsedLine, RecordingReader, ChunkSink, Note, Slicing } from './recording.js';
