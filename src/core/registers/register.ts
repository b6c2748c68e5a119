import { readDefaults, type Defaults } from './defaults.js';
import type { Block } from './binding.js';
import { readDoings, type Doing } from './doing.js';
import { reading, wanted, wants, type Faults } from './findings.js';
import { knownKeys } from './like.js';
import { isPlain, maskOf, ones, readNumber, readRange, widthOf, type Plain, type Range } from './numbers.js';

/** A register with its rules (handoff.md 2); masks and words as bigints of its bits. */
export interface Register {
	/** "BLOCK.REG". */
	key: string;
	block: string;
	address: number;
	bits: number;
	bytes: 'low' | 'high';
	/** It is reached byte by byte, in this order. */
	bytewise?: 'high-first' | 'low-first';
	reset?: bigint;
	/** Bits of `reset` that are known. */
	known: bigint;
	write?: 'whole' | 'only' | 'any-clears';
	/** Reading clears its flags. */
	readClears: boolean;
	/** Bits in which a 1 (a 0) does something and the other leaves it alone. */
	oneActs: bigint;
	zeroActs: bigint;
	/** Bits that are written so in every write. */
	always: { mask: bigint; value: bigint };
	fields: Map<string, Range>;
	/** Right before, and right after, each write. */
	unlock: Doing[];
	lock: Doing[];
	raw: Plain;
}

const KEYS = [
	'at',
	'bits',
	'bytes',
	'bytewise',
	'reset',
	'known',
	'write',
	'read',
	'1-acts',
	'0-acts',
	'always',
	'unlock',
	'lock',
	'fields'
];
const NAME = /^[A-Za-z_][A-Za-z0-9_]*$/;

/** Reads a register all but its unlocks and locks, which speak of others. Throws Fault. */
export function readRegister(raw: unknown, key: string, base: number, defaults: Defaults): Register {
	const own: Plain = isPlain(raw) ? raw : { at: raw };
	knownKeys(own, KEYS);
	const at = wanted(readNumber(own.at));
	const { bits, bytes } = readDefaults(own, defaults);
	const { bytewise, write, read } = own;
	wants(bytewise === undefined || bytewise === 'high-first' || bytewise === 'low-first', 'bad-shape');
	wants(bits !== 24 || bytewise !== undefined, 'bad-shape');
	wants(write === undefined || write === 'whole' || write === 'only' || write === 'any-clears', 'bad-shape');
	wants(read === undefined || read === 'clears', 'bad-shape');
	const address = BigInt(base) + at;
	wants(address + BigInt(bits / 8) <= 2n ** 32n, 'outside');
	wants(bytewise !== undefined || address % BigInt(bits / 8) === 0n, 'unaligned');
	const [oneActs, zeroActs] = [actsOf(own['1-acts'], bits), actsOf(own['0-acts'], bits)];
	wants((oneActs & zeroActs) === 0n, 'overlap');
	for (const doings of [own.unlock, own.lock]) wants(doings === undefined || isDoings(doings), 'bad-shape');
	return {
		key,
		block: key.split('.')[0],
		address: Number(address),
		bits,
		bytes,
		...(bytewise !== undefined && { bytewise }),
		...resetOf(own, bits),
		...(write !== undefined && { write }),
		readClears: read === 'clears',
		oneActs,
		zeroActs,
		always: alwaysOf(own.always, bits),
		fields: fieldsOf(own.fields, bits),
		unlock: [],
		lock: [],
		raw: own
	};
}

const isDoings = (raw: unknown) => typeof raw === 'string' || (Array.isArray(raw) && raw.every((one) => typeof one === 'string'));

/** A range inside a register. Throws Fault. */
export function rangeWithin(raw: unknown, bits: number): Range {
	const range = wanted(readRange(raw));
	wants(range.high >= range.low && range.high < bits, 'outside');
	return range;
}

function actsOf(raw: unknown, bits: number): bigint {
	if (raw === undefined) return 0n;
	if (raw === 'all') return ones(bits);
	wants(typeof raw === 'string', 'bad-shape');
	return raw.split(',').reduce((mask, part) => mask | maskOf(rangeWithin(part, bits)), 0n);
}

function resetOf({ reset, known }: Plain, bits: number): { reset?: bigint; known: bigint } {
	wants(known === undefined || reset !== undefined, 'bad-shape');
	if (reset === undefined) return { known: 0n };
	const value = wanted(readNumber(reset));
	const mask = known === undefined ? ones(bits) : wanted(readNumber(known));
	wants(value <= ones(bits) && mask <= ones(bits), 'no-fit');
	return { reset: value, known: mask };
}

function alwaysOf(raw: unknown, bits: number): Register['always'] {
	wants(raw === undefined || isPlain(raw), 'bad-shape');
	let [mask, value] = [0n, 0n];
	for (const [key, number] of Object.entries(raw ?? {})) {
		const range = rangeWithin(key, bits);
		const code = wanted(readNumber(number));
		wants(code <= ones(widthOf(range)), 'no-fit');
		mask |= maskOf(range);
		value = (value & ~maskOf(range)) | (code << BigInt(range.low));
	}
	return { mask, value };
}

function fieldsOf(raw: unknown, bits: number): Map<string, Range> {
	wants(raw === undefined || isPlain(raw), 'bad-shape');
	const fields = new Map<string, Range>();
	for (const [name, range] of Object.entries(raw ?? {})) {
		wants(NAME.test(name), 'bad-shape');
		fields.set(name, rangeWithin(range, bits));
	}
	return fields;
}

/** Every register, block by block. */
export function registersOf({ blocks }: { blocks: ReadonlyMap<string, Block> }): Register[] {
	return [...blocks.values()].flatMap(({ registers }) => [...registers.values()]);
}

/** Reads what surrounds each register's writes. */
export function readLocks(blocks: ReadonlyMap<string, Block>, faults: Faults): void {
	for (const register of registersOf({ blocks })) {
		reading(faults, register.key, () => {
			const scope = { blocks, own: register.block };
			register.unlock = readDoings(register.raw.unlock, scope, { code: false });
			register.lock = readDoings(register.raw.lock, scope, { code: false });
		});
	}
}

/** Registers whose unlocks or locks lead into a circle. */
export function lockCircles(blocks: ReadonlyMap<string, Block>): Register[] {
	const next = ({ unlock, lock }: Register) =>
		[...unlock, ...lock].flatMap(({ kind, place }) => (kind === 'write' ? [place.register] : []));
	const state = new Map<Register, 'open' | 'clear' | 'circle'>();
	const visit = (register: Register): boolean => {
		const known = state.get(register);
		if (known) return known !== 'clear';
		state.set(register, 'open');
		const circle = next(register)
			.map((one) => visit(one))
			.some(Boolean);
		state.set(register, circle ? 'circle' : 'clear');
		return circle;
	};
	return registersOf({ blocks }).filter((register) => visit(register));
}
