import { once } from 'node:events';
import { FormatError, readAll, timeUnit, type ParsedLine, type ParsedRecording, type ReadSettings } from '../core/formats/index.js';
import { readTime } from '../core/aims/index.js';
import { Rational } from '../core/exact/index.js';
import { measurePulses, type Statistics } from '../core/measure/index.js';
import { commandText, formatText, noteText, quantityText, stepFromText } from '../lib/text/index.js';
import { endProgress, fileReason, openFile, tellProgress, Unreadable } from './files.js';
import type { MeasuredRecording, MeasureOutput } from './shapes.js';

/** What is said of the recordings, as it was typed. */
export interface MeasureOptions {
	json?: boolean;
	threshold?: string;
	hysteresis?: string;
	timeUnit?: string;
	step?: string;
}

/** Measures every line of recordings. Returns the exit code: 2 when one of them is refused. Throws Unreadable for what makes no sense. */
export async function measure(files: readonly string[], options: MeasureOptions): Promise<number> {
	const { json = false } = options;
	const settings = settingsOf(options);
	const recordings: MeasuredRecording[] = [];
	for (const file of files) {
		const measured = await measureFile(file, settings, json);
		recordings.push(measured);
		if ('refused' in measured) process.stderr.write(`${file}: ${measured.refused.message}\n`);
	}
	const output: MeasureOutput = { format: 'nolvet-measure', version: 1, recordings };
	if (json) process.stdout.write(JSON.stringify(output, null, '\t') + '\n');
	return recordings.some((one) => 'refused' in one) ? 2 : 0;
}

/** The same settings as a preview makes of what is corrected in it. */
function settingsOf({ threshold, hysteresis, timeUnit: unit, step }: MeasureOptions): ReadSettings {
	const number = (option: string, text: string | undefined) => {
		if (text === undefined) return undefined;
		const value = Number(text.replace(',', '.'));
		if (text.trim() === '' || !Number.isFinite(value)) throw new Unreadable(commandText.noNumber(option, text));
		return value;
	};
	const [cut, around] = [number('--threshold', threshold), number('--hysteresis', hysteresis)];
	const exponent = unit === undefined ? undefined : timeUnit(unit);
	if (unit !== undefined && exponent === undefined) throw new Unreadable(commandText.noUnit(unit));
	const known = step === undefined ? undefined : readTime(step);
	if (known && !(known.ok && known.value.sign > 0)) throw new Unreadable(commandText.noStep(step!));
	return {
		...((cut !== undefined || around !== undefined) && {
			all: { ...(cut !== undefined && { threshold: cut }), ...(around !== undefined && { hysteresis: around }) }
		}),
		...(exponent !== undefined && { timeExponent: exponent }),
		...(known?.ok && { step: known.value.toString() })
	};
}

async function measureFile(file: string, told: ReadSettings, quiet: boolean): Promise<MeasuredRecording> {
	try {
		const { recording, settings } = await readRecording(file, told);
		const measured = measuredOf(file, recording, settings);
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

/** Reads one recording, telling how far it is. Throws FormatError. */
export async function readRecording(file: string, settings: ReadSettings): Promise<{ recording: ParsedRecording; settings: ReadSettings }> {
	let stream: ReturnType<typeof openFile> | undefined;
	const read = await readAll({
		open: () => (stream = openFile(file)),
		settings,
		onPiece: (bytes) => tellProgress(commandText.bytesRead(file, bytes))
	});
	endProgress();
	if (stream && !stream.closed && stream !== process.stdin) await once(stream, 'close');
	return read;
}

function measuredOf(file: string, recording: ParsedRecording, settings: ReadSettings): Extract<MeasuredRecording, { kind: string }> {
	return {
		file,
		kind: recording.format,
		step: recording.resolution.toString(),
		stepFrom: recording.stepFrom,
		settings: { ...settings },
		notes: recording.notes.map(({ code, line }) => ({ code, ...(line !== undefined && { line }) })),
		lines: recording.lines.map((line) => measuredLine(line, recording))
	};
}

function measuredLine({ name, edges, trace, slicing, step }: ParsedLine, { unit, start, end }: ParsedRecording) {
	const { period, frequency, high, low, duty } = measurePulses(trace, { start, end: end + 1 });
	const at = (edge: number) => (edges === 0 ? null : unit.mul(Rational.int(trace.edgeTime(edge))).toString());
	const shown = (found: Statistics | null) =>
		found && { count: found.count, mean: found.mean.toString(), min: found.min.toString(), max: found.max.toString() };
	return {
		name,
		edges,
		first: at(0),
		last: at(edges - 1),
		...(slicing && { threshold: slicing.threshold, hysteresis: slicing.hysteresis }),
		...(step && { step: step.step.toString() }),
		quantities: { period: shown(period), frequency: shown(frequency), high: shown(high), low: shown(low), duty: shown(duty) }
	};
}

const UNITS = { period: 's', frequency: 'Hz', high: 's', low: 's', duty: '%' } as const;

function print({ file, kind, step, stepFrom, lines }: Extract<MeasuredRecording, { kind: string }>, { notes }: ParsedRecording): void {
	const out = [commandText.recordingLine(file, kind, quantityText(Rational.parse(step), 's'), stepFromText(stepFrom))];
	for (const note of notes) out.push(`  ${noteText(note)}`);
	for (const { name, edges, threshold, hysteresis, quantities } of lines) {
		const cut = threshold === undefined ? '' : commandText.cutAt(threshold, hysteresis ?? 0);
		out.push(`  ${commandText.lineOfEdges(name, edges)}${cut}`);
		for (const of of Object.keys(UNITS) as (keyof typeof UNITS)[]) {
			const found = quantities[of];
			if (!found) continue;
			const [mean, min, max] = [found.mean, found.min, found.max].map((text) => quantityText(Rational.parse(text), UNITS[of]));
			out.push(`    ${commandText.statistics(of, mean, min, max, found.count)}`);
		}
	}
	process.stdout.write(out.join('\n') + '\n');
}
