import { readDump, type DumpOptions, type ReadDump } from '../formats/index.js';
import { Memory, readBack, registersOf, registerWord, type QuantityValue, type ReadBack, type Register } from '../registers/index.js';
import type { HandOff } from './handOff.js';

/** A quantity as planned and as a dump has it; either may be missing. */
export interface HeldQuantity {
	unit: string;
	quantity: string;
	planned?: QuantityValue;
	read?: QuantityValue;
	/** Said by both, and not the same. */
	differs: boolean;
}

/** A register that the set-up decides bits of: those bits as planned, and what stands there. */
export interface HeldRegister {
	register: Register;
	planned: bigint;
	decided: bigint;
	read: bigint;
	/** Bits of `read` that the dump holds. */
	known: bigint;
	/** Decided and read otherwise. */
	differing: bigint;
}

/** What a dump leaves open, and only its reader knows. */
export type DumpWords = Pick<DumpOptions, 'base' | 'hex' | 'grouped'>;

export interface HeldDump {
	dump: ReadDump;
	back: ReadBack;
	quantities: HeldQuantity[];
	registers: HeldRegister[];
}

/** What the timers would really do, beside the plan (handoff.md 7). Flags are states, and a running counter moves: neither can differ. */
export function holdDump(of: HandOff, text: string, options: DumpWords = {}): HeldDump | undefined {
	const { binding, quantities, codes } = of;
	if (!binding) return undefined;
	const registers = registersOf(binding);
	const dump = readDump(text, {
		...options,
		order: registers.at(0)?.bytes ?? 'low',
		register: (name) => registers.find(({ key }) => key === name || key.endsWith(`.${name}`))
	});
	const memory = new Memory();
	for (const { address, bytes } of dump.parts) memory.put(address, bytes);
	const back = readBack(binding, memory, codes);
	const held = [...back.quantities].flatMap(([unit, read]): HeldQuantity[] => {
		const planned = quantities.get(unit) ?? new Map<string, QuantityValue>();
		const names = new Set([...(binding.units.get(unit)?.values.keys() ?? [])].filter((name) => planned.has(name) || read.has(name)));
		return [...names].map((quantity) =>
			heldOne(unit, quantity, planned.get(quantity) ?? impliedOf(quantity, planned.size > 0), read.get(quantity))
		);
	});
	return { dump, back, quantities: held, registers: of.registers.flatMap((one) => heldRegister(one, memory) ?? []) };
}

/** What a set-up does without being asked. */
function impliedOf(quantity: string, planned: boolean): QuantityValue | undefined {
	return planned && (quantity === 'run' || quantity === 'gate') ? 1 : undefined;
}

function heldOne(unit: string, quantity: string, planned: QuantityValue | undefined, read: QuantityValue | undefined): HeldQuantity {
	const state = quantity.startsWith('flag:') || quantity === 'count' || quantity === 'load';
	return {
		unit,
		quantity,
		...(planned !== undefined && !state && { planned }),
		...(read !== undefined && { read }),
		differs: !state && planned !== undefined && read !== undefined && String(planned) !== String(read)
	};
}

function heldRegister({ register, value, decided }: HandOff['registers'][number], memory: Memory): HeldRegister | undefined {
	if (register.write === 'only') return undefined;
	const { value: read, known } = registerWord(register, memory);
	// Bits that act and what any write clears are not held.
	const kept = register.write === 'any-clears' ? 0n : decided & ~(register.oneActs | register.zeroActs);
	return { register, planned: value, decided: kept, read, known, differing: (value ^ read) & kept & known };
}
