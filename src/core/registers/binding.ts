import { readDefaults, type Defaults } from './defaults.js';
import { Faults, reading, wanted, wants, type RegisterFinding } from './findings.js';
import { circled, knownKeys, takenOver } from './like.js';
import { isPlain, readNumber, type Plain } from './numbers.js';
import { isStep, stepOf } from './quantities.js';
import { lockCircles, readLocks, readRegister, type Register } from './register.js';
import { readValue, type Value } from './value.js';

/** A block of registers with all that it takes over. */
export interface Block {
	name: string;
	base: number;
	registers: Map<string, Register>;
}

/** What a plan sets up as one thing: where each of its quantities lives, in order, and the order of its steps where it has one. */
export interface Unit {
	id: string;
	values: Map<string, Value>;
	order?: string[];
}

/** A binding as it is worked with (handoff.md 1 to 4). */
export interface Binding {
	blocks: Map<string, Block>;
	units: Map<string, Unit>;
}

export type ReadBinding = { binding: Binding; findings: [] } | { binding?: undefined; findings: RegisterFinding[] };

const BLOCK_NAME = /^[A-Za-z_][A-Za-z0-9_]*$/;
const UNIT_NAME = /^[a-z][a-z0-9-]*$/;

/**
 * Reads a binding, in rounds: the top; blocks and registers; unlocks and locks; units and values. The first round with a finding is the last,
 * and then there is no binding.
 */
export function readBinding(raw: unknown): ReadBinding {
	const faults = new Faults();
	const top = reading(faults, '', () => readTop(raw));
	if (!top) return { findings: faults.all };
	const blocks = readBlocks(top, faults);
	if (faults.any) return { findings: faults.all };
	readLocks(blocks, faults);
	if (!faults.any) for (const { key } of lockCircles(blocks)) faults.add('circle', key);
	if (faults.any) return { findings: faults.all };
	const units = readUnits(top, blocks, faults);
	return faults.any ? { findings: faults.all } : { binding: { blocks, units }, findings: [] };
}

interface Top extends Defaults {
	order?: string[];
	blocks: Map<string, unknown>;
	units: Map<string, unknown>;
}

function readTop(raw: unknown): Top {
	wants(isPlain(raw), 'bad-shape');
	knownKeys(raw, ['bits', 'bytes', 'order', 'blocks', 'units']);
	const { blocks = {}, units = {} } = raw;
	wants(isPlain(blocks) && isPlain(units), 'bad-shape');
	const order = raw.order === undefined ? undefined : readOrder(raw.order);
	return {
		...readDefaults(raw, { bits: 32, bytes: 'low' }),
		...(order && { order }),
		blocks: new Map(Object.entries(blocks)),
		units: new Map(Object.entries(units))
	};
}

/** Steps, and quantities that are to be steps of their own. */
function readOrder(raw: unknown): string[] {
	wants(Array.isArray(raw) && raw.every((word) => typeof word === 'string'), 'bad-shape');
	const words = raw;
	wants(
		words.every((word) => isStep(word) || stepOf(word) !== undefined),
		'order'
	);
	wants(new Set(words).size === words.length, 'order');
	return words;
}

/** Blocks, or units, as objects under names that may be, their `like` known and leading nowhere round. */
function shaped(all: ReadonlyMap<string, unknown>, names: RegExp, keys: readonly string[], faults: Faults): Map<string, Plain> {
	const found = new Map<string, Plain>();
	for (const [name, raw] of all)
		reading(faults, name, () => {
			wants(names.test(name) && isPlain(raw), 'bad-shape');
			knownKeys(raw, keys);
			wants(raw.like === undefined || typeof raw.like === 'string', 'bad-shape');
			wants(raw.like === undefined || all.has(raw.like), 'unknown-name');
			found.set(name, raw);
		});
	for (const name of circled(found)) faults.add('circle', name);
	return found;
}

/** Those that can be looked into: nothing that `like` leads to has a shape of its own kind, or leads round. */
function sound(all: ReadonlyMap<string, Plain>, faults: Faults): string[] {
	return [...all.keys()].filter((name) => {
		for (let at: string | undefined = name; at !== undefined; at = all.get(at)?.like as string | undefined)
			if (faults.at(at) || !all.has(at)) return false;
		return true;
	});
}

function readBlocks(top: Top, faults: Faults): Map<string, Block> {
	const shapes = shaped(top.blocks, BLOCK_NAME, ['like', 'base', 'bits', 'bytes', 'registers'], faults);
	const blocks = new Map<string, Block>();
	for (const name of sound(shapes, faults)) {
		const merged = takenOver(shapes, name, 'registers', faults);
		const frame = reading(faults, name, () => {
			const base = wanted(readNumber(merged.base));
			wants(base < 2n ** 32n, 'outside');
			const { registers = {} } = merged;
			wants(isPlain(registers), 'bad-shape');
			return { base: Number(base), registers, ...readDefaults(merged, top) };
		});
		if (!frame) continue;
		const block: Block = { name, base: frame.base, registers: new Map() };
		for (const [register, raw] of Object.entries(frame.registers)) {
			const key = `${name}.${register}`;
			const read = reading(faults, key, () => {
				wants(BLOCK_NAME.test(register), 'bad-shape');
				return readRegister(raw, key, frame.base, frame);
			});
			if (read) block.registers.set(register, read);
		}
		blocks.set(name, block);
	}
	return blocks;
}

function readUnits(top: Top, blocks: ReadonlyMap<string, Block>, faults: Faults): Map<string, Unit> {
	const shapes = shaped(top.units, UNIT_NAME, ['like', 'block', 'values', 'order'], faults);
	const units = new Map<string, Unit>();
	for (const id of sound(shapes, faults)) {
		const merged = takenOver(shapes, id, 'values', faults);
		const frame = reading(faults, id, () => {
			const { block, values = {}, order } = merged;
			wants(block === undefined || typeof block === 'string', 'bad-shape');
			wants(isPlain(values), 'bad-shape');
			wants(block === undefined || blocks.has(block), 'unknown-name');
			return { block, values, ...(order !== undefined && { order: readOrder(order) }) };
		});
		if (!frame) continue;
		const order = frame.order ?? top.order;
		const unit: Unit = { id, values: new Map(), ...(order && { order }) };
		for (const [quantity, raw] of Object.entries(frame.values)) {
			const read = reading(faults, `${id}.${quantity}`, () => {
				wants(stepOf(quantity) !== undefined, 'unknown-name');
				return readValue(raw, quantity, { blocks, own: frame.block, values: frame.values });
			});
			if (read) unit.values.set(quantity, read);
		}
		units.set(id, unit);
	}
	return units;
}
