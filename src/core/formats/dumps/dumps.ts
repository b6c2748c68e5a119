/**
 * Dumps of memory as they reach us (handoff-notes.md 4): words typed or printed by a debugger, hex dumps, records that begin with `:` or `S`, and
 * plain bytes. All become bytes by address, each with the line that it came from.
 */
export interface DumpOptions {
	/** Where a dump without addresses, or with offsets alone, begins. */
	base?: number;
	/** Which byte of a word lies at its lowest address. */
	order: 'low' | 'high';
	/** Address and width of registers that are named. */
	register?: (name: string) => { address: number; bits: number } | undefined;
	/** Words without a mark are hexadecimal. */
	hex?: boolean;
}

export interface DumpPart {
	address: number;
	bytes: number[];
	/** From 1. */
	line: number;
}

export type DumpTrouble = 'checksum' | 'length' | 'wraps' | 'no-end' | 'count' | 'not-read' | 'unknown-name' | 'no-address' | 'unmarked';

export interface ReadDump {
	shape: 'words' | 'hex-dump' | 'colon-records' | 's-records';
	parts: DumpPart[];
	troubles: { line: number; trouble: DumpTrouble }[];
}

/** Lines of a dump at the most. */
export const MOST_DUMP_LINES = 200_000;

/** Reads a dump in whatever shape it is. */
export function readDump(text: string, options: DumpOptions): ReadDump {
	const lines = text.split(/\r\n|\r|\n/).slice(0, MOST_DUMP_LINES);
	const first = lines.find((line) => line.trim() !== '')?.trim() ?? '';
	if (first.startsWith(':')) return colonRecords(lines);
	if (/^S[0-9][0-9A-Fa-f]{2,}/.test(first)) return sRecords(lines);
	if (/^[0-9a-f]{6,8}(?::|\s)\s+(?:[0-9a-fA-F]{2}\s+){2}/i.test(`${first} `) && !first.startsWith('0x')) return hexDump(lines, options);
	return typedWords(lines, options);
}

const hexBytes = (text: string) => text.match(/../g)?.map((pair) => parseInt(pair, 16)) ?? [];

/** `:LLAAAATT data CC`: the sum of all bytes is 0 in 8 bits. */
function colonRecords(lines: readonly string[]): ReadDump {
	const read: ReadDump = { shape: 'colon-records', parts: [], troubles: [] };
	let [base, ended] = [0, false];
	lines.forEach((raw, i) => {
		const line = i + 1;
		const text = raw.trim();
		const say = (trouble: DumpTrouble) => read.troubles.push({ line, trouble });
		if (text === '' || ended) return;
		if (!/^:(?:[0-9A-Fa-f]{2}){5,}$/.test(text)) return void say('not-read');
		const bytes = hexBytes(text.slice(1));
		if (bytes.length !== bytes[0] + 5) return void say('length');
		if (bytes.reduce((sum, byte) => sum + byte, 0) % 256 !== 0) return void say('checksum');
		const data = bytes.slice(4, -1);
		const at = bytes[1] * 256 + bytes[2];
		const word = () => data[0] * 256 + data[1];
		switch (bytes[3]) {
			case 0:
				if (at + data.length > 0x10000) return void say('wraps');
				read.parts.push({ address: base + at, bytes: data, line });
				return;
			case 1:
				ended = true;
				return;
			case 2:
			case 4:
				if (data.length !== 2) return void say('length');
				base = bytes[3] === 2 ? word() * 16 : word() * 0x10000;
				return;
			case 3:
			case 5:
				return;
			default:
				say('not-read');
		}
	});
	if (!ended) read.troubles.push({ line: lines.length, trouble: 'no-end' });
	return read;
}

/** S0 header, S1 to S3 data with 2 to 4 address bytes, S5 and S6 a count, S7 to S9 an end; count, address, data and check sum to 0xFF. */
function sRecords(lines: readonly string[]): ReadDump {
	const read: ReadDump = { shape: 's-records', parts: [], troubles: [] };
	let records = 0;
	lines.forEach((raw, i) => {
		const line = i + 1;
		const text = raw.trim();
		const say = (trouble: DumpTrouble) => read.troubles.push({ line, trouble });
		if (text === '') return;
		if (!/^S[0-9](?:[0-9A-Fa-f]{2}){3,}$/.test(text)) return void say('not-read');
		const bytes = hexBytes(text.slice(2));
		if (bytes.length !== bytes[0] + 1) return void say('length');
		if (bytes.reduce((sum, byte) => sum + byte, 0) % 256 !== 255) return void say('checksum');
		const kind = Number(text[1]);
		const number = (count: number) => bytes.slice(1, 1 + count).reduce((sum, byte) => sum * 256 + byte, 0);
		if (kind >= 1 && kind <= 3) {
			records++;
			read.parts.push({ address: number(kind + 1), bytes: bytes.slice(kind + 2, -1), line });
		} else if (kind === 5 || kind === 6) {
			if (number(kind - 3) !== records) say('count');
		} else if (kind === 4) say('not-read');
	});
	return read;
}

/** Offset, then bytes in the order of memory; `*` repeats the line before; a last line of an offset alone ends it. */
function hexDump(lines: readonly string[], { base = 0 }: DumpOptions): ReadDump {
	const read: ReadDump = { shape: 'hex-dump', parts: [], troubles: [] };
	let last: DumpPart | undefined;
	let repeats = false;
	lines.forEach((raw, i) => {
		const line = i + 1;
		const text = raw.replace(/\|.*$/, '').trim();
		if (text === '') return;
		if (text === '*') {
			repeats = true;
			return;
		}
		const match = /^([0-9a-fA-F]{6,8}):?((?:\s+[0-9a-fA-F]{2})*)/.exec(text);
		if (!match) return void read.troubles.push({ line, trouble: 'not-read' });
		const address = base + parseInt(match[1], 16);
		if (repeats && last) {
			const { bytes, line: from } = last;
			for (let at = last.address + bytes.length; at < address && bytes.length > 0; at += bytes.length)
				read.parts.push({ address: at, bytes, line: from });
		}
		repeats = false;
		last = { address, bytes: hexBytes(match[2].replaceAll(/\s+/g, '')), line };
		if (last.bytes.length > 0) read.parts.push(last);
	});
	return read;
}

const WORD = /^(?:0x([0-9a-f_']+)|0b([01_']+)|([0-9a-f_']+))$/i;

/**
 * "[name or address] [: or =] word ..": lines as somebody types them, and as debuggers print memory. Digits behind `0x` say how wide a word is;
 * `{NAME = 0x1, ..}` names registers.
 */
function typedWords(lines: readonly string[], options: DumpOptions): ReadDump {
	const read: ReadDump = { shape: 'words', parts: [], troubles: [] };
	let next = options.base;
	lines.forEach((raw, i) => {
		const line = i + 1;
		const text = raw.trim();
		if (text === '' || text.startsWith('#')) return;
		if (/^Cannot access memory/i.test(text)) return;
		const say = (trouble: DumpTrouble) => read.troubles.push({ line, trouble });
		const named = [...text.matchAll(/([A-Za-z_][A-Za-z0-9_.]*)\s*=\s*(0x[0-9a-fA-F]+|0b[01]+|\d+)(?=\s*[,}]|\s*$)/g)];
		if (named.length > 0 && (text.includes('{') || named.length > 1 || /^[A-Za-z_.0-9]+\s*=/.test(text))) {
			for (const [, name, word] of named) {
				const register = options.register?.(name);
				const value = wordOf(word, false);
				if (!register || !value) say('unknown-name');
				else read.parts.push({ address: register.address, bytes: bytesOf(value.value, register.bits / 8, options.order), line });
			}
			return;
		}
		const match = /^(?:(0x[0-9a-fA-F]+)(?:\s*<[^>]*>)?\s*[:=]\s*|([A-Za-z_][A-Za-z0-9_.]*)\s*[:=]\s*)?(.*)$/.exec(text)!;
		const register = match[2] === undefined ? undefined : options.register?.(match[2]);
		if (match[2] !== undefined && !register) return void say('unknown-name');
		let address = match[1] === undefined ? (register?.address ?? next) : Number(match[1]);
		if (address === undefined) return void say('no-address');
		for (const word of match[3].split(/[\s,;]+/).filter((part) => part !== '')) {
			const value = wordOf(word, options.hex ?? false);
			if (value === undefined) return void say(/^[0-9a-f]+$/i.test(word) ? 'unmarked' : 'not-read');
			const size: number = register ? register.bits / 8 : value.bytes;
			read.parts.push({ address, bytes: bytesOf(value.value, size, options.order), line });
			address += size;
		}
		next = address;
	});
	return read;
}

/** A word and the bytes that its digits stand for; undefined for what is none, or hexadecimal without its mark. */
function wordOf(text: string, hex: boolean): { value: bigint; bytes: number } | undefined {
	const match = WORD.exec(text);
	if (!match) return undefined;
	const digits = (match[1] ?? match[2] ?? match[3]).replaceAll(/[_']/g, '');
	const size = (count: number) => [1, 2, 4, 8].find((bytes) => bytes >= count) ?? 8;
	if (match[1] !== undefined || (match[3] !== undefined && hex))
		return { value: BigInt(`0x${digits}`), bytes: size(Math.ceil(digits.length / 2)) };
	if (match[2] !== undefined) return { value: BigInt(`0b${digits}`), bytes: size(Math.ceil(digits.length / 8)) };
	return /^\d+$/.test(digits) ? { value: BigInt(digits), bytes: 4 } : undefined;
}

function bytesOf(value: bigint, size: number, order: 'low' | 'high'): number[] {
	const bytes = Array.from({ length: size }, (_, i) => Number((value >> BigInt(8 * i)) & 0xffn));
	return order === 'low' ? bytes : bytes.reverse();
}
