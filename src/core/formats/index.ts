export { AnyReader } from './detect.js';
export { VcdReader, vcdPieces, writeVcd, MOST_DUMPED } from './vcd/index.js';
export type { EdgeLine } from './edges.js';
export { CsvReader, csvRow, edgePieces } from './csv/index.js';
export { FormatError } from './recording.js';
export type { FormatDetails } from './recording.js';
export type { ParsedRecording, ParsedLine, RecordingReader, ChunkSink, Note, Slicing } from './recording.js';
export { interpolatedStep, lastDigit, powerOfTen, writtenStep } from './step.js';
