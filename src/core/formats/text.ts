import { joined } from './bytes.js';

/** Every runtime has them; the core's own types know nothing beyond the language. */
const { TextDecoder: Decoder, TextEncoder: Encoder } = globalThis as unknown as {
	TextDecoder: new (
		label: string,
		options?: { ignoreBOM?: boolean }
	) => { decode(bytes?: Uint8Array, options?: { stream: boolean }): string };
	TextEncoder: new () => { encode(text: string): Uint8Array };
};

type Wide = 'utf-16le' | 'utf-16be';

/** How a text begins: bytes of its mark, and its characters where they are not single bytes. */
export interface TextStart {
	mark: number;
	wide: Wide | undefined;
}

/** Looks at the first four bytes, or all there are: a byte order mark tells, and without one a zero in every second byte. */
export function startOf(head: Uint8Array): TextStart {
	const [a, b, c, d] = head;
	if (a === 0xef && b === 0xbb && c === 0xbf) return { mark: 3, wide: undefined };
	if (a === 0xff && b === 0xfe) return { mark: 2, wide: 'utf-16le' };
	if (a === 0xfe && b === 0xff) return { mark: 2, wide: 'utf-16be' };
	if (isLetter(a) && b === 0 && isLetter(c) && d === 0) return { mark: 0, wide: 'utf-16le' };
	if (a === 0 && isLetter(b) && c === 0 && isLetter(d)) return { mark: 0, wide: 'utf-16be' };
	return { mark: 0, wide: undefined };
}

/** Can a text hold such a character? */
function isLetter(byte: number): boolean {
	return byte >= 32 || (byte >= 9 && byte <= 13);
}

/** Turns a text of two bytes a character into UTF-8, piece by piece. */
export class WideText {
	private readonly decoder: InstanceType<typeof Decoder>;
	private readonly encoder = new Encoder();
	private readonly swap: boolean;
	private odd: number | undefined;

	constructor(wide: Wide) {
		this.swap = wide === 'utf-16be';
		this.decoder = new Decoder('utf-16le');
	}

	feed(chunk: Uint8Array): Uint8Array {
		const bytes = this.odd === undefined ? chunk : joined(Uint8Array.of(this.odd), chunk);
		const even = bytes.length - (bytes.length % 2);
		this.odd = even < bytes.length ? bytes[even] : undefined;
		const whole = this.swap ? swapped(bytes.subarray(0, even)) : bytes.subarray(0, even);
		return this.encoder.encode(this.decoder.decode(whole, { stream: true }));
	}

	end(): Uint8Array {
		return this.encoder.encode(this.decoder.decode());
	}
}

function swapped(bytes: Uint8Array): Uint8Array {
	return bytes.map((_, i) => bytes[i ^ 1]);
}
