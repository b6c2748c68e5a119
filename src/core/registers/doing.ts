import { wanted, wants } from './findings.js';
import { ones, readNumber, widthOf } from './numbers.js';
import { readPlace, type Place, type Scope } from './place.js';

/** What surrounds a write, or stands for one (handoff.md 4): it writes a place, or waits until it holds a code. */
export interface Doing {
	kind: 'write' | 'wait';
	place: Place;
	/** "code": the one just encoded. */
	code: bigint | 'code';
}

/** A text or a list of texts: "PLACE=CODE", "PLACE==CODE". `code`: may a code be the word `code`? Throws Fault. */
export function readDoings(raw: unknown, scope: Scope, { code }: { code: boolean }): Doing[] {
	if (raw === undefined) return [];
	const texts = typeof raw === 'string' ? [raw] : raw;
	wants(Array.isArray(texts), 'bad-shape');
	return texts.map((text) => {
		wants(typeof text === 'string', 'bad-shape');
		return readDoing(text, scope, code);
	});
}

function readDoing(text: string, scope: Scope, mayBeCode: boolean): Doing {
	const match = wanted(/^([^=]+?)\s*(==?)\s*([^=\s]+)$/.exec(text.trim()) ?? undefined);
	const kind = match[2] === '==' ? 'wait' : 'write';
	if (match[3] === 'code') {
		wants(mayBeCode, 'bad-shape');
		return { kind, place: readPlace(match[1], scope), code: 'code' };
	}
	const number = wanted(readNumber(match[3]));
	const place = readPlace(match[1], scope);
	wants(number <= ones(widthOf(place)), 'no-fit');
	wants(kind === 'wait' || place.register.write !== 'any-clears' || number === 0n, 'no-fit');
	return { kind, place, code: number };
}
