import { Rational, type Seconds } from '../../exact/index.js';
import { kernels } from '../../kernels/index.js';
import { TraceBuilder, type Level } from '../../trace/index.js';
import { ascii, copied, joined } from '../bytes.js';
import {
	FormatError,
	lineSink,
	type FormatDetails,
	type Note,
	type ParsedLine,
	type ParsedRecording,
	type RecordingReader,
	type RecordingSink
} from '../recording.js';
import { finishLine, SampledLine } from '../sampled.js';
import { lineSettings, slicingOf, stepOf, type ReadSettings } from '../settings.js';
import { codeOf, HeaderReader, type Variable } from './header.js';

/**
 * Push reader for value change dumps (IEEE 1364): four-state scalars, vectors bit by bit, reals cut to two levels.
 * x and z are one unknown level. Tokens may be cut anywhere between chunks; one token is held at the most.
 */
const LONGEST_TOKEN = 65_536;
const NOTHING = new Uint8Array(0);
const NEWLINE = 10;
const TEN = Array.from({ length: 10 }, (_, i) => 10 ** i);
const SPACE = 32;
/** Levels of nine-valued logic beside 0 and 1, by their letter: strong or weak, unknown, off or of no matter. */
const NINE: Readonly<Record<number, Level>> = Object.fromEntries(
	[...'xXzZuUwW-']
		.map((letter): [number, Level] => [letter.charCodeAt(0), 2])
		.concat(
			[...'hH'].map((letter) => [letter.charCodeAt(0), 1]),
			[...'lL'].map((letter) => [letter.charCodeAt(0), 0])
		)
);

/** What a changing identifier feeds: one builder a bit, most significant first, or a line of samples for a real. */
interface Signal {
	variable: Variable;
	/** Index of its first line. */
	line: number;
	builders: (TraceBuilder | undefined)[];
	slicer: SampledLine | undefined;
	/** When an event last came. */
	happened?: number;
}

export class VcdReader implements RecordingReader {
	private readonly header = new HeaderReader();
	private carry: Uint8Array = NOTHING;
	private offset = 0;
	private line = 1;
	private signals: Signal[] = [];
	/** Signal number + 1 by identifier code; 0 for none. */
	private byCode: Map<number, number> = new Map();
	private direct = new Int32Array(0);
	/** Builders of single bits that have their initial level, as many as the loops can feed; and where each is, by identifier code. */
	private readonly running: TraceBuilder[] = [];
	private readonly open = new Uint8Array(kernels().open.length);
	/** True when the next word begins a value, a time or a keyword of the value section. */
	private plain = false;
	private time = 0;
	private start: number | undefined;
	private anyValue = false;
	/** Where the pulse of the last event ends. */
	private lastEvent = -Infinity;
	/** A value token (b or r) that waits for its identifier, or a $comment that waits for its $end. */
	private pending = '';
	private skipping = false;
	private notes: Note[] = [];

	/** Times are kept in steps of so many of the file's. */
	private readonly coarser: number;
	private roundedTimes = 0;

	constructor(
		private readonly sink?: RecordingSink,
		private readonly settings: ReadSettings = {}
	) {
		this.coarser = settings.coarser ?? 1;
	}

	feed(chunk: Uint8Array): void {
		let from = 0;
		if (this.carry.length > 0) {
			// The word that was cut is made whole; what follows is read where it lies.
			while (from < chunk.length && chunk[from] > SPACE) from++;
			if (from < chunk.length) from++;
			const word = joined(this.carry, chunk.subarray(0, from));
			this.carry = NOTHING;
			this.take(word);
		}
		if (from < chunk.length) this.take(chunk.subarray(from));
	}

	private take(bytes: Uint8Array): void {
		let whole = bytes.length;
		while (whole > 0 && bytes[whole - 1] > SPACE) whole--;
		if (bytes.length - whole > LONGEST_TOKEN) this.fail('long-token', this.offset + whole, { most: 65536 });
		this.read(bytes, whole);
		this.carry = copied(bytes, whole);
		this.offset += whole;
	}

	end(): ParsedRecording {
		const at = this.offset + this.carry.length;
		if (!this.header.done) {
			if (this.carry.length > 0) this.feed(Uint8Array.of(SPACE));
			if (!this.header.done) this.fail(at === 0 ? 'empty' : 'truncated', at);
		}
		// What has no blank behind it, or no identifier, was cut off with all that would have come then.
		if (this.carry.length > 0 || this.pending) this.notes.push({ code: 'cut-last-line', line: this.line });
		if (this.carry.length > 0) this.cutWord();
		if (!this.anyValue) this.fail('no-values', at);
		return this.finish(this.header.unit!.mul(Rational.int(this.coarser)));
	}

	/** The last word of a dump that was cut is taken if it makes sense. */
	private cutWord(): void {
		try {
			this.feed(Uint8Array.of(SPACE));
		} catch (error) {
			if (!(error instanceof FormatError)) throw error;
		}
	}

	private finish(unit: Seconds): ParsedRecording {
		const meta = { unit, start: this.start ?? 0, end: Math.max(this.time, this.lastEvent) };
		const lines: ParsedLine[] = [];
		for (const { variable, builders, slicer, line: first } of this.signals) {
			if (variable.leftOut) continue;
			for (const alias of variable.names.slice(1)) this.notes.push({ code: 'alias', name: alias });
			const told = (bit: number) => lineSettings(this.settings, first + bit);
			if (slicer) {
				const name = told(0).name ?? variable.names[0];
				if (told(0).as !== 'nothing') lines.push(slicer.finish(first, name, meta));
				if (slicer.flat) this.notes.push({ code: 'flat-line', name });
				continue;
			}
			builders.forEach((builder, bit) => {
				const made = finishLine(builder ?? new TraceBuilder(2), meta);
				if (told(bit).as === 'nothing') return;
				lines.push({ number: first + bit, name: told(bit).name ?? variable.bitName(bit), ...made });
			});
		}
		if (lines.length === 0) this.fail('nothing-taken', 0);
		if (this.roundedTimes > 0) this.notes.push({ code: 'rounded-times', count: this.roundedTimes, name: `${unit.toString()} s` });
		const step = stepOf(this.settings);
		const notes = [...this.header.notes, ...this.notes];
		return { format: 'vcd', ...meta, resolution: step ?? unit, stepFrom: step ? 'hand' : 'unit', lines, notes };
	}

	/** Reads the whole words of bytes[0..end). */
	private read(bytes: Uint8Array, end: number): void {
		const most = kernels().piece;
		for (let from = 0; from < end;) {
			// Pieces end behind a blank.
			let to = Math.min(end, from + most);
			while (to < end && to > from && bytes[to - 1] > SPACE) to--;
			if (to === from) to = end;
			this.readPiece(bytes, from, to);
			from = to;
		}
	}

	private readPiece(bytes: Uint8Array, from: number, to: number): void {
		const loops = kernels();
		const fits = to - from <= loops.piece;
		let loaded = false;
		for (let at = from; at < to;) {
			const byte = bytes[at];
			if (byte <= SPACE) {
				if (byte === NEWLINE) this.line++;
				at++;
			} else if (fits && this.plain && this.start !== undefined && (byte === 0x23 || byte === 0x30 || byte === 0x31)) {
				if (!loaded) loops.input.set(bytes.subarray(from, to));
				if (!loaded) loops.open.set(this.open);
				loaded = true;
				const next = from + this.plainWords(at - from, to - from);
				at = next > at ? next : this.readWord(bytes, at, to);
			} else at = this.readWord(bytes, at, to);
		}
	}

	/** Times and levels of lines that are under way, of the piece in the loops' memory. Returns where the first other word begins. */
	private plainWords(at: number, end: number): number {
		const { code, counts, edges, fed, firsts, times } = kernels();
		for (let full = true; full && at < end;) {
			const next = code.words(at, end, this.time, this.coarser);
			this.time = code.reached();
			this.line += code.rows.value;
			this.roundedTimes += code.rounded.value;
			for (const line of fed.subarray(0, code.fed.value))
				this.running[line].addRun(times.subarray(line * edges, line * edges + counts[line]), firsts[line] as Level);
			full = code.full.value !== 0;
			at = next;
		}
		return at;
	}

	private readWord(bytes: Uint8Array, at: number, end: number): number {
		let stop = at + 1;
		while (stop < end && bytes[stop] > SPACE) stop++;
		if (!this.header.done) this.declare(bytes, at, stop);
		else this.word(bytes, at, stop);
		this.plain = this.header.done && !this.skipping && this.pending === '';
		return stop;
	}

	private declare(bytes: Uint8Array, at: number, stop: number): void {
		this.header.word(ascii(bytes, at, stop), this.line, this.offset + at);
		if (!this.header.done) return;
		let line = 0;
		for (const variable of this.header.variables.values()) {
			const first = line;
			line += variable.real ? 1 : variable.bits;
			const told = lineSettings(this.settings, first);
			const slicer = variable.real ? new SampledLine(lineSink(this.sink, first), { slicing: slicingOf(told) }) : undefined;
			this.signals.push({ variable, line: first, builders: Array.from({ length: variable.bits }), slicer });
			this.byCode.set(variable.code, this.signals.length);
		}
		// Nearly all dumps use short identifiers: those are found by index.
		const longest = Math.max(...this.byCode.keys());
		this.direct = new Int32Array(Math.min(longest + 1, 2 ** 20));
		for (const [code, signal] of this.byCode) if (code < this.direct.length) this.direct[code] = signal;
	}

	/** One word of the value section. */
	private word(bytes: Uint8Array, at: number, stop: number): void {
		const byte = bytes[at];
		if (this.skipping) {
			if (stop - at === 4 && ascii(bytes, at, stop) === '$end') this.skipping = false;
		} else if (this.pending) this.wide(bytes, at, stop);
		else if (byte === 0x23) this.readTime(bytes, at);
		else if (byte === 0x30 || byte === 0x31) this.scalar(bytes, at, stop, (byte - 0x30) as Level);
		else if (NINE[byte] !== undefined) this.scalar(bytes, at, stop, NINE[byte]);
		else if (byte === 0x62 || byte === 0x42 || byte === 0x72 || byte === 0x52 || byte === 0x73 || byte === 0x53)
			this.pending = ascii(bytes, at, stop);
		else if (byte === 0x24) this.keyword(ascii(bytes, at, stop), at);
		else this.fail('unknown-word', this.offset + at, { word: ascii(bytes, at, Math.min(stop, at + 20)) });
	}

	private keyword(word: string, at: number): void {
		if (word === '$comment') this.skipping = true;
		else if (!['$dumpvars', '$dumpon', '$dumpoff', '$dumpall', '$end'].includes(word))
			this.fail('unknown-keyword', this.offset + at, { word });
	}

	/** A time: # and digits, in runs of nine so that whole numbers of 31 bits do nearly all of the work. Returns where its word ends. */
	private readTime(bytes: Uint8Array, at: number): number {
		let i = at + 1;
		let time = 0;
		let digit = bytes[i] - 0x30;
		while (digit >= 0 && digit <= 9) {
			const first = i;
			const last = i + 9;
			let run = 0;
			while (digit >= 0 && digit <= 9 && i < last) {
				run = (run * 10 + digit) | 0;
				digit = bytes[++i] - 0x30;
			}
			time = time === 0 ? run : time * TEN[i - first] + run;
		}
		if (bytes[i] > SPACE || i === at + 1) {
			while (bytes[i] > SPACE) i++;
			this.fail('bad-time', this.offset + at, { said: ascii(bytes, at, i) });
		}
		if (this.coarser > 1 || time > Number.MAX_SAFE_INTEGER) time = this.coarseTime(ascii(bytes, at + 1, i), at);
		if (this.start === undefined) this.start = this.anyValue ? 0 : time;
		if (time < this.time) this.fail('time-back', this.offset + at, { time, before: this.time });
		this.time = time;
		return i;
	}

	/** A time in coarser steps, half up; one that is too large still asks for steps that are coarser yet. */
	private coarseTime(digits: string, at: number): number {
		if (digits.length > 40) this.fail('bad-time', this.offset + at, { said: `#${digits.slice(0, 40)}` });
		const [time, step] = [BigInt(digits), BigInt(this.coarser)];
		const kept = Number((time + step / 2n) / step);
		if (kept > Number.MAX_SAFE_INTEGER) this.fail('too-fine', this.offset + at, { said: `#${digits}`, coarser: this.coarser * 1000 });
		if (time % step !== 0n) this.roundedTimes++;
		return kept;
	}

	private scalar(bytes: Uint8Array, at: number, stop: number, level: Level): void {
		const signal = this.signalOf(bytes, at + 1, stop);
		if (signal.variable.leftOut) return;
		if (signal.variable.event) return this.happen(signal);
		if (signal.slicer || signal.builders.length !== 1) {
			this.spread(signal, String.fromCharCode(bytes[at]), at);
			return;
		}
		this.change(signal, 0, level);
	}

	/** The identifier after a b, r or s value. */
	private wide(bytes: Uint8Array, at: number, stop: number): void {
		const value = this.pending;
		this.pending = '';
		const signal = this.signalOf(bytes, at, stop);
		const kind = value[0].toLowerCase();
		if (kind === 's' || signal.variable.leftOut) return;
		if (kind === 'b') this.spread(signal, value.slice(1), at);
		else if (!signal.slicer) this.fail('real-for-bits', this.offset + at, { name: signal.variable.names[0] });
		else {
			const said = value.slice(1);
			const real = /^[+-]?(nan|inf(inity)?)(\(.*\))?$/i.test(said) ? NaN : Number(said);
			if (said === '' || (Number.isNaN(real) && !/nan|inf/i.test(said))) this.fail('bad-real', this.offset + at, { value });
			this.anyValue = true;
			// It stands until it changes: the line goes straight up there.
			signal.slicer.add(this.time, Number.isFinite(real) ? real : NaN, this.time);
		}
	}

	/** A vector's text over its bits: short ones are filled on the left with 0, or with x or z if they begin so. */
	private spread(signal: Signal, value: string, at: number): void {
		const bits = signal.builders.length;
		if (signal.slicer || !/^[01xXzZuUwWhHlL-]+$/.test(value) || value.length > bits)
			this.fail('bad-value', this.offset + at, { value: value.slice(0, 40), name: signal.variable.names[0], bits });
		const fill = /[1hH]/.test(value[0]) ? '0' : value[0];
		const full = value.padStart(bits, fill);
		for (let bit = 0; bit < bits; bit++)
			this.change(signal, bit, full[bit] === '0' ? 0 : full[bit] === '1' ? 1 : NINE[full.charCodeAt(bit)]);
	}

	/** An event is a pulse of one unit: its rises are the moments. */
	private happen(signal: Signal): void {
		const { time } = this;
		const builder = (signal.builders[0] ??= new TraceBuilder(0, this.sinkFor(signal.line)));
		this.anyValue = true;
		if (signal.happened === time) return;
		signal.happened = time;
		builder.add(time, 1);
		builder.add(time + 1, 0);
		this.lastEvent = Math.max(this.lastEvent, time + 1);
	}

	private change(signal: Signal, bit: number, level: Level): void {
		const builder = signal.builders[bit];
		this.anyValue = true;
		if (builder !== undefined && (builder.count > 0 || this.time !== (this.start ?? 0))) {
			builder.add(this.time, level);
			if (signal.builders.length === 1) this.feedDirectly(signal.variable.code, builder);
			return;
		}
		// What stands at the first moment is the initial level; a line first heard of later was unknown until then.
		const atStart = this.time === (this.start ?? 0);
		const fresh = new TraceBuilder(atStart ? level : 2, this.sinkFor(signal.line + bit));
		if (!atStart) fresh.add(this.time, level);
		signal.builders[bit] = fresh;
	}

	/** From the next piece on, the loops feed this line. */
	private feedDirectly(code: number, builder: TraceBuilder): void {
		if (code >= this.open.length || this.open[code] > 0 || this.running.length === kernels().lines) return;
		this.running.push(builder);
		this.open[code] = this.running.length;
	}

	private signalOf(bytes: Uint8Array, at: number, stop: number): Signal {
		const code = codeOf(bytes, at, stop);
		const found = code < this.direct.length ? this.direct[code] : (this.byCode.get(code) ?? 0);
		if (found === 0) this.fail('unknown-identifier', this.offset + at, { identifier: ascii(bytes, at, stop) });
		return this.signals[found - 1];
	}

	private sinkFor(line: number) {
		return lineSink(this.sink, line)?.edges;
	}

	private fail(code: string, byte: number, details?: FormatDetails): never {
		throw new FormatError(code, this.line, byte, details);
	}
}
