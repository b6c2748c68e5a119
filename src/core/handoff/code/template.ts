import type { Access, Binding, Change, QuantityValue } from '../../registers/index.js';
import { constant, type Coded } from './statements.js';

/**
 * Accesses that write a code that is known only while it runs. Every bit of the code lands in fixed bits of the accesses, which a few
 * codes tell. undefined: the quantity cannot be written so.
 */
export function codeTemplate(binding: Binding, unit: string, quantity: string, change: Change): Coded[] | undefined {
	const own = binding.units.get(unit);
	const value = own?.values.get(quantity);
	if (!own || !value || value.do || value.with || value.width === 0 || value.width > 32) return undefined;
	// Its codes as they stand, whatever they stand for.
	const plain: Binding = {
		...binding,
		units: new Map([[unit, { ...own, values: new Map([[quantity, { ...value, as: { kind: 'plain' } }]]) }]])
	};
	const accessesOf = (code: QuantityValue): Access[] => change(new Map([[unit, new Map([[quantity, code]])]]), plain).accesses;
	const zero = accessesOf(0);
	const tried = triesOf(value.width).map(accessesOf);
	if (zero.length === 0 || tried.some((one) => one.length !== zero.length)) return undefined;
	return zero.map((access, i): Coded => {
		if (access.do === 'read') return access;
		const turned = tried.map((one) => {
			const there = one[i];
			return there.do === 'read' ? 0 : (there.value ^ access.value) >>> 0;
		});
		const lands = Array.from({ length: access.bits }, (_, bit) => bit).flatMap((bit) => {
			const number = turned.reduce((sum, word, j) => sum + ((word >>> bit) & 1) * 2 ** j, 0);
			return number === 0 ? [] : [{ code: number - 1, bit }];
		});
		return lands.length === 0 ? access : { ...access, expression: expressionOf(access.bits, access.value, lands) };
	});
}

/** Codes of which try j has the bits whose number, from 1, has its bit j: in which of them a bit of an access turns says which bit it is. */
function triesOf(width: number): number[] {
	const bits = Array.from({ length: width }, (_, k) => k);
	return Array.from({ length: Math.ceil(Math.log2(width + 1)) }, (_, j) => bits.reduce((sum, k) => sum + (((k + 1) >> j) & 1) * 2 ** k, 0));
}

/** Bits of `code` put where they land, run by run. */
function expressionOf(width: number, fixed: number, lands: readonly { code: number; bit: number }[]): string {
	const runs: { code: number; bit: number; length: number }[] = [];
	for (const { code, bit } of lands) {
		const last = runs.at(-1);
		if (last && last.code + last.length === code && last.bit + last.length === bit) last.length++;
		else runs.push({ code, bit, length: 1 });
	}
	const parts = runs.map(({ code, bit, length }) => {
		const low = code === 0 ? 'code' : `(code >> ${code}U)`;
		const masked = length === 32 ? low : `(${low} & ${constant(2 ** length - 1, 32)})`;
		return bit === 0 ? masked : `(${masked} << ${bit}U)`;
	});
	if (fixed !== 0) parts.push(constant(fixed, 32));
	const sum = parts.join(' | ');
	return width === 32 ? `(${sum})` : `(uint${width}_t)(${sum})`;
}
