import type { Binding } from './binding.js';
import { cellsOf } from './cell.js';
import { ones } from './numbers.js';
import { registersOf, type Register } from './register.js';
import type { Access } from './writer.js';

/** What a register holds after accesses, as far as that is known. Bits that act are not held: of them `value` has what was written last. */
export interface Settled {
	register: Register;
	value: bigint;
	known: bigint;
	/** Bits that some access decided. */
	decided: bigint;
}

/** What every register that accesses touch comes to, from reset, in the order of their first access. */
export function settle(binding: Binding, accesses: readonly Access[]): Settled[] {
	const registers = new Map(registersOf(binding).map((one) => [one.key, one]));
	const found = new Map<string, Settled>();
	for (const access of accesses) {
		const register = registers.get(access.reg)!;
		const settled = found.get(access.reg) ?? fresh(register);
		found.set(access.reg, settled);
		if (access.do !== 'read') apply(settled, access);
	}
	return [...found.values()];
}

function fresh(register: Register): Settled {
	return { register, value: register.reset ?? 0n, known: register.known, decided: 0n };
}

function apply(settled: Settled, access: Exclude<Access, { do: 'read' }>): void {
	const { register } = settled;
	const cell = cellsOf(register).find(({ address }) => address === access.address)!;
	const shift = BigInt(cell.low);
	const acts = register.oneActs | register.zeroActs;
	const mask = register.write === 'any-clears' ? ones(cell.bits) << shift : BigInt(access.mask) << shift;
	const value = register.write === 'any-clears' ? 0n : BigInt(access.value) << shift;
	settled.value = (settled.value & ~mask) | (value & mask);
	settled.known |= mask & ~acts;
	if (access.do === 'write') settled.decided |= BigInt(access.mask) << shift;
}
