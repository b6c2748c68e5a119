import type { Binding, Unit } from './binding.js';
import { cellsOf } from './cell.js';
import { decode, type QuantityValue } from './code.js';
import type { Doing } from './doing.js';
import { sortedFindings, type RegisterFinding } from './findings.js';
import type { Memory } from './memory.js';
import { maskOf, ones, plainInteger, widthOf } from './numbers.js';
import type { Place } from './place.js';
import { isFlag } from './quantities.js';
import { registersOf, type Register } from './register.js';
import { readingCells, type Codes } from './setUp.js';
import type { Value } from './value.js';

/** Reading of one quantity while it runs. */
export interface ReadAccess {
	do: 'read';
	reg: string;
	address: number;
	bits: number;
}

/** The accesses that read "UNIT.QUANTITY" (handoff.md 6). */
export function readQuantityOf(binding: Binding, name: string): { accesses: ReadAccess[]; findings: RegisterFinding[] } {
	const [id, ...rest] = name.split('.');
	const unit = binding.units.get(id);
	const value = unit?.values.get(rest.join('.'));
	if (!unit || !value) return { accesses: [], findings: [['no-place', name]] };
	const held = value.with ? unit.values.get(value.with.quantity)! : value;
	if (isWriteOnly(held)) return { accesses: [], findings: [['write-only', name]] };
	const accesses = readingCells(held).map(({ register, address, bits }): ReadAccess => ({ do: 'read', reg: register.key, address, bits }));
	return { accesses, findings: [] };
}

/** Nothing of it can be read back. */
function isWriteOnly({ pieces }: Value): boolean {
	return pieces.length === 0 || pieces.some(({ register }) => register.write === 'only');
}

/** What a dump says of every unit (handoff.md 7). */
export interface ReadBack {
	quantities: Map<string, Map<string, QuantityValue>>;
	findings: RegisterFinding[];
}

export function readBack(binding: Binding, memory: Memory, codes: Codes = new Map()): ReadBack {
	const findings: RegisterFinding[] = [...memory.contradictions].map((address): RegisterFinding => ['contradiction', address]);
	const quantities = new Map<string, Map<string, QuantityValue>>();
	for (const unit of binding.units.values()) quantities.set(unit.id, readUnit(unit, memory, codes, findings));
	findings.push(...registerFindings(binding, memory));
	return { quantities, findings: sortedFindings(findings) };
}

function readUnit(unit: Unit, memory: Memory, codes: Codes, findings: RegisterFinding[]): Map<string, QuantityValue> {
	const found = new Map<string, QuantityValue>();
	const run = unit.values.get('run')?.with;
	const stands = run && codeOf(unit.values.get(run.quantity)!, memory) === run.off;
	for (const value of unit.values.values()) {
		const { quantity } = value;
		const name = `${unit.id}.${quantity}`;
		const held = value.with ? unit.values.get(value.with.quantity)! : value;
		if (isWriteOnly(held)) {
			findings.push(['write-only', name]);
			continue;
		}
		const code = codeOf(held, memory);
		if (code === undefined || (stands && quantity === run.quantity)) continue;
		if (value.with) {
			found.set(quantity, code === value.with.off ? 0 : 1);
			continue;
		}
		const read = isFlag(quantity) ? plainInteger(code) : decode(value.as, code, value.width, codes.get(unit.id)?.get(quantity));
		if (read === undefined) findings.push(['no-meaning', name, plainInteger(code)]);
		else found.set(quantity, read);
	}
	return found;
}

/** The code that a value's pieces hold; undefined where a byte of them is missing. */
export function codeOf({ pieces }: Pick<Value, 'pieces'>, memory: Memory): bigint | undefined {
	let code = 0n;
	for (const place of pieces) {
		const { value, known } = registerWord(place.register, memory);
		const mask = maskOf(place);
		if ((known & mask) !== mask) return undefined;
		code = (code << BigInt(widthOf(place))) | ((value & mask) >> BigInt(place.low));
	}
	return code;
}

/** What is known of a register's word. */
export function registerWord(register: Register, memory: Memory): { value: bigint; known: bigint } {
	let [value, known] = [0n, 0n];
	for (const cell of cellsOf(register)) {
		const word = memory.word(cell);
		value |= word.value << BigInt(cell.low);
		known |= word.known << BigInt(cell.low);
	}
	return { value, known };
}

/** Of each register that a value lives in: what is missing, what nothing speaks of, and what reading changes. */
function registerFindings({ units, blocks }: Binding, memory: Memory): RegisterFinding[] {
	const values = [...units.values()].flatMap((unit) => [...unit.values.values()]);
	const needed = new Map<Register, bigint>();
	for (const { pieces } of values)
		for (const place of pieces) needed.set(place.register, (needed.get(place.register) ?? 0n) | maskOf(place));
	const spoken = spokenOf(values, registersOf({ blocks }));
	return [...needed].flatMap(([register, bits]): RegisterFinding[] => {
		if (register.write === 'only') return [];
		const { value, known } = registerWord(register, memory);
		const found: RegisterFinding[] = [];
		if (wholeBytes(register, bits) & ~known) found.push(['missing', register.key]);
		if (known === ones(register.bits)) {
			const compared = register.reset === undefined ? ones(register.bits) : register.known;
			const quiet = ~((spoken.get(register) ?? 0n) | register.always.mask | register.oneActs | register.zeroActs);
			const stray = (value ^ (register.reset ?? 0n)) & compared & quiet & ones(register.bits);
			if (stray !== 0n) found.push(['stray', register.key, Number(stray)]);
		}
		if (register.readClears) found.push(['read-changes', register.key]);
		return found;
	});
}

/** The bytes that hold some bits, as a mask. */
function wholeBytes({ bits: width }: Register, bits: bigint): bigint {
	let bytes = 0n;
	for (let low = 0; low < width; low += 8) if ((bits >> BigInt(low)) & 0xffn) bytes |= 0xffn << BigInt(low);
	return bytes;
}

/** Bits that values and doings speak of, by register. */
function spokenOf(values: readonly Value[], registers: readonly Register[]): Map<Register, bigint> {
	const spoken = new Map<Register, bigint>();
	const say = (place: Place) => spoken.set(place.register, (spoken.get(place.register) ?? 0n) | maskOf(place));
	const sayAll = (doings: readonly Doing[]) => {
		for (const { place } of doings) say(place);
	};
	for (const { pieces, before, after, do: instead } of values) {
		pieces.forEach(say);
		for (const doings of [before, after, ...(instead?.values() ?? [])]) sayAll(doings);
	}
	for (const { unlock, lock } of registers) for (const doings of [unlock, lock]) sayAll(doings);
	return spoken;
}
