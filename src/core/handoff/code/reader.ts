import { Rational } from '../../exact/index.js';
import { cellsToRead, type Binding } from '../../registers/index.js';
import { constant, register } from './statements.js';

/** C that reads one quantity: constants of what its cells hold, and an expression of 32 bits that they come to. */
export interface Reader {
	lines: string[];
	expression: string;
	/** Reading takes away what is read. */
	clears: boolean;
}

/** How "UNIT.QUANTITY" is read; undefined: it cannot be, or its code is not a number with another one added. `name`: before the constants' names. */
export function readerOf(binding: Binding, unit: string, quantity: string, name: string): Reader | undefined {
	const value = binding.units.get(unit)?.values.get(quantity);
	if (!value || value.width === 0 || value.width > 32 || value.pieces.some(({ register: { write } }) => write === 'only')) return undefined;
	const plus =
		value.as.kind === 'plain' ? 0n : value.as.kind === 'formula' && value.as.factor.equals(Rational.one) ? value.as.plus : undefined;
	if (plus === undefined) return undefined;
	const cells = cellsToRead(value);
	const names = new Map(cells.map(({ key }, i) => [key, cells.length === 1 ? name : `${name}${i}`]));
	const lines = cells.map((cell) => {
		const bits = cell.bits as 8 | 16 | 32;
		return `const uint32_t ${names.get(cell.key)!} = ${register({ address: cell.address, bits })};`;
	});
	const parts: string[] = [];
	let above = value.width;
	for (const { register: own, high, low } of value.pieces) {
		above -= high - low + 1;
		for (const cell of cells.filter((one) => one.register === own)) {
			const [from, to] = [Math.max(low, cell.low), Math.min(high, cell.low + cell.bits - 1)];
			if (from > to) continue;
			const width = to - from + 1;
			const right = from === cell.low ? names.get(cell.key)! : `(${names.get(cell.key)!} >> ${from - cell.low}U)`;
			const masked = width === cell.bits ? right : `(${right} & ${constant(2 ** width - 1, 32)})`;
			const left = above + from - low;
			parts.push(left === 0 ? masked : `(${masked} << ${left}U)`);
		}
	}
	const code = parts.length === 1 ? parts[0] : `(${parts.join(' | ')})`;
	const expression = plus === 0n ? code : plus > 0n ? `(${code} - ${plus}UL)` : `(${code} + ${-plus}UL)`;
	return { lines, expression, clears: value.pieces.some(({ register: own }) => own.readClears) };
}
