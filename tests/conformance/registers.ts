import { z } from 'zod';
import {
	change,
	Memory,
	readBack,
	readBinding,
	readQuantityOf,
	setUp,
	type CodeRow,
	type Codes,
	type Quantities,
	type QuantityValue
} from '../../src/core/registers/index.js';
import type { Check } from './shapes.js';

const value = z.union([z.number(), z.boolean(), z.string()]);
const byUnit = z.record(z.string(), z.record(z.string(), value));
const bytes = z.array(z.tuple([z.int(), z.string().regex(/^(?:[0-9a-fA-F]{2})*$/)]));
const row = z.union([z.tuple([value, z.int()]), z.strictObject({ from: z.int(), to: z.int(), base: z.number(), step: z.number() })]);
const given = z.strictObject({
	binding: z.unknown(),
	quantities: byUnit.optional(),
	change: byUnit.optional(),
	read: z.string().optional(),
	dump: bytes.optional(),
	memory: bytes.optional(),
	codes: z.record(z.string(), z.record(z.string(), z.array(row))).optional()
});

const nested = <T>(of: Record<string, Record<string, T>>): Map<string, Map<string, T>> =>
	new Map(Object.entries(of).map(([unit, own]) => [unit, new Map(Object.entries(own))]));

function memoryOf(told: z.infer<typeof bytes>): Memory {
	const memory = new Memory();
	for (const [address, hex] of told) memory.put(address, Buffer.from(hex, 'hex'));
	return memory;
}

/** Accesses, and back from dumps (handoff.md). */
export const registers: Check = (raw) => {
	const { binding: written, quantities, change: changed, read, dump, memory = [], codes = {} } = given.parse(raw);
	const { binding, findings } = readBinding(written);
	if (!binding) return dump ? { quantities: {}, findings } : { accesses: [], findings };
	const own: Codes = nested(codes as Record<string, Record<string, CodeRow[]>>);
	const known = { memory: memoryOf(memory), codes: own };
	const wished = (of: Record<string, Record<string, QuantityValue>>): Quantities => nested(of);
	if (read !== undefined) return readQuantityOf(binding, read);
	if (dump) {
		const back = readBack(binding, memoryOf(dump), own);
		return { ...back, quantities: Object.fromEntries([...back.quantities].map(([unit, one]) => [unit, Object.fromEntries(one)])) };
	}
	const { accesses, findings: found } = changed
		? change(binding, wished(changed), quantities && wished(quantities), known)
		: setUp(binding, wished(quantities ?? {}), known);
	return { accesses, findings: found };
};
