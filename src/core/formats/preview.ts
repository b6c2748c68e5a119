import type { Seconds } from '../exact/index.js';
import { decodeText, joined } from './bytes.js';
import { cellsOf, findDialect, type Dialect } from './csv/dialect.js';
import { AnyReader } from './detect.js';
import { FormatError, type FormatDetails, type Note, type RecordingFormat, type StepFrom } from './recording.js';
import type { ReadSettings } from './settings.js';
import { startOf, WideText } from './text.js';
import { unpacked } from './unpack.js';
import { isWav } from './wav/index.js';

/** Lines of a file that are looked at, and shown. */
const LOOKED_AT = 256;
const SHOWN = 14;

/** What a column, channel or variable is taken for. */
export interface PreviewLine {
	/** As the settings know it. */
	number: number;
	name: string;
	as: 'levels' | 'analogue' | 'nothing';
	edges: number;
	threshold?: number;
}

/** How rows are taken to be written; numbers of lines and columns as the settings have them. */
export interface PreviewRows {
	separator: Dialect['separator'];
	decimal: Dialect['decimal'];
	thousands: string;
	firstRow: number;
	timeColumn: number;
	timeExponent: number;
	timeKind: Dialect['timeKind'];
	interval?: string;
	columns: string[];
	/** Cells of the first lines of the file, from line 1. */
	cells: string[][];
}

/** What is recognised of a file by its beginning. */
export interface Preview {
	format: RecordingFormat;
	packed: boolean;
	rows?: PreviewRows;
	/** The first lines of a text that is no rows. */
	text?: string[];
	unit?: Seconds;
	step?: Seconds;
	stepFrom?: StepFrom;
	lines: PreviewLine[];
	notes: Note[];
	/** Why it cannot be read so. */
	trouble?: { code: string; line: number; byte: number; details: FormatDetails };
}

/** Reads the beginning of a file with settings. `whole`: it is all of the file. */
export async function previewOf(head: Uint8Array, whole: boolean, settings: ReadSettings): Promise<Preview> {
	const packed = head[0] === 0x1f && head[1] === 0x8b;
	const bytes = await opened(head);
	const format = settings.format ?? formatOf(bytes);
	const preview: Preview = { format, packed, lines: [], notes: [] };
	const all = whole && !packed;
	if (format !== 'wav') describe(preview, textOf(bytes), settings, all);
	try {
		const reader = new AnyReader(undefined, { ...settings, format });
		reader.feed(format === 'wav' || all ? bytes : bytes.subarray(0, wholeLines(bytes)));
		const { lines, notes, unit, resolution, stepFrom } = reader.end();
		Object.assign(preview, { unit, step: resolution, stepFrom });
		// The beginning ends somewhere: that is no news.
		preview.notes = notes.filter(({ code }) => all || !['cut-end', 'cut-last-line', 'on-raster', 'alias'].includes(code));
		const taken = lines.map(({ number, name, edges, analogue, slicing }): PreviewLine => ({
			number,
			name,
			as: analogue ? 'analogue' : 'levels',
			edges,
			...(slicing && { threshold: slicing.threshold })
		}));
		preview.lines = [...taken, ...passedOver(preview, settings, taken)].sort((a, b) => a.number - b.number);
	} catch (error) {
		if (!(error instanceof FormatError)) throw error;
		const { code, line, byte, details } = error;
		preview.trouble = { code, line, byte, details };
		preview.lines = passedOver(preview, settings, []);
	}
	return preview;
}

function formatOf(bytes: Uint8Array): RecordingFormat {
	if (isWav(bytes)) return 'wav';
	return /^\s*\$/.test(textOf(bytes.subarray(0, 4096))) ? 'vcd' : 'csv';
}

/** As much as can be unpacked of a beginning. */
async function opened(head: Uint8Array): Promise<Uint8Array> {
	let bytes: Uint8Array = new Uint8Array(0);
	try {
		const once = async function* () {
			await Promise.resolve();
			yield head;
		};
		for await (const piece of unpacked(once())) bytes = joined(bytes, piece);
	} catch (error) {
		if (!(error instanceof FormatError) || bytes.length === 0) throw error;
	}
	return bytes;
}

function textOf(bytes: Uint8Array): string {
	const { mark, wide } = startOf(bytes);
	if (!wide) return decodeText(bytes.subarray(mark));
	return decodeText(new WideText(wide).feed(bytes.subarray(mark)));
}

function wholeLines(bytes: Uint8Array): number {
	const end = Math.max(bytes.lastIndexOf(10), bytes.lastIndexOf(13)) + 1;
	return end === 0 ? bytes.length : end;
}

function describe(preview: Preview, text: string, settings: ReadSettings, all: boolean): void {
	const lines = text.split(/\r\n|\n|\r/);
	if (!all && lines.length > 1) lines.pop();
	if (preview.format === 'vcd') {
		preview.text = lines.slice(0, SHOWN);
		return;
	}
	const looked = lines.slice(0, LOOKED_AT);
	const dialect = findDialect(looked, settings);
	if (!dialect) {
		preview.text = lines.slice(0, SHOWN);
		return;
	}
	const { separator, decimal, thousands, firstRow, timeColumn, timeExponent, timeKind, names, interval } = dialect;
	preview.rows = {
		separator,
		decimal,
		thousands,
		firstRow: firstRow + 1,
		timeColumn: interval || settings.timeColumn === -1 ? -1 : timeColumn,
		timeExponent,
		timeKind,
		...(interval && { interval: interval.toString() }),
		columns: names,
		cells: looked.slice(0, Math.max(SHOWN, firstRow + 6)).map((line) => cellsOf(line, separator))
	};
}

/** Lines that were told to be nothing. */
function passedOver(preview: Preview, settings: ReadSettings, taken: readonly PreviewLine[]): PreviewLine[] {
	const { rows } = preview;
	if (!rows) {
		const told = Object.entries(settings.lines ?? {}).filter(([, { as }]) => as === 'nothing');
		return told.map(([number, { name }]): PreviewLine => ({
			number: Number(number),
			name: name ?? `line ${Number(number) + 1}`,
			as: 'nothing',
			edges: 0
		}));
	}
	return rows.columns.flatMap((name, number): PreviewLine[] =>
		number === rows.timeColumn || taken.some((one) => one.number === number)
			? []
			: [{ number, name: settings.lines?.[number]?.name ?? name, as: 'nothing', edges: 0 }]
	);
}
