import type { Seconds } from '../../exact/index.js';
import { copied, decodeText, joined } from '../bytes.js';
import {
	FormatError,
	lineSink,
	type FormatDetails,
	type Note,
	type ParsedLine,
	type ParsedRecording,
	type RecordingReader,
	type RecordingSink,
	type StepFrom
} from '../recording.js';
import { kernels } from '../../kernels/index.js';
import type { Level } from '../../trace/index.js';
import { SampledLine } from '../sampled.js';
import { lineSettings, slicingOf, stepOf, type ReadSettings } from '../settings.js';
import { cellsOf, findDialect, type Dialect } from './dialect.js';
import { StepGauge } from './gauge.js';
import { LONGEST_LINE, lineEndOf, openingNotes, sampleEnd, textOf, withNewlines } from './lines.js';
import { cellStop, CellScanner, TEN } from './scan.js';
import { TimeCells, TimeRange } from './timeCells.js';
import { ValueCells } from './valueCells.js';

/**
 * Push reader for rows of a time and levels or samples, separated by comma, semicolon, tab, upright stroke or blanks, with or without
 * headings. Times become whole units. An empty cell keeps what stood before. One line is held at the most.
 */
/** Rows of a list of edges in which a level changes, at the least, as a share of all. */
const EDGES = 0.9;
const NEWLINE = 10;
const SPACE = 32;
const RETURN = 13;
const STROKE = 124;
/** What lines of remarks begin with. */
const REMARK = /^(#|\/\/|%|!|;|\*|--)/;

/** A row whose time is none: held until it is known whether more rows come behind it. */
interface Held {
	line: number;
	byte: number;
	error: FormatError;
	count: number;
}

export class CsvReader implements RecordingReader {
	private carry: Uint8Array = new Uint8Array(0);
	/** Absolute offset of the carry's first byte. */
	private offset = 0;
	private line = 1;
	private dialect: Dialect | undefined;
	private slicers: (SampledLine | undefined)[] = [];
	private separator = 0;
	private decimal = 0;
	private times: TimeCells | undefined;
	private values: ValueCells | undefined;
	/** Are times in front, plain, and every other column a line? Then most rows are read by the short way. */
	private short = false;
	/** Lines end with a carriage return alone. */
	private returns = false;
	private held: Held | undefined;
	private remarks = 0;
	private repeated = 0;
	private equal = 0;
	private rows = 0;
	private start = 0;
	private last = -Infinity;
	/** The time of the row before the one at hand. */
	private before = -Infinity;
	private readonly gauge = new StepGauge();
	/** Rows in which a level is not that of the row before, but the first. */
	private changes = 0;
	/** The row at hand is one of them. */
	private changed = false;
	/** Where the time cell of the row at hand ends. */
	private timeEnd = 0;
	/** The value that each column had last. */
	private seen = new Float64Array(0);
	private missing = 0;
	private notes: Note[] = [];
	/** Made with the dialect. */
	private scanner = new CellScanner(0, 0);

	constructor(
		private readonly sink?: RecordingSink,
		private readonly settings: ReadSettings = {}
	) {}

	feed(piece: Uint8Array): void {
		const chunk = this.returns ? withNewlines(piece) : piece;
		let bytes = joined(this.carry, chunk);
		if (!this.dialect && !this.learn(bytes, false)) {
			this.carry = bytes === chunk ? copied(chunk) : bytes;
			return;
		}
		if (this.returns) bytes = withNewlines(bytes);
		const whole = bytes.lastIndexOf(NEWLINE) + 1;
		if (bytes.length - whole > LONGEST_LINE) this.fail('long-line', this.offset + whole, { most: LONGEST_LINE });
		this.read(bytes, this.skip(bytes), whole);
		this.carry = copied(bytes, whole);
		this.offset += whole;
	}

	end(): ParsedRecording {
		if (!this.dialect) {
			if (this.carry.every((byte) => byte <= 32 && byte !== 0)) this.fail('empty', 0);
			this.learn(this.carry, true);
			const all = this.carry;
			this.carry = new Uint8Array(0);
			this.feed(all);
		}
		if (this.carry.length > 0) this.lastLine(this.carry);
		if (this.rows < 2) this.fail('no-rows', this.offset, { rows: this.rows });
		if (this.held) this.notes.push({ code: 'footer', line: this.held.line, count: this.held.count });
		return this.finish(this.dialect!);
	}

	private headerBytes = 0;

	/** So many bytes must have come before it is worth looking at them again. */
	private nextTry = 0;

	/** Finds the dialect once enough lines are here, always from the same ones however the file comes. False: wait for more. */
	private learn(bytes: Uint8Array, all: boolean): boolean {
		if (!all && bytes.length < this.nextTry) return false;
		this.nextTry = 1.25 * bytes.length;
		const first = bytes.findIndex((byte) => byte === NEWLINE || byte === RETURN);
		const returns = first >= 0 && bytes[first] === RETURN && bytes[first + 1] !== NEWLINE && (all || first + 1 < bytes.length);
		const end = sampleEnd(bytes, returns ? RETURN : NEWLINE, all);
		if (end === undefined) return false;
		const nul = bytes.subarray(0, end).indexOf(0);
		if (nul >= 0) throw new FormatError('binary', 0, this.offset + nul);
		const lines = decodeText(bytes.subarray(0, end)).split(returns ? '\r' : '\n');
		const dialect = findDialect(
			lines.map((line) => line.replace(/\r$/, '')),
			this.settings
		);
		if (!dialect) return this.fail('no-rows', 0, { rows: 0, among: lines.length });
		this.returns = returns;
		this.open(dialect);
		for (let i = 0; i < dialect.firstRow; i++) this.headerBytes = bytes.indexOf(returns ? RETURN : NEWLINE, this.headerBytes) + 1;
		this.line = dialect.firstRow + 1;
		return true;
	}

	private open(dialect: Dialect): void {
		this.dialect = dialect;
		this.separator = dialect.separator.charCodeAt(0);
		this.decimal = dialect.decimal.charCodeAt(0);
		this.scanner = new CellScanner(this.separator, this.decimal);
		this.times = new TimeCells(dialect, this.settings.dateOrder);
		this.values = new ValueCells(dialect);
		this.seen = new Float64Array(dialect.names.length).fill(NaN);
		const { timeColumn, indexColumn } = dialect;
		this.slicers = dialect.names.map((_, column) => {
			const told = lineSettings(this.settings, column);
			if (column === timeColumn || column === indexColumn || told.as === 'nothing') return undefined;
			return new SampledLine(lineSink(this.sink, column), { as: told.as, slicing: slicingOf(told) });
		});
		if (this.slicers.every((line) => !line)) this.fail('nothing-taken', 0);
		this.short = this.times.plain && timeColumn === 0 && this.slicers.every((line, i) => i === 0 || line) && !dialect.interval;
		this.notes.push(...openingNotes(dialect, this.times, this.settings));
	}

	/** Bytes of the headings, once. */
	private skip(bytes: Uint8Array): number {
		const at = Math.min(this.headerBytes, bytes.length);
		this.headerBytes = 0;
		return at;
	}

	/** Reads the whole lines of bytes[at..end). */
	private read(bytes: Uint8Array, at: number, end: number): void {
		while (at < end) {
			at = this.plainRows(bytes, at, end);
			if (at < end) at = this.anyRow(bytes, at);
		}
	}

	/**
	 * Rows of a plain decimal time and a 0 or 1 a column, which nearly all rows of a logic recording are, go through the loops of the
	 * machine itself while no column is known to be of samples. Returns the first row that is none, or the end.
	 */
	private plainRows(bytes: Uint8Array, from: number, end: number): number {
		const loops = kernels();
		if (!this.short || this.rows === 0 || this.held || this.slicers.length - 1 > loops.lines) return from;
		if (!this.slicers.every((line, i) => i === 0 || line!.binary)) return from;
		let at = from;
		while (at < end) {
			const to = at + loops.piece < end ? bytes.lastIndexOf(NEWLINE, at + loops.piece - 1) + 1 : end;
			if (to <= at) return at;
			loops.input.set(bytes.subarray(at, to));
			const read = this.levelRows(to - at);
			at += read;
			if (at < to) return at;
		}
		return at;
	}

	/** Of the rows in the loops' memory. Returns where the first of another kind begins. */
	private levelRows(end: number): number {
		const { code, befores, counts, edges, fed, firsts, levels, times: columns } = kernels();
		const times = this.times!;
		const lines = this.slicers.length - 1;
		for (let line = 0; line < lines; line++) {
			const value = this.seen[line + 1];
			levels[line] = value === 0 || value === 1 ? value : 2;
		}
		let at = 0;
		for (let full = true; full && at < end;) {
			at = code.levelRows(at, end, this.last, lines, this.separator, this.decimal, times.exponent);
			this.last = code.reached();
			this.line += code.rows.value;
			this.rows += code.rows.value;
			this.changes += code.changes.value;
			times.finest = Math.min(times.finest, -code.places.value);
			this.gauge.widen(code.shortest.value, code.longest.value);
			for (const line of fed.subarray(0, code.fed.value)) {
				const [from, to] = [line * edges, line * edges + counts[line]];
				this.slicers[line + 1]!.addLevels(columns.subarray(from, to), befores.subarray(from, to), firsts[line] as Level);
				this.seen[line + 1] = levels[line];
			}
			full = code.full.value !== 0;
		}
		return at;
	}

	/** One line of any kind. Returns where the next begins. */
	private anyRow(bytes: Uint8Array, lineStart: number): number {
		const { separator, slicers } = this;
		const { timeColumn } = this.dialect!;
		const last = slicers.length - 1;
		let start = separator === SPACE || bytes[lineStart] === SPACE ? afterBlanks(bytes, lineStart) : lineStart;
		if (separator === STROKE && bytes[start] === STROKE) start++;
		if (bytes[start] === NEWLINE || (bytes[start] === RETURN && bytes[start + 1] === NEWLINE)) {
			this.line++;
			return start + (bytes[start] === NEWLINE ? 1 : 2);
		}
		const first = this.rows === 0;
		const time = this.rowTime(bytes, start, timeColumn);
		if (time === undefined) {
			this.line++;
			return lineEndOf(bytes, start);
		}
		this.changed = false;
		let at = start;
		for (let column = 0; column <= last; column++) {
			if (column === timeColumn) at = this.timeEnd;
			else at = slicers[column] ? this.cell(bytes, at, column, time) : cellStop(bytes, at, separator);
			if (column === last) break;
			if (bytes[at] !== separator) {
				// A short row: what is missing keeps its level.
				this.missing += last - column;
				break;
			}
			at = separator === SPACE ? afterBlanks(bytes, at) : at + 1;
		}
		if (this.changed && !first) this.changes++;
		at = this.lineEnd(bytes, at);
		this.line++;
		return at;
	}

	/** Reads a row's time ahead of its levels, and leaves in timeEnd where its cell ends; undefined for a line that is no row. */
	private rowTime(bytes: Uint8Array, rowStart: number, timeColumn: number): number | undefined {
		let at = rowStart;
		for (let column = 0; column < timeColumn; column++) {
			at = cellStop(bytes, at, this.separator);
			if (bytes[at] !== this.separator) return this.noRow(bytes, rowStart, at);
			at = this.separator === SPACE ? afterBlanks(bytes, at) : at + 1;
		}
		const time = this.timeAt(bytes, at);
		if (time === undefined) return this.noRow(bytes, rowStart, at);
		if (this.held) throw this.held.error;
		if (this.rows === 0) this.start = time;
		else if (!(time >= this.last))
			this.fail('time-back', this.offset + rowStart, { time, before: this.last, unit: this.times!.unitExponent === -12 ? 'ps' : 'ns' });
		else if (time === this.last) this.equal++;
		this.countRow(time, this.last);
		this.before = this.last;
		this.last = time;
		return time;
	}

	private timeAt(bytes: Uint8Array, at: number): number | undefined {
		const times = this.times!;
		const plain = this.scanner.scan(bytes, at) === 1;
		this.timeEnd =
			plain && this.separator !== SPACE ? this.scanner.end : times.plain && plain ? this.scanner.end : this.momentEnd(bytes, at);
		try {
			if (this.dialect!.interval) return this.counted();
			return plain && times.plain
				? times.ofNumber(this.scanner.mantissa, this.scanner.power)
				: times.ofText(textOf(bytes, at, this.timeEnd));
		} catch (error) {
			if (!(error instanceof TimeRange)) throw error;
			return this.fail('time-range', this.offset + at, { said: textOf(bytes, at, this.timeEnd).trim() });
		}
	}

	/** Where the cell of a moment ends; among blanks a date and its clock time are two words. */
	private momentEnd(bytes: Uint8Array, at: number): number {
		const stop = cellStop(bytes, at, this.separator);
		return this.separator === SPACE && this.dialect!.timeKind === 'dated' && bytes[stop] === SPACE && !bytes.subarray(at, stop).includes(58)
			? cellStop(bytes, stop + 1, this.separator)
			: stop;
	}

	/** Rows that are numbered and not timed come at even intervals. */
	private counted(): number {
		this.period ??= this.dialect!.interval!.div(this.times!.unit).toNumber();
		const time = Math.round(this.rows * this.period);
		if (time > Number.MAX_SAFE_INTEGER) throw new TimeRange();
		return time;
	}
	private period: number | undefined;

	/** A line without a time: a remark, the headings once more, or something that only the end of the file excuses. */
	private noRow(bytes: Uint8Array, rowStart: number, at: number): undefined {
		const text = textOf(bytes, rowStart, lineEndOf(bytes, rowStart)).trim();
		const { heading, separator, timeColumn, names } = this.dialect!;
		if (REMARK.test(text)) this.remarks++;
		else if (heading && cellsOf(text, separator).join('\0') === heading.join('\0')) this.repeated++;
		else if (this.held) this.held.count++;
		else {
			const cell = textOf(bytes, at, cellStop(bytes, at, this.separator))
				.trim()
				.slice(0, 40);
			const byte = this.offset + at;
			const error = new FormatError('bad-time-cell', this.line, byte, { cell, column: timeColumn + 1, name: names[timeColumn] });
			this.held = { line: this.line, byte, error, count: 1 };
		}
		return undefined;
	}

	private countRow(time: number, before: number): void {
		if (this.rows++ > 0) this.gauge.add(time - before);
	}

	/** A cell of any kind. Returns where it ends. */
	private cell(bytes: Uint8Array, at: number, column: number, time: number): number {
		const kind = this.scanner.scan(bytes, at);
		const value = kind === 1 ? scaled(this.scanner.mantissa, this.scanner.power) : this.otherLevel(bytes, at, column);
		// A value that repeats cannot move its line, whatever the threshold; an empty cell keeps what stood.
		if (!Object.is(value, this.seen[column]) && value !== -Infinity) {
			this.changed = true;
			this.seen[column] = value;
			this.slicers[column]!.add(time, value, this.before);
		}
		return this.scanner.end;
	}

	/** A cell that is no plain number: a level in words, a number with grouped digits or a unit, unknown (NaN), empty (-Infinity), or refused. */
	private otherLevel(bytes: Uint8Array, at: number, column: number): number {
		const text = textOf(bytes, at, this.scanner.end);
		const value = this.values!.of(text, this.line);
		if (value === undefined)
			this.fail('bad-cell', this.offset + at, { cell: text.trim().slice(0, 40), column: column + 1, name: this.dialect!.names[column] });
		if (value === -Infinity) this.missing++;
		return value;
	}

	/** Behind the line break; empty cells past the last column are allowed. */
	private lineEnd(bytes: Uint8Array, at: number): number {
		while (bytes[at] === this.separator || bytes[at] === 13 || bytes[at] === 32) at++;
		if (bytes[at] !== NEWLINE && at < bytes.length) this.fail('too-many-cells', this.offset + at, { most: this.slicers.length });
		return at + 1;
	}

	/** A last line without a line break is whole if it has all its cells; otherwise it was cut and is left out with a note. */
	private lastLine(rest: Uint8Array): void {
		const cells = cellsOf(textOf(rest, 0, rest.length), this.dialect!.separator);
		if (cells.length < this.slicers.length || cells[this.dialect!.timeColumn] === '') {
			this.notes.push({ code: 'cut-last-line', line: this.line });
			return;
		}
		this.carry = new Uint8Array(0);
		this.feed(joined(rest, Uint8Array.of(NEWLINE)));
	}

	private finish({ names }: Dialect): ParsedRecording {
		const times = this.times!;
		const { unit } = times;
		const meta = { unit, start: this.start, end: this.last };
		const nameOf = (column: number) => lineSettings(this.settings, column).name ?? names[column];
		const sample = this.gauge.sample(this.last - this.start, this.rows - 1).mul(unit);
		const lines = this.slicers.flatMap((slicer, column): ParsedLine[] =>
			slicer ? [slicer.finish(column, nameOf(column), meta, sample)] : []
		);
		this.slicers.forEach((slicer, column) => {
			if (slicer?.flat) this.notes.push({ code: 'flat-line', name: nameOf(column) });
		});
		const { unknown } = this.values!;
		const counts: [Note['code'], number][] = [
			['missing-cells', this.missing],
			['remarks', this.remarks],
			['repeated-heading', this.repeated],
			['equal-times', this.equal]
		];
		for (const [code, count] of counts) if (count > 0) this.notes.push({ code, count });
		if (unknown) this.notes.push({ code: 'unknown-cells', ...unknown });
		if (times.rounded > 0)
			this.notes.push({ code: 'rounded-times', count: times.rounded, name: times.unitExponent === -12 ? '1 ps' : '1 ns' });
		return {
			format: 'csv',
			...meta,
			...this.step(unit),
			lines,
			notes: this.notes
		};
	}

	/** What an edge's time can be off by (timers.md 11): a sample, or the last digit of the times of a list of edges; no finer than they are kept. */
	private step(unit: Seconds): { resolution: Seconds; stepFrom: StepFrom } {
		const told = stepOf(this.settings);
		if (told) return { resolution: told, stepFrom: 'hand' };
		const levels = this.slicers.every((slicer) => !slicer || slicer.binary);
		const edges = levels && this.changes >= EDGES * (this.rows - 1) && !this.dialect!.interval;
		const samples = edges ? undefined : this.gauge.samplePeriod(this.last - this.start, this.rows - 1);
		const step = samples?.mul(unit) ?? this.times!.lastDigit;
		return { resolution: step.compare(unit) < 0 ? unit : step, stepFrom: samples ? 'sample' : 'digit' };
	}

	private fail(code: string, byte: number, details?: FormatDetails): never {
		throw new FormatError(code, this.line, byte, details);
	}
}

function scaled(mantissa: number, power: number): number {
	if (power === 0) return mantissa;
	return power < 0 ? (power > -23 ? mantissa / TEN[-power] : mantissa * 10 ** power) : mantissa * 10 ** power;
}

function afterBlanks(bytes: Uint8Array, at: number): number {
	while (bytes[at] === SPACE) at++;
	return at;
}
