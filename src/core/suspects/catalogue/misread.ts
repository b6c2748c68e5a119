import { swapBytes } from '../../check/index.js';
import { largest } from '../../timer/index.js';
import type { SimTimer } from '../../sim/index.js';
import { eachRegister, type Mistake, type Register } from '../change.js';

/** What a register holds of a value, as the profile's formula has it: one less than a ratio or a count. */
const stored = ({ name }: Register, value: number) => (name === 'prescale' ? value - 1 : value);
const counted = ({ name }: Register, held: number) => (name === 'prescale' ? held + 1 : held);

/** A value changed by what happens to the number in its register. */
function misread(code: string, usual: number, turns: (held: number, width: number) => number[]): Mistake {
	const width = ({ name }: Register, timer: SimTimer) => (name === 'prescale' ? 16 : timer.width);
	return {
		code,
		usual,
		of: (group) =>
			eachRegister(
				group,
				() => true,
				(held, timer, register) => {
					const count = new Set(turns(stored(register, held), width(register, timer))).size;
					return Array.from({ length: count }, (_, i) => (value: number) => {
						const made = [...new Set(turns(stored(register, value), width(register, timer)))];
						return counted(register, made[i] ?? stored(register, value));
					});
				}
			)
	};
}

/** The value cut to a narrower type on its way. */
const truncated = misread('value-truncated', 15, (held) => [8, 16].filter((bits) => held > largest(bits)).map((bits) => held % 2 ** bits));

/** Low and high bytes the other way round. */
const swapped = misread('bytes-swapped', 16, (held, width) =>
	width > 8 ? [...new Set([swapBytes(held, width), swapBytes(held, 16)])].filter((one) => one !== held && one <= largest(width)) : []
);

/** Two neighbouring decimal digits exchanged while it was typed. */
const transposed = misread('digits-transposed', 30, (held) => {
	const digits = String(held);
	return Array.from({ length: digits.length - 1 }, (_, i) => i).flatMap((i) => {
		const next = Number(digits.slice(0, i) + digits[i + 1] + digits[i] + digits.slice(i + 2));
		return next !== held ? [next] : [];
	});
});

/** Decimal digits taken for hexadecimal or octal ones, or the other way round. */
const base = misread('number-base', 31, (held) => {
	const made = [Number.parseInt(String(held), 16)];
	if (/^[0-7]+$/.test(String(held))) made.push(Number.parseInt(String(held), 8));
	if (/^\d+$/.test(held.toString(16))) made.push(Number(held.toString(16)));
	if (/^\d+$/.test(held.toString(8))) made.push(Number(held.toString(8)));
	return made.filter((one) => one !== held && Number.isSafeInteger(one));
});

export const misreads: Mistake[] = [truncated, swapped, transposed, base];
