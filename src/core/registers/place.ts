import type { Block } from './binding.js';
import { wanted, wants } from './findings.js';
import { readRange, type Range } from './numbers.js';
import type { Register } from './register.js';

/** Bits of a register. */
export interface Place extends Range {
	register: Register;
}

/** Where names of registers are looked up: in the own block, others by "BLOCK.REG". */
export interface Scope {
	blocks: ReadonlyMap<string, Block>;
	own?: string | undefined;
}

/** "REG", "REG[msb:lsb]", "REG[bit]", "REG[FIELD]", with "BLOCK." before for another block. Throws Fault. */
export function readPlace(raw: unknown, { blocks, own }: Scope): Place {
	wants(typeof raw === 'string', 'bad-shape');
	const name = '[A-Za-z_][A-Za-z0-9_]*';
	const match = wanted(new RegExp(`^(?:(${name})\\.)?(${name})(?:\\[([^\\[\\]]+)\\])?$`).exec(raw.trim()) ?? undefined);
	const block = wanted(blocks.get(match[1] ?? own ?? ''), 'unknown-name');
	const register = wanted(block.registers.get(match[2]), 'unknown-name');
	if (match[3] === undefined) return { register, high: register.bits - 1, low: 0 };
	const inside = match[3].trim();
	if (new RegExp(`^${name}$`).test(inside)) return { register, ...wanted(register.fields.get(inside), 'unknown-name') };
	const range = wanted(readRange(inside));
	wants(range.high >= range.low && range.high < register.bits, 'outside');
	return { register, ...range };
}
