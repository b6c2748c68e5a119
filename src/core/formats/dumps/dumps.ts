import { decodeText } from '../bytes.js';
import { startOf, WideText } from '../text.js';

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
	/** What bytes that stand together are: as they lie in memory, or words with the lowest byte last. The two look the same. */
	grouped?: 'bytes' | 'words';
}

export interface DumpPart {
	address: number;
	bytes: number[];
	/** From 1. */
	line: number;
}

export type DumpTrouble =
	| 'checksum'
	| 'length'
	| 'wraps'
	| 'no-end'
	| 'count'
	| 'not-read'
	| 'unknown-name'
	| 'no-address'
	| 'unmarked'
	| 'grouped'
	| 'offsets'
	| 'too-long';

export interface ReadDump {
	shape: 'words' | 'hex-dump' | 'colon-records' | 's-records';
	parts: DumpPart[];
	troubles: { line: number; trouble: DumpTrouble }[];
}

/** Lines of a dump at the most. */
export const MOST_DUMP_LINES = 200_000;

/** Reads a dump in whatever shape it is. */
export function readDump(text: string, options: DumpOptions): ReadDump {
	const all = text.split(/\r\n|\r|\n/);
	const lines = all.slice(0, MOST_DUMP_LINES);
	const read = readLines(lines, options);
	if (all.length > lines.length) read.troubles.push({ line: lines.length + 1, trouble: 'too-long' });
	return read;
}

function readLines(lines: readonly string[], options: DumpOptions): ReadDump {
	const filled = lines.map((line) => line.trim()).filter((line) => line !== '');
	const first = filled.at(0) ?? '';
	if (first.startsWith(':')) return colonRecords(lines);
	if (/^S[0-9][0-9A-Fa-f]{2,}/.test(first)) return sRecords(lines);
	const look = hexLook(filled);
	return look ? hexDump(lines, look, options) : typedWords(lines, options);
}

/** The text of a file that holds a dump; of bytes that are no text, a hex dump of them. */
export function dumpText(bytes: Uint8Array): string {
	const { mark, wide } = startOf(bytes);
	if (wide && mark > 0) return decodeText(new WideText(wide).feed(bytes.subarray(mark)));
	if (bytes.every((byte) => byte >= 32 || (byte >= 9 && byte <= 13))) return decodeText(bytes);
	const rows = Math.ceil(bytes.length / BYTES_IN_ROW);
	const line = (row: number) => {
		const at = row * BYTES_IN_ROW;
		return `${digits(at, 8)}  ${[...bytes.subarray(at, at + BYTES_IN_ROW)].map((byte) => digits(byte, 2)).join(' ')}\n`;
	};
	return Array.from({ length: rows }, (_, row) => line(row)).join('');
}

const BYTES_IN_ROW = 16;
const digits = (value: number, count: number) => value.toString(16).padStart(count, '0');

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

/** How a hex dump looks: digits that stand together, and the base of its offsets. */
interface HexLook {
	together: 2 | 4 | 8;
	radix: 16 | 8;
}

/** undefined: it is none. Offsets of seven digits are often octal; those of the first two lines tell. */
function hexLook(lines: readonly string[]): HexLook | undefined {
	const match = /^([0-9a-fA-F]{6,8}):?\s+([0-9a-fA-F]{2}|[0-9a-fA-F]{4}|[0-9a-fA-F]{8})(?:\s+|$)/.exec(lines.at(0) ?? '');
	if (!match) return undefined;
	const together = match[2].length as HexLook['together'];
	const [own, next] = lines.slice(0, 2).map((line) => hexLine(line, together));
	const count = own ? own.groups.join('').length / 2 : 0;
	if (!own || count < 2) return undefined;
	const follows = (radix: number) => next !== undefined && parseInt(next.offset, radix) === parseInt(own.offset, radix) + count;
	const radix = own.offset.length === 7 && follows(8) ? 8 : 16;
	// Words may look like groups; offsets begin at 0, or go on by what a line holds.
	return together === 2 || parseInt(own.offset, 16) === 0 || follows(radix) ? { together, radix } : undefined;
}

/** Offset and groups of a line; a last group may be shorter. Behind an offset with a colon, two spaces end the groups. */
function hexLine(line: string, together: number): { offset: string; groups: string[] } | undefined {
	const text = line.replace(/\|.*$/, '').trim();
	const match = /^([0-9a-fA-F]{6,8})(:?)(?:\s+(.*))?$/.exec(text);
	if (!match) return undefined;
	const [, offset, colon, rest = ''] = match;
	const words = (colon === '' || together === 2 ? rest : rest.replace(/\s\s.*$/, '')).split(/\s+/);
	const ends = words.findIndex((word) => !/^(?:[0-9a-fA-F]{2})+$/.test(word) || word.length > together);
	return { offset, groups: ends < 0 ? words : words.slice(0, ends) };
}

/** Offset, then bytes; `*` repeats the line before; a last line of an offset alone ends it. */
function hexDump(lines: readonly string[], { together, radix }: HexLook, { base, grouped }: DumpOptions): ReadDump {
	const read: ReadDump = { shape: 'hex-dump', parts: [], troubles: [] };
	let last: DumpPart | undefined;
	let repeats = false;
	if (together > 2 && grouped === undefined) return { ...read, troubles: [{ line: 1, trouble: 'grouped' }] };
	for (const [i, raw] of lines.entries()) {
		const line = i + 1;
		if (raw.trim() === '') continue;
		if (raw.trim() === '*') {
			repeats = true;
			continue;
		}
		const match = hexLine(raw, together);
		if (!match) {
			read.troubles.push({ line, trouble: 'not-read' });
			continue;
		}
		const offset = parseInt(match.offset, radix);
		if (!last && offset === 0 && base === undefined) read.troubles.push({ line, trouble: 'offsets' });
		const address = (base ?? 0) + offset;
		if (repeats && last) {
			const { bytes, line: from } = last;
			const rows = bytes.length > 0 ? Math.ceil((address - last.address) / bytes.length) - 1 : 0;
			if (rows > MOST_DUMP_LINES) read.troubles.push({ line, trouble: 'too-long' });
			for (let row = 1; row <= Math.min(rows, MOST_DUMP_LINES); row++)
				read.parts.push({ address: last.address + row * bytes.length, bytes, line: from });
		}
		repeats = false;
		const bytes = match.groups.flatMap((group) => (grouped === 'words' ? hexBytes(group).reverse() : hexBytes(group)));
		last = { address, bytes, line };
		if (bytes.length > 0) read.parts.push(last);
	}
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
