import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { SvdReader } from '../formats/index.js';
import { shippedParts } from '../part/index.js';
import { readBinding, registersOf, type Binding } from '../registers/index.js';
import { svdOf } from './index.js';

function described(text: string) {
	const reader = new SvdReader();
	reader.feed(text);
	return reader.end();
}

const PARTS = shippedParts().map((part) => [part.id, part.name, readBinding(part.binding).binding!] as [string, string, Binding]);

describe('registers as SVD', () => {
	test.each(PARTS)('of %s are read back alike, without a finding', (_, name, binding) => {
		const { peripherals, findings, name: device } = described(svdOf(name, binding));
		expect([device, findings]).toEqual([name, []]);
		const read = peripherals.flatMap(({ name: block, base, registers }) =>
			registers.map(({ name: own, offset, bits, reset, mask, access }) => ({
				key: `${block}.${own}`,
				address: Number(base + offset),
				bits,
				reset,
				known: reset === undefined ? 0n : mask,
				only: access === 'write-only'
			}))
		);
		expect(read).toEqual(
			registersOf(binding).map(({ key, address, bits, reset, known, write }) => ({
				key,
				address,
				bits,
				reset,
				known,
				only: write === 'only'
			}))
		);
	});

	test.each(PARTS)('of %s name every piece of a quantity that has bits of its own, and the words of its codes', (_, name, binding) => {
		const { peripherals } = described(svdOf(name, binding));
		for (const { values } of binding.units.values())
			for (const { quantity, pieces, as } of values.values())
				for (const { register, high, low } of pieces) {
					const [block, own] = register.key.split('.');
					const fields = peripherals.find((one) => one.name === block)!.registers.find((one) => one.name === own)!.fields;
					const field = fields.find((one) => one.high >= low && high >= one.low)!;
					expect([quantity, field.low <= low, field.high >= high]).toEqual([quantity, true, true]);
					if (as.kind === 'words' && pieces.length === 1 && field.values.length > 0)
						expect(field.values.map(([, code]) => BigInt(code))).toEqual(as.rows.map(([, code]) => code));
				}
	});

	test.each(PARTS)('the file that is shipped of %s is what its profile gives', (id, name, binding) => {
		expect(readFileSync(`demo/registers/${id}.svd`, 'utf8')).toBe(svdOf(name, binding));
	});
});
