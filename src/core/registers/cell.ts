import { ones, type Range } from './numbers.js';
import type { Place } from './place.js';
import type { Register } from './register.js';

/** What one access reaches: a whole register, or one of its bytes (handoff.md 2). */
export interface Cell {
	register: Register;
	/** Its bits among the register's: from `low` on, so many. */
	low: number;
	bits: number;
	address: number;
	key: string;
}

/** A register's cells in the order in which they are reached. */
export function cellsOf(register: Register): Cell[] {
	const { key, bits, bytewise, address, bytes } = register;
	if (!bytewise) return [{ register, low: 0, bits, address, key }];
	const count = bits / 8;
	const all = Array.from({ length: count }, (_, k): Cell => {
		const at = bytes === 'low' ? address + k : address + count - 1 - k;
		return { register, low: 8 * k, bits: 8, address: at, key: `${key}/${k}` };
	});
	return bytewise === 'low-first' ? all : all.reverse();
}

/** Those of a place's register that it has bits in. */
export function cellsIn(place: Place): Cell[] {
	return cellsOf(place.register).filter(({ low, bits }) => place.low < low + bits && place.high >= low);
}

/** The part of a range inside a cell, in the cell's own bits. */
export function inCell({ high, low }: Range, cell: Cell): Range {
	return { high: Math.min(high, cell.low + cell.bits - 1) - cell.low, low: Math.max(low, cell.low) - cell.low };
}

/** Bits of a word of the register that lie in a cell. */
export function cellBits(word: bigint, cell: Cell): bigint {
	return (word >> BigInt(cell.low)) & ones(cell.bits);
}

/** Addresses of a cell's bytes, from its lowest bits up. */
export function byteAddresses({ register, address, bits }: Cell): number[] {
	const count = bits / 8;
	return Array.from({ length: count }, (_, k) => (register.bytes === 'low' ? address + k : address + count - 1 - k));
}
