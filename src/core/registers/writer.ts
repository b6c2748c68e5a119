import { cellBits, cellsIn, inCell, type Cell } from './cell.js';
import type { Doing } from './doing.js';
import type { RegisterFinding } from './findings.js';
import type { Memory } from './memory.js';
import { maskOf, ones, widthOf } from './numbers.js';
import type { Place } from './place.js';

/** One access of a set-up, in its order (handoff.md 6). Value and mask are the cell's; a mask of all bits is a whole write. */
export type Access = { step: string; reg: string; address: number; bits: number; for: string[] } & (
	{ do: 'read' } | { do: 'write' | 'wait'; value: number; mask: number }
);

/** Which quantity an access is for, in which step of which unit. */
export interface Context {
	step: string;
	unit: string;
	/** "UNIT.QUANTITY". */
	quantity: string;
}

interface Pending extends Omit<Context, 'quantity'> {
	cell: Cell;
	mask: bigint;
	value: bigint;
	for: string[];
}

/** Puts bits into cells, joining neighbours, and lists the accesses that this takes by each register's rules. */
export class Writer {
	readonly accesses: Access[] = [];
	readonly findings: RegisterFinding[] = [];
	private pending: Pending | undefined;

	/** `words`: the last words that were written whole, by cell; `memory`: what is known beforehand. */
	constructor(
		private readonly memory: Memory,
		private readonly words = new Map<string, bigint>()
	) {}

	/** One that goes on after this one: it knows what this one wrote, lists nothing of it, and leaves it as it is. */
	next(): Writer {
		this.flush();
		return new Writer(this.memory, new Map(this.words));
	}

	/** Puts bits of a cell; with the put right before it, it may become one write. */
	put(cell: Cell, mask: bigint, value: bigint, { step, unit, quantity }: Context): void {
		const { pending } = this;
		const joins =
			pending?.cell.key === cell.key &&
			pending.step === step &&
			pending.unit === unit &&
			(step !== 'tree' || pending.for.includes(quantity));
		if (!joins) {
			this.flush();
			this.pending = { cell, mask, value: value & mask, step, unit, for: [quantity] };
			return;
		}
		pending.mask |= mask;
		pending.value = (pending.value & ~mask) | (value & mask);
		if (!pending.for.includes(quantity)) pending.for.push(quantity);
	}

	/** What is put comes to an end here. */
	flush(): void {
		const { pending } = this;
		this.pending = undefined;
		if (pending) this.write(pending.cell, pending.mask, pending.value, pending.step, pending.for);
	}

	/** A doing stands alone. `code`: of the value that it surrounds. */
	doing({ kind, place, code }: Doing, ofValue: bigint, { step, quantity }: Context): void {
		this.flush();
		this.act(kind, place, code === 'code' ? ofValue : code, step, [quantity]);
	}

	/** Reads a cell for what reading does. */
	read(cell: Cell, { step, quantity }: Context): void {
		this.flush();
		this.accesses.push({ do: 'read', ...frame(cell, step, [quantity]) });
	}

	private act(kind: Doing['kind'], place: Place, code: bigint, step: string, of: string[]): void {
		for (const cell of cellsIn(place)) {
			const [mask, value] = partIn(place, code, cell);
			if (kind === 'write') this.write(cell, mask, value, step, of);
			else this.accesses.push({ do: 'wait', ...frame(cell, step, of), value: Number(value), mask: Number(mask) });
		}
	}

	private write(cell: Cell, put: bigint, bits: bigint, step: string, of: string[]): void {
		const { register } = cell;
		const all = ones(cell.bits);
		let { mask, value } = register.write === 'any-clears' ? { mask: all, value: 0n } : ruled(cell, put, bits);
		if (mask !== all && (register.write === 'whole' || register.write === 'only')) {
			value |= this.others(cell, mask);
			mask = all;
		}
		if (mask !== all) this.accesses.push({ do: 'read', ...frame(cell, step, of) });
		for (const { kind, place, code } of register.unlock) this.act(kind, place, code as bigint, step, of);
		this.accesses.push({ do: 'write', ...frame(cell, step, of), value: Number(value), mask: Number(mask) });
		if (mask === all) this.words.set(cell.key, value);
		for (const { kind, place, code } of register.lock) this.act(kind, place, code as bigint, step, of);
	}

	/** The other bits of a cell that is never read before a write: what was written last, else what is known. */
	private others(cell: Cell, mask: bigint): bigint {
		const { register } = cell;
		const rest = ones(cell.bits) & ~mask;
		const last = this.words.get(cell.key);
		if (last !== undefined) return last & rest;
		const told = register.write === 'whole' ? this.memory.word(cell) : { value: 0n, known: 0n };
		const reset = { value: cellBits(register.reset ?? 0n, cell), known: cellBits(register.known, cell) };
		const known = told.known | reset.known;
		const unknown = rest & ~known;
		if (unknown !== 0n) this.findings.push(['unknown-bits', register.key, Number(unknown << BigInt(cell.low))]);
		return ((told.value & told.known) | (reset.value & reset.known & ~told.known)) & rest;
	}
}

/** What is written besides what was put: fixed bits, and bits that act are left alone. */
function ruled(cell: Cell, put: bigint, bits: bigint): { mask: bigint; value: bigint } {
	const { always, oneActs, zeroActs } = cell.register;
	const fixed = cellBits(always.mask, cell);
	const own = put | fixed;
	const value = (bits & ~fixed) | (cellBits(always.value, cell) & fixed);
	const idle = cellBits(zeroActs, cell) & ~own;
	return { mask: own | idle | (cellBits(oneActs, cell) & ~own), value: value | idle };
}

/** The bits of a place's code that lie in a cell: their mask and value there. */
export function partIn(place: Place, code: bigint, cell: Cell): [mask: bigint, value: bigint] {
	const inside = inCell(place, cell);
	const shift = cell.low + inside.low - place.low;
	return [maskOf(inside), ((code >> BigInt(shift)) & ones(widthOf(inside))) << BigInt(inside.low)];
}

function frame({ register, address, bits }: Cell, step: string, of: readonly string[]): Omit<Access, 'do' | 'value' | 'mask'> {
	return { step, reg: register.key, address, bits, for: [...of] };
}
