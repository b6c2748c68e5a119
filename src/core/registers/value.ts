import { readAs, type As } from './code.js';
import { readDoings, type Doing } from './doing.js';
import { wanted, wants } from './findings.js';
import { knownKeys } from './like.js';
import { isPlain, maskOf, ones, readNumber, widthOf, type Plain } from './numbers.js';
import { readPlace, type Place, type Scope } from './place.js';

/** Where a quantity lives and how it is written (handoff.md 3). */
export interface Value {
	quantity: string;
	/** One number cut in pieces, the high piece first; empty where nothing can be read back. */
	pieces: Place[];
	/** Bits of all pieces. */
	width: number;
	writeLastFirst: boolean;
	readLastFirst: boolean;
	as: As;
	before: Doing[];
	after: Doing[];
	/** By the text of a value: these are done in place of writing it. */
	do?: Map<string, Doing[]>;
	/** Of `run`: it runs while that quantity's place holds any code but `off`. */
	with?: { quantity: string; off: bigint };
}

export interface ValueScope extends Scope {
	/** All values of the unit as they were written. */
	values: Plain;
}

const KEYS = ['in', 'as', 'write', 'read', 'before', 'after', 'do', 'with', 'off'];
/** Bits of a value at the most. */
const WIDEST = 64;

/** Reads one value. Throws Fault. */
export function readValue(raw: unknown, quantity: string, scope: ValueScope): Value {
	const own: Plain = isPlain(raw) ? raw : { in: raw };
	knownKeys(own, KEYS);
	for (const key of ['write', 'read']) wants(own[key] === undefined || own[key] === 'last-first', 'bad-shape');
	if (own.with !== undefined || own.off !== undefined) return readWith(own, quantity, scope);
	wants(own.in !== undefined || (own.do !== undefined && own.as === undefined), 'bad-shape');
	const pieces = own.in === undefined ? [] : readPieces(own.in, scope);
	const width = pieces.reduce((sum, piece) => sum + widthOf(piece), 0);
	wants(width <= WIDEST, 'outside');
	wants(!twice(pieces), 'overlap');
	const code = own.do === undefined;
	const doings = own.do === undefined ? undefined : readDo(own.do, scope);
	return {
		quantity,
		pieces,
		width,
		writeLastFirst: own.write === 'last-first',
		readLastFirst: own.read === 'last-first',
		as: readAs(own.as, width),
		before: readDoings(own.before, scope, { code }),
		after: readDoings(own.after, scope, { code }),
		...(doings && { do: doings })
	};
}

function readPieces(raw: unknown, scope: Scope): Place[] {
	const texts = Array.isArray(raw) ? raw : [raw];
	wants(texts.length > 0, 'bad-shape');
	return texts.map((text) => readPlace(text, scope));
}

function twice(pieces: readonly Place[]): boolean {
	const used = new Map<string, bigint>();
	return pieces.some((piece) => {
		const before = used.get(piece.register.key) ?? 0n;
		used.set(piece.register.key, before | maskOf(piece));
		return (before & maskOf(piece)) !== 0n;
	});
}

function readDo(raw: unknown, scope: Scope): Map<string, Doing[]> {
	wants(isPlain(raw), 'bad-shape');
	return new Map(Object.entries(raw).map(([value, doings]) => [value, readDoings(doings, scope, { code: false })]));
}

/** `run` alone may hang on another quantity, which has a place of its own. */
function readWith(own: Plain, quantity: string, scope: ValueScope): Value {
	wants(quantity === 'run' && typeof own.with === 'string', 'bad-shape');
	wants(own.in === undefined && own.as === undefined && own.do === undefined, 'bad-shape');
	const off = wanted(readNumber(own.off));
	wants(Object.hasOwn(scope.values, own.with), 'unknown-name');
	const raw = scope.values[own.with];
	const named: Plain = isPlain(raw) ? raw : { in: raw };
	wants(named.in !== undefined && named.with === undefined, 'bad-shape');
	const pieces = readPieces(named.in, scope);
	wants(off <= ones(pieces.reduce((sum, piece) => sum + widthOf(piece), 0)), 'no-fit');
	return {
		quantity,
		pieces: [],
		width: 0,
		writeLastFirst: false,
		readLastFirst: false,
		as: { kind: 'plain' },
		before: readDoings(own.before, scope, { code: true }),
		after: readDoings(own.after, scope, { code: true }),
		with: { quantity: own.with, off }
	};
}
