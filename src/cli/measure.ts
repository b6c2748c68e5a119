import { once } from 'node:events';
import { AnyReader, FormatError, unpacked, type ParsedLine, type ParsedRecording } from '../core/formats/index.js';
import { Rational } from '../core/exact/index.js';
import { measurePulses, type Statistics } from '../core/measure/index.js';
import { commandText, formatText, noteText, quantityText } from '../lib/text/index.js';
import { endProgress, fileReason, openFile, tellProgress } from './files.js';
import type { MeasuredRecording, MeasureOutput } from './shapes.js';

/** Measures every line of recordings. Returns the exit code: 2 when one of them is refused. */
export async function measure(files: readonly string[], json: boolean): Promise<number> {
	const recordings: MeasuredRecording[] = [];
	for (const file of files) {
		const measured = await measureFile(file, json);
		recordings.push(measured);
		if ('refused' in measured) process.stderr.write(`${file}: ${measured.refused.message}\n`);
	}
	const output: MeasureOutput = { format: 'nolvet-measure', version: 1, recordings };
	if (json) process.stdout.write(JSON.stringify(output, null, '\t') + '\n');
	return recordings.some((one) => 'refused' in one) ? 2 : 0;
}

async function measureFile(file: string, quiet: boolean): Promise<MeasuredRecording> {
	try {
		const recording = await readRecording(file);
		const measured = measuredOf(file, recording);
		if (!quiet) print(measured, recording);
		return measured;
	} catch (error) {
		endProgress();
		if (error instanceof FormatError) {
			const { code, line, byte } = error;
			const { found, accepted } = formatText(error);
			const place = line > 0 ? commandText.place(line, byte) : '';
			return { file, refused: { code, line, byte, message: `${place}${found}; ${accepted}` } };
		}
		if (!(error instanceof Error && 'syscall' in error)) throw error;
		return { file, refused: { code: 'unreadable', line: 0, byte: 0, message: fileReason(error) } };
	}
}

async function readRecording(file: string): Promise<ParsedRecording> {
	const reader = new AnyReader();
	const stream = openFile(file);
	let bytes = 0;
	for await (const piece of unpacked(stream)) {
		reader.feed(piece);
		bytes += piece.length;
		tellProgress(commandText.bytesRead(file, bytes));
	}
	endProgress();
	if (!stream.closed && stream !== process.stdin) await once(stream, 'close');
	return reader.end();
}

function measuredOf(file: string, recording: ParsedRecording): Extract<MeasuredRecording, { kind: string }> {
	return {
		file,
		kind: recording.format,
		step: recording.resolution.toString(),
		notes: recording.notes.map(({ code, line }) => ({ code, ...(line !== undefined && { line }) })),
		lines: recording.lines.map((line) => measuredLine(line, recording))
	};
}

function measuredLine({ name, edges, trace }: ParsedLine, { unit, start, end }: ParsedRecording) {
	const { period, frequency, high, low, duty } = measurePulses(trace, { start, end: end + 1 });
	const at = (edge: number) => (edges === 0 ? null : unit.mul(Rational.int(trace.edgeTime(edge))).toString());
	const shown = (found: Statistics | null) =>
		found && { count: found.count, mean: found.mean.toString(), min: found.min.toString(), max: found.max.toString() };
	return {
		name,
		edges,
		first: at(0),
		last: at(edges - 1),
		quantities: { period: shown(period), frequency: shown(frequency), high: shown(high), low: shown(low), duty: shown(duty) }
	};
}

const UNITS = { period: 's', frequency: 'Hz', high: 's', low: 's', duty: '%' } as const;

function print({ file, kind, step, lines }: Extract<MeasuredRecording, { kind: string }>, { notes }: ParsedRecording): void {
	const out = [commandText.recordingLine(file, kind, quantityText(Rational.parse(step), 's'))];
	for (const note of notes) out.push(`  ${noteText(note)}`);
	for (const { name, edges, quantities } of lines) {
		out.push(`  ${commandText.lineOfEdges(name, edges)}`);
		for (const of of Object.keys(UNITS) as (keyof typeof UNITS)[]) {
			const found = quantities[of];
			if (!found) continue;
			const [mean, min, max] = [found.mean, found.min, found.max].map((text) => quantityText(Rational.parse(text), UNITS[of]));
			out.push(`    ${commandText.statistics(of, mean, min, max, found.count)}`);
		}
	}
	process.stdout.write(out.join('\n') + '\n');
}
