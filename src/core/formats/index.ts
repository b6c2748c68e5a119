export { blocksOf, fieldWords, SvdError, SvdReader, withBlocks } from './svd/index.js';
export type { BlockJson } from './svd/index.js';
export type { Description, SvdFinding, SvdTrouble, SvdFault } from './svd/index.js';
export { dumpText, readDump, MOST_DUMP_LINES } from './dumps/dumps.js';
export type { DumpOptions, DumpPart, DumpTrouble, ReadDump } from './dumps/dumps.js';
export { AnyReader } from './detect.js';
export { VcdReader, vcdPieces, writeVcd, MOST_DUMPED } from './vcd/index.js';
export type { EdgeLine } from './edges.js';
export { unpacked } from './unpack.js';
export { WavReader } from './wav/index.js';
export { CsvReader, csvRow, edgePieces } from './csv/index.js';
export { FormatError, RECORDING_FORMATS } from './recording.js';
export type { FormatDetails } from './recording.js';
export type {
	RecordingFormat,
	ParsedRecording,
	ParsedLine,
	RecordingReader,
	RecordingSink,
	Note,
	Slicing,
	Analogue,
	StepFrom
} from './recording.js';
export { lineSettings, slicingOf } from './settings.js';
export { timeUnit } from './csv/words.js';
export type { LineSettings, ReadSettings } from './settings.js';
export { Cutter } from './cutter.js';
export type { Histogram } from './histogram.js';
export { interpolatedStep, lastDigit, powerOfTen, writtenStep } from './step.js';
export { recordingEdges, recordingSamples, recordingVcd } from './export.js';
export type { ExportFrame, ExportLine } from './export.js';
export { readAll } from './readAll.js';
export type { Reading } from './readAll.js';
export { previewOf } from './preview.js';
export type { Preview, PreviewLine, PreviewRows } from './preview.js';
