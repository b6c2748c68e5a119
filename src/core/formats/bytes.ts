/** Every runtime has it; the core's own types know nothing beyond the language. */
const { TextDecoder: Utf8 } = globalThis as unknown as {
	TextDecoder: new (label: string, options: { fatal: boolean }) => { decode(bytes: Uint8Array): string };
};

/** a and b in one piece. */
export function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
	const both = new Uint8Array(a.length + b.length);
	both.set(a);
	both.set(b, a.length);
	return both;
}

/** Text of bytes[at..stop) for a message or a name, at most 4096 bytes of it, a character a byte. */
export function ascii(bytes: Uint8Array, at: number, stop: number): string {
	return String.fromCharCode(...bytes.subarray(at, Math.min(stop, at + 4096)));
}

/** Text of bytes as UTF-8, or a character a byte where they are not; a byte order mark is dropped. For headings, not for bulk. */
export function decodeText(bytes: Uint8Array): string {
	try {
		return new Utf8('utf-8', { fatal: true }).decode(bytes);
	} catch {
		return Array.from(bytes, (byte) => String.fromCharCode(byte)).join('');
	}
}

/** A copy of bytes[from..); a plain slice of a runtime's own buffer type may share its memory. */
export function copied(bytes: Uint8Array, from = 0): Uint8Array {
	return Uint8Array.prototype.slice.call(bytes, from);
}
