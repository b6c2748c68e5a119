import { gcdSafe } from '../exact/index.js';

/**
 * Rising whole numbers as bytes: of the steps between them, those of even and of odd place each less their least, over what divides all
 * of them, in blocks of 128 of as many bits as the block's greatest needs. The two widths of a steady pulse come to nothing that way, and
 * those of a sampled one to a bit or two; a long pause costs only its own block. Nothing is searched or modelled, so both ways are one loop.
 */
const BLOCK = 128;
/** The width of a block whose steps are too large for 32 bits: it holds doubles. */
const LONG = 64;
const POWERS = Array.from({ length: 41 }, (_, i) => 2 ** i);

/** Of offsets that begin with 0: bytes of their steps, to be read with as many offsets. */
export function packSteps(offsets: ArrayLike<number>): Uint8Array {
	const count = offsets.length - 1;
	if (count < 1) return new Uint8Array(0);
	const least = [Infinity, Infinity];
	for (let i = 0; i < count; i++) least[i & 1] = Math.min(least[i & 1], offsets[i + 1] - offsets[i]);
	if (count === 1) least[1] = 0;
	let unit = 0;
	for (let i = 0; i < count && unit !== 1; i++) {
		const over = offsets[i + 1] - offsets[i] - least[i & 1];
		if (unit === 0 || over % unit !== 0) unit = gcdSafe(unit, over);
	}
	unit ||= 1;
	const writer = new BitWriter(24 + Math.ceil(count / BLOCK) * (BLOCK * 8 + 1));
	for (const value of [least[0], least[1], unit]) writer.double(value);
	for (let from = 0; from < count; from += BLOCK) {
		const to = Math.min(count, from + BLOCK);
		let most = 0;
		for (let i = from; i < to; i++) most = Math.max(most, (offsets[i + 1] - offsets[i] - least[i & 1]) / unit);
		const width = most > 0xffffffff ? LONG : 32 - Math.clz32(most);
		writer.byte(width);
		for (let i = from; i < to; i++) {
			const over = (offsets[i + 1] - offsets[i] - least[i & 1]) / unit;
			if (width === LONG) writer.double(over);
			else writer.bits(over, width);
		}
		writer.align();
	}
	return writer.bytes();
}

/** Reads the steps of `count` offsets from bytes[at..) into offsets from 0 on. Throws RangeError when the bytes are too few. */
export function unpackSteps(bytes: Uint8Array, at: number, count: number): { offsets: Float64Array; end: number } {
	const offsets = new Float64Array(count);
	if (count < 2) return { offsets, end: at };
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	const even = view.getFloat64(at, true);
	const odd = view.getFloat64(at + 8, true);
	const unit = view.getFloat64(at + 16, true);
	let here = at + 24;
	let sum = 0;
	for (let from = 0; from < count - 1; from += BLOCK) {
		const to = Math.min(count - 1, from + BLOCK);
		const width = view.getUint8(here++);
		if (width === 0) for (let i = from; i < to; i++) offsets[i + 1] = sum += i & 1 ? odd : even;
		else if (width === LONG) {
			for (let i = from; i < to; i++, here += 8) offsets[i + 1] = sum += view.getFloat64(here, true) * unit + (i & 1 ? odd : even);
		} else if (width > 32) throw new RangeError(`steps of ${width} bits at byte ${here - 1}`);
		else {
			const end = here + Math.ceil(((to - from) * width) / 8);
			if (end > bytes.length) throw new RangeError(`steps end at byte ${bytes.length}`);
			let held = 0;
			let have = 0;
			const scale = POWERS[width];
			for (let i = from; i < to; i++) {
				// At most 32 + 7 bits are held: exact in a double.
				while (have < width) {
					held += bytes[here++] * POWERS[have];
					have += 8;
				}
				const rest = Math.floor(held / scale);
				offsets[i + 1] = sum += (held - rest * scale) * unit + (i & 1 ? odd : even);
				held = rest;
				have -= width;
			}
			here = end;
		}
	}
	return { offsets, end: here };
}

class BitWriter {
	private readonly buffer: Uint8Array;
	private readonly view: DataView;
	private at = 0;
	private held = 0;
	private have = 0;

	constructor(most: number) {
		this.buffer = new Uint8Array(most);
		this.view = new DataView(this.buffer.buffer);
	}

	byte(value: number): void {
		this.buffer[this.at++] = value;
	}

	double(value: number): void {
		this.view.setFloat64(this.at, value, true);
		this.at += 8;
	}

	/** A whole number of at most 32 bits, the least bit first. */
	bits(value: number, width: number): void {
		this.held += value * POWERS[this.have];
		this.have += width;
		while (this.have >= 8) {
			const rest = Math.floor(this.held / 256);
			this.buffer[this.at++] = this.held - rest * 256;
			this.held = rest;
			this.have -= 8;
		}
	}

	/** Ends the byte at hand. */
	align(): void {
		if (this.have > 0) this.buffer[this.at++] = this.held;
		this.held = 0;
		this.have = 0;
	}

	bytes(): Uint8Array {
		return this.buffer.slice(0, this.at);
	}
}
