import { Rational, type Seconds } from '../../exact/index.js';
import { ascii, copied, decodeText, joined } from '../bytes.js';
import { FormatError, type ChunkSink, type FormatDetails, type Note, type ParsedRecording, type RecordingReader } from '../recording.js';
import { Slicer } from '../slicer.js';
import { lastDigit, powerOfTen } from '../step.js';
import { cellsOf, findDialect, type Dialect } from './dialect.js';
import { StepGauge } from './gauge.js';
import { cellStop, CellScanner, TEN } from './scan.js';

/**
 * Push reader for rows of a time and levels or samples, separated by comma, semicolon, tab or blanks, with or without
 * headings. Times become whole picoseconds. An empty cell keeps what stood before. One line is held at the most.
 */
const LONGEST_LINE = 1_048_576;
/** The dialect is found from so many lines, or bytes, or the whole file. */
const SAMPLE_LINES = 256;
const SAMPLE_BYTES = 65_536;
const PICO = -12;
/** Rows of a list of edges in which a level changes, at the least, as a share of all. */
const EDGES = 0.9;
const NEWLINE = 10;
const SPACE = 32;
const RETURN = 13;
/** No byte that begins a cell. */
const NO_DIGIT = -1;

export class CsvReader implements RecordingReader {
	private carry: Uint8Array = new Uint8Array(0);
	/** Absolute offset of the carry's first byte. */
	private offset = 0;
	private line = 1;
	private dialect: Dialect | undefined;
	private slicers: (Slicer | undefined)[] = [];
	private separator = 0;
	private decimal = 0;
	/** Power of ten from a written time to picoseconds. */
	private exponent = 0;
	private rows = 0;
	private start = 0;
	private last = -Infinity;
	private readonly gauge = new StepGauge();
	/** The finest power of ten of a last digit among the times as written. */
	private finest = Infinity;
	/** Rows in which a level is not that of the row before, but the first. */
	private changes = 0;
	/** The row at hand is one of them. */
	private changed = false;
	/** Where the time cell of the row at hand ends. */
	private timeEnd = 0;
	/** The digit that each column's cell was made of last; NO_DIGIT for any other cell. */
	private digits = new Int16Array(0);
	/** The value that each column had last. */
	private seen = new Float64Array(0);
	private missing = 0;
	private roundedTimes = 0;
	private notes: Note[] = [];
	/** Made with the dialect. */
	private scanner = new CellScanner(0, 0);

	constructor(private readonly sink?: ChunkSink) {}

	feed(chunk: Uint8Array): void {
		const bytes = joined(this.carry, chunk);
		if (!this.dialect && !this.learn(bytes, false)) {
			this.carry = bytes === chunk ? copied(chunk) : bytes;
			return;
		}
		const whole = bytes.lastIndexOf(NEWLINE) + 1;
		if (bytes.length - whole > LONGEST_LINE) this.fail('long-line', this.offset + whole, { most: LONGEST_LINE });
		this.read(bytes, this.skip(bytes), whole);
		this.carry = copied(bytes, whole);
		this.offset += whole;
	}

	end(): ParsedRecording {
		if (!this.dialect) {
			if (this.carry.every((byte) => byte <= 32)) this.fail('empty', 0);
			this.learn(this.carry, true);
			const all = this.carry;
			this.carry = new Uint8Array(0);
			this.feed(all);
		}
		if (this.carry.length > 0) this.lastLine(this.carry);
		if (this.rows < 2) this.fail('no-rows', this.offset, { rows: this.rows });
		return this.finish(this.dialect!);
	}

	private headerBytes = 0;

	/** Finds the dialect once enough lines are here. False: wait for more. */
	private learn(bytes: Uint8Array, all: boolean): boolean {
		const nul = bytes.indexOf(0);
		if (nul >= 0) this.fail('binary', this.offset + nul);
		const text = decodeText(bytes.subarray(0, 4 * SAMPLE_BYTES));
		const lines = text.split('\n');
		if (!all && lines.length <= SAMPLE_LINES && bytes.length < SAMPLE_BYTES) return false;
		const sample = lines.slice(0, all && lines.length <= SAMPLE_LINES ? undefined : Math.min(SAMPLE_LINES, lines.length - 1));
		const dialect = findDialect(sample.map((line) => line.replace(/\r$/, '')));
		if (!dialect) return this.fail('no-rows', 0, { rows: 0, among: sample.length });
		this.open(dialect);
		for (let i = 0; i < dialect.firstRow; i++) this.headerBytes = bytes.indexOf(NEWLINE, this.headerBytes) + 1;
		this.line = dialect.firstRow + 1;
		return true;
	}

	private open(dialect: Dialect): void {
		this.dialect = dialect;
		this.separator = dialect.separator.charCodeAt(0);
		this.decimal = dialect.decimal.charCodeAt(0);
		this.scanner = new CellScanner(this.separator, this.decimal);
		this.exponent = dialect.timeExponent - PICO;
		this.seen = new Float64Array(dialect.names.length).fill(NaN);
		this.digits = new Int16Array(dialect.names.length).fill(NO_DIGIT);
		let line = 0;
		this.slicers = dialect.names.map((_, column) => (column === dialect.timeColumn ? undefined : new Slicer(this.sinkFor(line++))));
		if (!dialect.named) this.notes.push({ code: 'no-names' });
		if (!dialect.timeUnitSaid) this.notes.push({ code: 'time-assumed-seconds' });
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
	 * Rows of a plain decimal time and one digit a column, which nearly all rows of a logic recording are: local variables
	 * alone, and a cell that repeats the one above it costs two comparisons. Returns the first row that is none, or the end.
	 * Taking such a row up again is safe: of what it has added, the same value at the same time adds nothing.
	 */
	private plainRows(bytes: Uint8Array, from: number, end: number): number {
		const { slicers, separator, decimal, digits, seen, exponent } = this;
		const lastColumn = slicers.length - 1;
		if (this.dialect!.timeColumn !== 0 || this.rows === 0) return from;
		let { last, finest } = this;
		let at = from;
		while (at < end) {
			const rowStart = at;
			let changed = false;
			let mantissa = 0;
			let byte = bytes[at];
			while (byte >= 48 && byte <= 57) {
				mantissa = mantissa * 10 + (byte - 48);
				byte = bytes[++at];
			}
			let places = 0;
			if (byte === decimal) {
				const point = at;
				byte = bytes[++at];
				while (byte >= 48 && byte <= 57) {
					mantissa = mantissa * 10 + (byte - 48);
					byte = bytes[++at];
				}
				places = at - point - 1;
			}
			const shift = exponent - places;
			const time = shift >= 0 && shift < 23 ? mantissa * TEN[shift] : NaN;
			// NaN, too many digits and times that do not rise all end here; the long way says what is wrong.
			if (byte !== separator || !(time > last) || time > Number.MAX_SAFE_INTEGER || at === rowStart) return rowStart;
			if (-places < finest) this.finest = finest = -places;
			for (let column = 1; column <= lastColumn; column++) {
				byte = bytes[++at];
				const next = bytes[++at];
				if (next !== (column === lastColumn ? NEWLINE : separator)) return rowStart;
				if (byte === digits[column]) continue;
				if (!(byte >= 48 && byte <= 57)) return rowStart;
				digits[column] = byte;
				changed = true;
				seen[column] = byte - 48;
				slicers[column]!.add(time, byte - 48);
			}
			at++;
			if (changed) this.changes++;
			this.countRow(time, last);
			last = time;
			this.last = time;
			this.line++;
		}
		return at;
	}

	/** One line of any kind. Returns where the next begins. */
	private anyRow(bytes: Uint8Array, start: number): number {
		const { separator, slicers } = this;
		const { timeColumn } = this.dialect!;
		const last = slicers.length - 1;
		if (bytes[start] === NEWLINE || (bytes[start] === RETURN && bytes[start + 1] === NEWLINE)) {
			this.line++;
			return start + (bytes[start] === NEWLINE ? 1 : 2);
		}
		const first = this.rows === 0;
		const time = this.rowTime(bytes, start, timeColumn);
		this.changed = false;
		let at = start;
		for (let column = 0; column <= last; column++) {
			at = column === timeColumn ? this.timeEnd : this.cell(bytes, at, column, time);
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

	/** Reads a row's time ahead of its levels, and leaves in timeEnd where its cell ends. */
	private rowTime(bytes: Uint8Array, rowStart: number, timeColumn: number): number {
		let at = rowStart;
		for (let column = 0; column < timeColumn; column++) {
			at = cellStop(bytes, at, this.separator);
			if (bytes[at] !== this.separator) this.badCell(bytes, at, timeColumn);
			at = this.separator === SPACE ? afterBlanks(bytes, at) : at + 1;
		}
		const plain = this.scanner.scan(bytes, at) === 1;
		if (plain && this.scanner.power < this.finest) this.finest = this.scanner.power;
		const time = plain ? this.picoseconds(at) : this.longTime(bytes, at, timeColumn);
		this.timeEnd = this.scanner.end;
		if (this.rows === 0) this.start = time;
		else if (!(time > this.last)) this.fail('time-back', this.offset + rowStart, { time, before: this.last, unit: 'ps' });
		this.countRow(time, this.last);
		this.last = time;
		return time;
	}

	private countRow(time: number, before: number): void {
		if (this.rows++ > 0) this.gauge.add(time - before);
	}

	/** A cell of any kind. Returns where it ends. */
	private cell(bytes: Uint8Array, at: number, column: number, time: number): number {
		const kind = this.scanner.scan(bytes, at);
		const value = kind === 1 ? scaled(this.scanner.mantissa, this.scanner.power) : this.otherLevel(bytes, at, column);
		const single = this.scanner.end === at + 1 && kind === 1;
		this.digits[column] = single ? bytes[at] : NO_DIGIT;
		// A value that repeats cannot move its line, whatever the threshold; an empty cell keeps what stood.
		if (!Object.is(value, this.seen[column]) && value !== -Infinity) {
			this.changed = true;
			this.seen[column] = value;
			this.slicers[column]!.add(time, value);
		}
		return this.scanner.end;
	}

	/** A time with more digits than plain numbers hold, as some programs print them. */
	private longTime(bytes: Uint8Array, at: number, column: number): number {
		const cell = ascii(bytes, at, this.scanner.end)
			.trim()
			.replace(/^"(.*)"$/, '$1')
			.replace(this.dialect!.decimal, '.');
		const written = Rational.tryParse(cell);
		if (!written || cell.includes('/')) return this.badCell(bytes, at, column);
		this.finest = Math.min(this.finest, lastDigit(cell));
		const time = written.mul(Rational.of(10n ** BigInt(this.exponent)));
		if (time.abs().compare(Rational.int(Number.MAX_SAFE_INTEGER)) > 0) this.outOfRange(at, cell);
		if (!time.isInteger) this.roundedTimes++;
		return Number(time.roundHalfUp());
	}

	/** The scanned number as whole picoseconds; finer times are rounded and counted. */
	private picoseconds(at: number): number {
		const shift = this.scanner.power + this.exponent;
		const { mantissa } = this.scanner;
		const time =
			shift >= 0 && shift < 23 ? mantissa * TEN[shift] : shift < 0 && shift > -23 ? mantissa / TEN[-shift] : mantissa === 0 ? 0 : NaN;
		if (!(Math.abs(time) <= Number.MAX_SAFE_INTEGER)) {
			this.fail('time-range', this.offset + at, { said: `${mantissa}e${this.scanner.power}` });
		}
		if (Number.isInteger(time)) return time;
		this.roundedTimes++;
		return Math.round(time);
	}

	private outOfRange(at: number, written: string): never {
		return this.fail('time-range', this.offset + at, { said: written });
	}

	/** A cell that is no plain number: quoted, unknown (x, z, nan: NaN), empty (-Infinity), or refused. */
	private otherLevel(bytes: Uint8Array, at: number, column: number): number {
		const cell = ascii(bytes, at, this.scanner.end)
			.trim()
			.replace(/^"(.*)"$/, '$1')
			.trim();
		if (cell === '') {
			this.missing++;
			return -Infinity;
		}
		if (/^([xz]|nan)$/i.test(cell)) return NaN;
		const value = Number(this.decimal === 44 ? cell.replace(',', '.') : cell);
		return Number.isFinite(value) ? value : this.badCell(bytes, at, column);
	}

	private badCell(bytes: Uint8Array, at: number, column: number): never {
		const cell = ascii(bytes, at, Math.min(this.scanner.end, at + 40));
		const name = this.dialect!.names[column];
		return this.fail(column === this.dialect!.timeColumn ? 'bad-time-cell' : 'bad-cell', this.offset + at, {
			cell,
			column: column + 1,
			name
		});
	}

	/** Behind the line break; empty cells past the last column are allowed. */
	private lineEnd(bytes: Uint8Array, at: number): number {
		while (bytes[at] === this.separator || bytes[at] === 13 || bytes[at] === 32) at++;
		if (bytes[at] !== NEWLINE && at < bytes.length) this.fail('too-many-cells', this.offset + at, { most: this.slicers.length });
		return at + 1;
	}

	/** A last line without a line break is whole if it has all its cells; otherwise it was cut and is left out with a note. */
	private lastLine(rest: Uint8Array): void {
		const cells = cellsOf(ascii(rest, 0, rest.length), this.dialect!.separator);
		if (cells.length < this.slicers.length || cells.some((cell) => cell === '')) {
			this.notes.push({ code: 'cut-last-line', line: this.line });
			return;
		}
		this.carry = new Uint8Array(0);
		this.feed(joined(rest, Uint8Array.of(NEWLINE)));
	}

	private finish({ names }: Dialect): ParsedRecording {
		const unit = Rational.of(1n, 10n ** 12n);
		const meta = { unit, start: this.start, end: this.last };
		const lines = this.slicers.flatMap((slicer, column) => (slicer ? [slicer.finish(names[column], meta)] : []));
		this.slicers.forEach((slicer, column) => {
			if (slicer?.flat) this.notes.push({ code: 'flat-line', name: names[column] });
			if (slicer?.beyond) this.notes.push({ code: 'beyond-slicing', name: names[column] });
		});
		if (this.missing > 0) this.notes.push({ code: 'missing-cells', count: this.missing });
		if (this.roundedTimes > 0) this.notes.push({ code: 'rounded-times', count: this.roundedTimes });
		return {
			format: 'csv',
			...meta,
			resolution: this.step(unit),
			lines,
			notes: this.notes
		};
	}

	/** What an edge's time can be off by (timers.md 11): a sample, or the last digit of the times of a list of edges; no finer than they are kept. */
	private step(unit: Seconds): Seconds {
		const levels = this.slicers.every((slicer) => !slicer || slicer.binary);
		const edges = levels && this.changes >= EDGES * (this.rows - 1);
		const samples = edges ? undefined : this.gauge.samplePeriod(this.last - this.start, this.rows - 1);
		const step = samples?.mul(unit) ?? powerOfTen(this.finest + this.dialect!.timeExponent);
		return step.compare(unit) < 0 ? unit : step;
	}

	private sinkFor(line: number): ((chunk: Parameters<ChunkSink>[1]) => void) | undefined {
		const { sink } = this;
		return sink && ((chunk) => sink(line, chunk));
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
