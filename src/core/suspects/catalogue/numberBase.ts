import { misread } from './misread.js';

/** Decimal digits taken for hexadecimal or octal ones, or the other way round. */
export const numberBase = misread('number-base', 31, (held) => {
	const made = [Number.parseInt(String(held), 16)];
	if (/^[0-7]+$/.test(String(held))) made.push(Number.parseInt(String(held), 8));
	if (/^\d+$/.test(held.toString(16))) made.push(Number(held.toString(16)));
	if (/^\d+$/.test(held.toString(8))) made.push(Number(held.toString(8)));
	return made.filter((one) => one !== held && Number.isSafeInteger(one));
});
