import { Rational } from '../../exact/index.js';
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
import { openKernels } from '../../kernels/index.js';
import { SampledLine } from '../sampled.js';
import { lineSettings, slicingOf, stepOf, type ReadSettings } from '../settings.js';

/** Container chunks: a name of four letters and a length. */
const CHUNK = 8;
const FORM = 12;
const PCM = 1;
const FLOAT = 3;
const EXTENSIBLE = 0xfffe;
/** A length that says: until the file ends. */
const OPEN = 0xffffffff;
const MOST_CHANNELS = 64;
const LARGEST_FORMAT = 4096;
/** Units of time a sample: edges lie between samples. */
const PARTS = 1000;

/** How samples are written. */
interface SampleForm {
	channels: number;
	rate: number;
	/** Bytes of one sample of one channel. */
	size: number;
	float: boolean;
}

/** Do the first twelve bytes begin a wave file (RIFF, or RF64 for large ones)? */
export function isWav(head: Uint8Array): boolean {
	return /^(RIFF|RF64)[^]{4}WAVE/.test(ascii(head, 0, FORM));
}

/**
 * Push reader for wave files: PCM of 8, 16, 24 and 32 bits, floats of 32 and 64, extensible or not. Each channel is one analogue line from
 * -1 to 1; the unit of time is a thousandth of a sample. A piece of a sample is held at the most.
 */
export class WavReader implements RecordingReader {
	private carry: Uint8Array = new Uint8Array(0);
	private offset = 0;
	private form: SampleForm | undefined;
	/** What the bytes to come are: a chunk's head, a chunk to pass over, the format, or samples. */
	private state: 'start' | 'head' | 'skip' | 'format' | 'samples' | 'done' = 'start';
	/** Bytes of the chunk that are still to come; Infinity until the file ends. */
	private left = 0;
	private wide: number | undefined;
	private lines: (SampledLine | undefined)[] = [];
	private samples = 0;
	private readonly loops = openKernels();
	private readonly notes: Note[] = [];

	constructor(
		private readonly sink?: RecordingSink,
		private readonly settings: ReadSettings = {}
	) {}

	feed(chunk: Uint8Array): void {
		const bytes = this.carry.length === 0 ? chunk : joined(this.carry, chunk);
		let at = 0;
		for (let next = this.step(bytes, at); next !== undefined; next = this.step(bytes, at)) at = next;
		this.carry = copied(bytes, at);
		this.offset += at;
	}

	end(): ParsedRecording {
		const { form } = this;
		if (!form) return this.fail('wav-no-format', this.offset + this.carry.length);
		if (this.samples < 2) return this.fail('wav-no-samples', this.offset + this.carry.length);
		if (this.state === 'samples' && Number.isFinite(this.left) && this.left > 0) this.notes.push({ code: 'cut-end' });
		this.countValues();
		const sample = Rational.ratio(1, form.rate);
		const meta = { unit: Rational.of(1n, BigInt(form.rate * PARTS)), start: 0, end: (this.samples - 1) * PARTS };
		const lines = this.lines.flatMap((line, i): ParsedLine[] => {
			const name = lineSettings(this.settings, i).name ?? `channel ${i + 1}`;
			if (line?.flat) this.notes.push({ code: 'flat-line', name });
			return line ? [line.finish(i, name, meta, sample)] : [];
		});
		if (lines.length === 0) return this.fail('nothing-taken', 0);
		const step = stepOf(this.settings);
		return {
			format: 'wav',
			...meta,
			resolution: step ?? sample,
			stepFrom: step ? 'hand' : 'sample',
			lines,
			notes: this.notes
		};
	}

	/** Takes the next part of bytes[at..) if it is whole. Returns where the one behind it begins; undefined: more must come. */
	private step(bytes: Uint8Array, at: number): number | undefined {
		const here = bytes.length - at;
		switch (this.state) {
			case 'start':
				if (here < FORM) return undefined;
				this.state = 'head';
				return at + FORM;
			case 'head':
				return here < CHUNK ? undefined : this.open(bytes, at);
			case 'skip': {
				if (here === 0) return undefined;
				const past = Math.min(here, this.left);
				this.left -= past;
				if (this.left === 0) this.state = 'head';
				return at + past;
			}
			case 'format':
				if (here < this.left) return undefined;
				this.readFormat(bytes, at);
				this.state = 'head';
				return at + this.left;
			case 'samples':
				return this.readSamples(bytes, at);
			case 'done':
				return here > 0 ? bytes.length : undefined;
		}
	}

	private open(bytes: Uint8Array, at: number): number {
		const name = ascii(bytes, at, at + 4);
		const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(at + 4, true);
		const even = length + (length % 2);
		if (name === 'fmt ') {
			if (length < 16 || length > LARGEST_FORMAT) this.fail('wav-format', this.offset + at, { length });
			this.state = 'format';
			this.left = even;
		} else if (name === 'data') {
			if (!this.form) this.fail('wav-no-format', this.offset + at);
			this.state = 'samples';
			this.left = length === OPEN || length === 0 ? (this.wide ?? Infinity) : length;
		} else if (name === 'ds64' && length >= 16 && bytes.length - at >= CHUNK + 16) {
			const view = new DataView(bytes.buffer, bytes.byteOffset + at + CHUNK);
			this.wide = view.getUint32(8, true) + view.getUint32(12, true) * 2 ** 32;
			this.pass(even);
		} else this.pass(even);
		return at + CHUNK;
	}

	private pass(length: number): void {
		this.left = length;
		this.state = length === 0 ? 'head' : 'skip';
	}

	private readFormat(bytes: Uint8Array, at: number): void {
		const view = new DataView(bytes.buffer, bytes.byteOffset + at, this.left);
		const tag = view.getUint16(0, true);
		const kind = tag === EXTENSIBLE && this.left >= 26 ? view.getUint16(24, true) : tag;
		const [channels, rate, bits] = [view.getUint16(2, true), view.getUint32(4, true), view.getUint16(14, true)];
		const known = kind === PCM ? [8, 16, 24, 32] : kind === FLOAT ? [32, 64] : [];
		if (!known.includes(bits) || channels === 0 || channels > MOST_CHANNELS || rate === 0)
			this.fail('wav-samples', this.offset + at, { kind, bits, channels, rate });
		this.form = { channels, rate, size: bits / 8, float: kind === FLOAT };
		this.lines = Array.from({ length: channels }, (_, i) => {
			const told = lineSettings(this.settings, i);
			if (told.as === 'nothing') return undefined;
			return new SampledLine(lineSink(this.sink, i), { as: told.as ?? 'analogue', slicing: slicingOf(told) });
		});
	}

	private readSamples(bytes: Uint8Array, from: number): number | undefined {
		const { channels, size } = this.form!;
		const frame = channels * size;
		const frames = Math.floor(Math.min(bytes.length - from, this.left) / frame);
		if (frames === 0) {
			if (this.left >= frame || bytes.length - from < this.left) return undefined;
			this.state = 'done';
			return from + this.left;
		}
		const { column, input } = this.loops;
		const most = Math.min(Math.floor(input.length / frame), column.length);
		for (let done = 0; done < frames; done += most) {
			const here = Math.min(most, frames - done);
			const at = from + done * frame;
			this.readFrames(bytes.subarray(at, at + here * frame), here, this.samples + done);
		}
		this.samples += frames;
		this.left -= frames * frame;
		if (this.left === 0) this.state = 'done';
		return from + frames * frame;
	}

	/** Whole frames, as many as the loops' memory holds, the first of which is the file's sample of that number. */
	private readFrames(bytes: Uint8Array, frames: number, first: number): void {
		const { channels, size, float } = this.form!;
		const { code, column, input } = this.loops;
		const frame = channels * size;
		const counted = !float && size <= 2;
		this.lines.forEach((line, channel) => {
			const fill = (into: Float32Array, from: number) => {
				input.set(bytes.subarray(from * frame, (from + into.length) * frame));
				code.column(channel, channels, into.length, size, float ? 1 : 0, channel);
				into.set(column.subarray(0, into.length));
			};
			if (line?.binary) {
				const all = new Float32Array(frames);
				fill(all, 0);
				all.forEach((value, i) => line.add((first + i) * PARTS, value, -Infinity));
			} else line?.addRun({ first: first * PARTS, step: PARTS, count: frames, fill, counted });
		});
	}

	/** Values of one or two bytes were counted by the loops: the outermost first, so that bins span the whole. */
	private countValues(): void {
		const { size, float } = this.form!;
		if (float || size > 2) return;
		const [values, middle, scale] = size === 1 ? [256, 128, 128] : [65_536, 32_768, 32_768];
		this.lines.forEach((line, channel) => {
			if (!line || line.binary) return;
			const counts = this.loops.values.subarray(channel * 65_536, channel * 65_536 + values);
			const [least, most] = [counts.findIndex((count) => count > 0), counts.findLastIndex((count) => count > 0)];
			for (const i of [least, most]) line.addCounted((i - middle) / scale, i === least ? counts[least] : most > least ? counts[most] : 0);
			for (let i = least + 1; i < most; i++) if (counts[i] > 0) line.addCounted((i - middle) / scale, counts[i]);
		});
	}

	private fail(code: string, byte: number, details?: FormatDetails): never {
		throw new FormatError(code, 0, byte, details);
	}
}
