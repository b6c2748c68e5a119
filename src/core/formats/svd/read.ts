import { derived } from './derive.js';
import { indices, readSvdNumber } from './numbers.js';
import { SvdError, type XmlElement } from './tree.js';

/** A part as a CMSIS-SVD file describes it: its blocks with their registers. */
export interface Description {
	name: string;
	peripherals: SvdPeripheral[];
	findings: SvdFinding[];
}

export interface SvdPeripheral {
	name: string;
	base: bigint;
	registers: SvdRegister[];
	interrupts: { name: string; value: number }[];
	line: number;
}

export interface SvdRegister {
	name: string;
	/** In bytes from the base. */
	offset: bigint;
	bits: number;
	access: string;
	reset?: bigint;
	/** Bits of `reset` that are known. */
	mask: bigint;
	/** `modifiedWriteValues`, and whether reading clears. */
	write?: string;
	readClears: boolean;
	fields: SvdField[];
	line: number;
}

export interface SvdField {
	name: string;
	high: number;
	low: number;
	write?: string;
	readClears: boolean;
	/** Names of its codes. */
	values: [name: string, code: number][];
	line: number;
}

export type SvdFault =
	'no-number' | 'no-name' | 'no-base' | 'no-place' | 'unknown-name' | 'circle' | 'overlap' | 'outside' | 'bad-index' | 'too-many';

/** Something that a description says wrongly, with its line from 1, and what it is of. */
export interface SvdFinding {
	line: number;
	fault: SvdFault;
	of: string;
}

/** Registers that one description may come to, repeated ones counted each. */
const MOST_REGISTERS = 100_000;

interface Inherited {
	size: number;
	access: string;
	reset?: bigint;
	mask?: bigint;
}

/** What a tree says of a part; what makes no sense is left out and told. Throws SvdError where it describes none. */
export function describe(root: XmlElement): Description {
	if (root.name !== 'device') throw new SvdError('no-device', root.line, 1);
	return new Reader(root).device();
}

class Reader {
	private readonly findings: SvdFinding[] = [];
	private count = 0;

	constructor(private readonly root: XmlElement) {}

	device(): Description {
		const { root, findings } = this;
		const inherited = this.inherit(root, { size: 32, access: 'read-write' });
		const all = child(root, 'peripherals')?.children.filter(({ name }) => name === 'peripheral') ?? [];
		const peripherals = all.flatMap((one) => this.peripherals(one, all, inherited));
		findings.sort((a, b) => a.line - b.line);
		return { name: textOf(root, 'name') ?? '', peripherals, findings };
	}

	private tell(line: number, fault: SvdFault, of: string): undefined {
		this.findings.push({ line, fault, of });
	}

	/** With all that it takes over from another one; undefined where it cannot. */
	private resolved(element: XmlElement, siblings: readonly XmlElement[], kind: string): XmlElement | undefined {
		const found = derived(this.root, element, siblings, kind);
		if (typeof found === 'string') return this.tell(element.line, found, textOf(element, 'name') ?? kind);
		return found;
	}

	private peripherals(raw: XmlElement, siblings: readonly XmlElement[], before: Inherited): SvdPeripheral[] {
		const element = this.resolved(raw, siblings, 'peripheral');
		if (!element) return [];
		const name = this.name(element);
		if (name === undefined) return [];
		if (!child(element, 'baseAddress')) {
			this.tell(raw.line, 'no-base', name);
			return [];
		}
		const base = this.number(element, 'baseAddress', name);
		if (base === undefined) return [];
		const inherited = this.inherit(element, before);
		const registers = this.members(child(element, 'registers')?.children ?? [], { inherited, path: '', offset: 0n });
		const interrupts = element.children.flatMap((one) => {
			const value = one.name === 'interrupt' ? readSvdNumber(textOf(one, 'value') ?? '') : undefined;
			return value === undefined ? [] : [{ name: textOf(one, 'name') ?? '', value: Number(value) }];
		});
		const [prefix, suffix] = [textOf(element, 'prependToName') ?? '', textOf(element, 'appendToName') ?? ''];
		const named = registers.map((one) => ({ ...one, name: prefix + one.name + suffix }));
		return this.repeated(element, name).map(({ name: own, by }) => ({
			name: own,
			base: base + by,
			registers: named,
			interrupts,
			line: raw.line
		}));
	}

	private members(all: readonly XmlElement[], within: { inherited: Inherited; path: string; offset: bigint }): SvdRegister[] {
		return all.flatMap((raw) => {
			if (raw.name !== 'register' && raw.name !== 'cluster') return [];
			const element = this.resolved(
				raw,
				all.filter(({ name }) => name === raw.name),
				raw.name
			);
			const name = element && this.name(element);
			if (!element || name === undefined) return [];
			const offset = this.number(element, 'addressOffset', name);
			if (offset === undefined) return [];
			const inherited = this.inherit(element, within.inherited);
			return this.repeated(element, name).flatMap(({ name: own, by }) => {
				const at = within.offset + offset + by;
				const path = within.path === '' ? own : `${within.path}_${own}`;
				if (raw.name === 'cluster') return this.members(element.children, { inherited, path, offset: at });
				if (++this.count > MOST_REGISTERS) {
					if (this.count === MOST_REGISTERS + 1) this.tell(raw.line, 'too-many', own);
					return [];
				}
				return [this.register(element, path, at, inherited)];
			});
		});
	}

	private register(element: XmlElement, name: string, offset: bigint, { size, access, reset, mask }: Inherited): SvdRegister {
		const write = textOf(element, 'modifiedWriteValues');
		const fields = child(element, 'fields')?.children.filter((one) => one.name === 'field') ?? [];
		return {
			name,
			offset,
			bits: size,
			access,
			...(reset !== undefined && { reset }),
			mask: mask ?? (1n << BigInt(size)) - 1n,
			...(write !== undefined && { write }),
			readClears: textOf(element, 'readAction') === 'clear',
			fields: this.apart(fields.flatMap((one) => this.fields(one, fields, size))),
			line: element.line
		};
	}

	private fields(raw: XmlElement, siblings: readonly XmlElement[], size: number): (SvdField & { placed: number })[] {
		const element = this.resolved(raw, siblings, 'field');
		const name = element && this.name(element);
		if (!element || name === undefined) return [];
		const range = this.range(element, name);
		if (!range) return [];
		if (range.low > range.high || range.high >= size) {
			this.tell(range.line, 'outside', name);
			return [];
		}
		const write = textOf(element, 'modifiedWriteValues');
		const values = element.children.find((one) => one.name === 'enumeratedValues')?.children ?? [];
		return this.repeated(element, name).map(({ name: own, by }) => ({
			name: own,
			high: range.high + Number(by),
			low: range.low + Number(by),
			...(write !== undefined && { write }),
			readClears: textOf(element, 'readAction') === 'clear',
			values: values.flatMap((one): [string, number][] => {
				const code = one.name === 'enumeratedValue' ? readSvdNumber(textOf(one, 'value') ?? '') : undefined;
				return code === undefined ? [] : [[textOf(one, 'name') ?? '', Number(code)]];
			}),
			line: raw.line,
			placed: range.placed
		}));
	}

	/** Fields of which none lies on another: a later one that does is left out. */
	private apart(fields: readonly (SvdField & { placed: number })[]): SvdField[] {
		const kept: SvdField[] = [];
		for (const { placed, ...field } of fields) {
			if (kept.some(({ high, low }) => field.low <= high && field.high >= low)) this.tell(placed, 'overlap', field.name);
			else kept.push(field);
		}
		return kept;
	}

	/** The bits of a field in any of its three ways; `line`: of its end, `placed`: of where it begins. */
	private range(element: XmlElement, name: string): { high: number; low: number; line: number; placed: number } | undefined {
		const written = child(element, 'bitRange');
		if (written) {
			const match = /^\[(\d+):(\d+)\]$/.exec(written.text.trim());
			if (!match) return this.tell(written.line, 'no-number', name);
			return { high: Number(match[1]), low: Number(match[2]), line: written.line, placed: written.line };
		}
		const [first, last] = child(element, 'lsb') ? ['lsb', 'msb'] : ['bitOffset', 'bitWidth'];
		const place = child(element, first);
		if (!place) return this.tell(element.line, 'no-place', name);
		const low = this.number(element, first, name);
		const end = child(element, last) ? this.number(element, last, name) : first === 'lsb' ? low : 1n;
		if (low === undefined || end === undefined) return undefined;
		const high = first === 'lsb' ? end : low + end - 1n;
		return { high: Number(high), low: Number(low), line: (child(element, last) ?? place).line, placed: place.line };
	}

	private name(element: XmlElement): string | undefined {
		const name = textOf(element, 'name');
		return name === undefined || name === '' ? this.tell(element.line, 'no-name', element.name) : name;
	}

	/** A number that a child says; undefined: it says none, which is told. */
	private number(element: XmlElement, name: string, of: string): bigint | undefined {
		const said = child(element, name);
		if (!said) return this.tell(element.line, 'no-place', of);
		return readSvdNumber(said.text) ?? this.tell(said.line, 'no-number', of);
	}

	private inherit(element: XmlElement, before: Inherited): Inherited {
		const number = (name: string) => {
			const said = child(element, name);
			return said ? (readSvdNumber(said.text) ?? this.tell(said.line, 'no-number', textOf(element, 'name') ?? element.name)) : undefined;
		};
		const [size, reset, mask] = [number('size'), number('resetValue'), number('resetMask')];
		const own = {
			size: size === undefined ? before.size : Number(size),
			access: textOf(element, 'access') ?? before.access,
			reset: reset ?? before.reset,
			mask: mask ?? before.mask
		};
		return {
			size: own.size,
			access: own.access,
			...(own.reset !== undefined && { reset: own.reset }),
			...(own.mask !== undefined && { mask: own.mask })
		};
	}

	/** The element, or as often as `dim` says, each with its name and how far it is from the first. */
	private repeated(element: XmlElement, name: string): { name: string; by: bigint }[] {
		if (!child(element, 'dim')) return [{ name: name.replaceAll(/\[?%s\]?/g, ''), by: 0n }];
		const [count, step] = [this.number(element, 'dim', name), this.number(element, 'dimIncrement', name)];
		if (count === undefined || step === undefined) return [];
		if (count > BigInt(MOST_REGISTERS)) {
			this.tell(element.line, 'too-many', name);
			return [];
		}
		const all = indices(Number(count), textOf(element, 'dimIndex'));
		if (!all) {
			this.tell(child(element, 'dimIndex')!.line, 'bad-index', name);
			return [];
		}
		return all.map((index, i) => ({ name: name.includes('%s') ? name.replace(/\[?%s\]?/, index) : name + index, by: step * BigInt(i) }));
	}
}

export function child(element: XmlElement, name: string): XmlElement | undefined {
	return element.children.find((one) => one.name === name);
}

export function textOf(element: XmlElement, name: string): string | undefined {
	return child(element, name)?.text.trim();
}
