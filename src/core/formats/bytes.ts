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
	let plain = '';
	let escaped = '';
	for (const byte of bytes) {
		plain += String.fromCharCode(byte);
		escaped += byte < 0x80 && byte !== 0x25 ? String.fromCharCode(byte) : `%${byte.toString(16).padStart(2, '0')}`;
	}
	try {
		return decodeURIComponent(escaped).replace(/^\uFEFF/, '');
	} catch {
		return plain;
	}
}

/** A copy of bytes[from..); a plain slice of a runtime's own buffer type may share its memory. */
export function copied(bytes: Uint8Array, from = 0): Uint8Array {
	return Uint8Array.prototype.slice.call(bytes, from);
}
