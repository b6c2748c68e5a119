import type { FieldProblem } from '../../core/aims/index.js';

const WANTED: Record<FieldProblem['expected'], string> = {
	rate: 'a rate such as 1.2 kHz, or a period such as 850 us or 60000 ticks',
	tolerance: 'a share such as 0.1 % or 500 ppm, or a rate such as 2 Hz',
	duty: 'a duty such as 35 % or 1/3, a time such as 120 us on, or a count such as 2100 ticks',
	bits: 'a whole number of bits from 0 to 32, such as 10 bits',
	whole: 'a whole number such as 59999 or 0xEA5F',
	factor: 'a factor such as 12',
	time: 'a time such as 120 us or 2 ms',
	turns: 'turns such as 2.5 turns, degrees such as 120 deg, or counts such as 72 counts or 0..71',
	frequency: 'a frequency such as 12 MHz',
	error: 'a share such as 25 ppm or 0.01 %',
	lag: 'a share of the period such as 1/3, an angle such as 120 deg, a time such as 277 us, or a count such as 20000 ticks',
	share: 'a share such as 80 % or 0.8',
	resistance: 'a resistance such as 4.7 kOhm',
	capacitance: 'a capacitance such as 100 nF',
	inductance: 'an inductance such as 10 mH',
	speed: 'a speed such as 60 rpm, or turns a second such as 1.5 Hz, or -1.5 Hz for the other way',
	value: 'a number with or without a unit, such as 100 % or 360 deg'
};

/** What was wrong with a typed field, and what would be accepted. */
export function problemText({ reason, expected, unit, readings }: FieldProblem): string {
	const wanted = WANTED[expected];
	switch (reason) {
		case 'empty':
			return `Nothing is typed here yet; ${wanted} is wanted.`;
		case 'no-number':
			return `No number can be read here; ${wanted} is wanted.`;
		case 'unknown-unit':
			return `“${unit ?? ''}” is no unit known here; ${wanted} is wanted.`;
		case 'ambiguous':
			return `This can be read in two ways; type ${(readings ?? []).join(' or ')}.`;
		case 'zero-denominator':
			return 'A fraction cannot have 0 below the line.';
		case 'too-long':
			return `This is too long to be a number; ${wanted} is wanted.`;
		case 'wrong-dimension':
			return `This unit says something else; ${wanted} is wanted.`;
		case 'not-positive':
			return `This must be above zero; ${wanted} is wanted.`;
		case 'negative':
			return `This must not be below zero; ${wanted} is wanted.`;
		case 'not-whole':
			return `This must be a whole number; ${wanted} is wanted.`;
		case 'bare-number':
			return `A number alone does not say enough; ${wanted} is wanted.`;
		case 'too-large':
			return expected === 'duty'
				? 'More than the whole period cannot be active; 0 to 100 % is wanted.'
				: `This is too large; ${wanted} is wanted.`;
	}
}

/** Why a wish for a clock rate cannot be asked. */
export function wishProblemText(problem: FieldProblem | 'no-node' | 'own-node'): string {
	if (problem === 'no-node') return 'The part has no such clock node; choose one that it has.';
	if (problem === 'own-node') return 'A node is always equal to itself; choose another.';
	return problemText(problem);
}
