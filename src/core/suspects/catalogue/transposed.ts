import { misread } from './misread.js';

/** Two neighbouring decimal digits exchanged while it was typed. */
export const transposed = misread('digits-transposed', 30, (held) => {
	const digits = String(held);
	return Array.from({ length: digits.length - 1 }, (_, i) => i).flatMap((i) => {
		const next = Number(digits.slice(0, i) + digits[i + 1] + digits[i] + digits.slice(i + 2));
		return next !== held ? [next] : [];
	});
});
