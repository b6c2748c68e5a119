import { Memory, registersOf, type Access, type Binding, type Register } from '../../src/core/registers/index.js';

/** Registers as hardware keeps them: bits that act are not kept, keys neither, what any write clears is 0; waits are over at once. */
export class Hardware {
	private readonly bytes = new Map<number, number>();
	private readonly registers: Register[];

	constructor(binding: Binding) {
		this.registers = registersOf(binding);
		for (const register of this.registers) this.store(register.address, register.bits, register.bytes, register.reset ?? 0n);
	}

	/** Each write as it comes; what is read before one is what stands there. */
	do(accesses: readonly Access[]): void {
		for (const access of accesses) {
			const register = this.registers.find(({ key }) => key === access.reg)!;
			if (access.do === 'wait') this.write(register, access, BigInt(access.value), BigInt(access.mask));
			if (access.do === 'write') this.write(register, access, BigInt(access.value), BigInt(access.mask));
		}
	}

	memory(): Memory {
		const memory = new Memory();
		for (const [address, byte] of this.bytes) memory.put(address, [byte]);
		return memory;
	}

	private write(register: Register, { address, bits }: Access, value: bigint, mask: bigint): void {
		const before = this.load(address, bits, register.bytes);
		const shift = register.bytewise
			? BigInt(8 * (register.bytes === 'low' ? address - register.address : register.address + register.bits / 8 - 1 - address))
			: 0n;
		const acts = (register.oneActs | register.zeroActs) >> shift;
		const after = (before & ~mask) | (value & mask);
		this.store(
			address,
			bits,
			register.bytes,
			register.write === 'any-clears' ? 0n : (after & ~acts) | (before & acts & ((1n << BigInt(bits)) - 1n))
		);
	}

	private load(address: number, bits: number, bytes: 'low' | 'high'): bigint {
		let word = 0n;
		for (let k = 0; k < bits / 8; k++) word |= BigInt(this.bytes.get(byteAt(address, bits, bytes, k)) ?? 0) << BigInt(8 * k);
		return word;
	}

	private store(address: number, bits: number, bytes: 'low' | 'high', word: bigint): void {
		for (let k = 0; k < bits / 8; k++) this.bytes.set(byteAt(address, bits, bytes, k), Number((word >> BigInt(8 * k)) & 0xffn));
	}
}

const byteAt = (address: number, bits: number, bytes: 'low' | 'high', k: number) =>
	bytes === 'low' ? address + k : address + bits / 8 - 1 - k;
