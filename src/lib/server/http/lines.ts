import { shownLine, type ShownLine } from '../recordings/lines.js';
import { BodyError } from './body.js';

/** The line that an address names; undefined when there is none. */
export async function lineOf({ id, line }: { id: string; line: string }): Promise<ShownLine | undefined> {
	return /^\d{1,9}$/.test(line) ? await shownLine(id, Number(line)) : undefined;
}

/** A number of an address. Throws BodyError for what is none. */
export function numberOf(url: URL, name: string, otherwise?: number): number {
	const text = url.searchParams.get(name);
	if (text === null && otherwise !== undefined) return otherwise;
	const value = text === null || text.trim() === '' ? NaN : Number(text);
	if (!Number.isFinite(value) || Math.abs(value) > 1e17) throw new BodyError(400, `“${name}” is no number`);
	return value;
}

/** A window of an address: columns of `width` units from `start` on. */
export function windowOf(url: URL): { start: number; width: number; count: number } {
	const [start, width, count] = [numberOf(url, 'start'), numberOf(url, 'width'), numberOf(url, 'count')];
	if (!(width > 0) || !Number.isInteger(count) || count < 1 || count > 8192)
		throw new BodyError(400, 'a window of 1 to 8192 columns is wanted');
	return { start, width, count };
}

/** Heads of bytes; those of an address that names a state of a line never change, and the browser may keep them. */
export function binary(url: URL): Record<string, string> {
	const cache = url.searchParams.has('v') ? 'private, max-age=31536000, immutable' : 'no-cache';
	return { 'content-type': 'application/octet-stream', 'cache-control': cache };
}
