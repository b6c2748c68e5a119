import { decodeText } from '../bytes.js';
import type { Note } from '../recording.js';
import type { ReadSettings } from '../settings.js';
import type { Dialect } from './dialect.js';
import type { TimeCells } from './timeCells.js';
import { dateOrder } from './times.js';

/** Longest line of a file of rows, in bytes: one is held at the most. */
export const LONGEST_LINE = 1_048_576;
/** The dialect is found from so many lines, or bytes, or the whole file. */
const SAMPLE_LINES = 256;
const SAMPLE_BYTES = 65_536;
/** With fewer lines than these more is looked at, up to the longest line. */
const FEW_LINES = 3;
const NEWLINE = 10;
const RETURN = 13;

/** What the way that a file is written leaves to be told, or asked. */
export function openingNotes(
	{ named, timeUnitSaid, unknownUnit, decimalGuessed, timeKind, times, names, indexColumn }: Dialect,
	{ origin }: TimeCells,
	told: ReadSettings
): Note[] {
	const notes: Note[] = [];
	if (!named) notes.push({ code: 'no-names' });
	if (told.timeExponent === undefined && unknownUnit !== undefined) notes.push({ code: 'time-unit-unknown', name: unknownUnit });
	else if (told.timeExponent === undefined && !timeUnitSaid && timeKind === 'number') notes.push({ code: 'time-assumed-seconds' });
	if (decimalGuessed && told.decimal === undefined) notes.push({ code: 'decimal-guessed' });
	if (timeKind === 'dated' && dateOrder(times) === undefined && told.dateOrder === undefined) notes.push({ code: 'date-order-guessed' });
	if (origin !== undefined) notes.push({ code: 'origin', name: origin });
	if (indexColumn !== undefined) notes.push({ code: 'index-column', name: names[indexColumn] });
	return notes;
}

/** Where the sample that tells how a file is written ends: behind so many lines, or so many bytes; undefined: more must come. */
export function sampleEnd(bytes: Uint8Array, lineEnd: number, all: boolean): number | undefined {
	let end = 0;
	for (let lines = 0; ; lines++) {
		const at = bytes.indexOf(lineEnd, end) + 1;
		const past = at === 0 ? bytes.length : at;
		if (lines >= FEW_LINES && past > SAMPLE_BYTES) return end;
		if (at === 0) return all ? bytes.length : bytes.length > LONGEST_LINE ? end || bytes.length : undefined;
		if (lines + 1 === SAMPLE_LINES) return at;
		end = at;
	}
}

/** Text of bytes[at..stop), at most 4096 bytes of it. */
export function textOf(bytes: Uint8Array, at: number, stop: number): string {
	return decodeText(bytes.subarray(at, Math.min(stop, at + 4096)));
}

export function lineEndOf(bytes: Uint8Array, at: number): number {
	const end = bytes.indexOf(NEWLINE, at);
	return end < 0 ? bytes.length : end + 1;
}

/** A copy in which carriage returns are line ends. */
export function withNewlines(bytes: Uint8Array): Uint8Array {
	return bytes.map((byte) => (byte === RETURN ? NEWLINE : byte));
}
