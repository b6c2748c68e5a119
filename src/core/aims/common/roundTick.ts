import { Rational, type Hertz } from '../../exact/index.js';
import { prescaleCode, type Prescaler } from '../../part/index.js';
import type { DerivationDraft } from './draft.js';

/** Digits that a tick said in seconds may have to be worth a choice: 1 us has one, 13.888 ns no end of them. */
const MOST_DIGITS = 3;
/** Powers of ten of a second that are looked at. */
const FINEST = -12;

/**
 * Of the prescales from `finest` to less than twice that, and no more than `to`, the one whose tick has the fewest digits in seconds, the
 * finer of equals; undefined where none has three or fewer.
 */
export function roundestPrescale(prescaler: Prescaler, kernel: Hertz, finest: number, to: number): number | undefined {
	const last = Math.min(to, 2 * finest - 1);
	for (let digits = 1; digits <= MOST_DIGITS; digits++) {
		let best: number | undefined;
		for (const tick of ticksOf(digits)) {
			const cycles = tick.mul(kernel);
			const prescale = cycles.isInteger && cycles.num <= BigInt(last) ? Number(cycles.num) : 0;
			if (prescale < finest || prescale > last || (best !== undefined && prescale >= best)) continue;
			if (prescaleCode(prescaler, prescale) !== undefined) best = prescale;
		}
		if (best !== undefined) return best;
	}
	return undefined;
}

const known: Rational[][] = [];

/** Times of so many significant digits, a picosecond and up to a second. */
function ticksOf(digits: number): readonly Rational[] {
	return (known[digits] ??= Array.from({ length: -FINEST + 1 }, (_, i) => FINEST + i).flatMap((power) => {
		const unit = power < 0 ? Rational.of(1n, 10n ** BigInt(-power)) : Rational.one;
		const [low, high] = [10 ** (digits - 1), 10 ** digits];
		return Array.from({ length: high - low }, (_, k) => low + k).flatMap((count) =>
			// 10 of a unit is 1 of the next.
			count % 10 === 0 && count > 1 ? [] : [unit.mul(Rational.int(count))]
		);
	}));
}

/** Significant decimal digits of a time in seconds; Infinity where they are so many that they are worth no choice. */
export function digitsOf(time: Rational): number {
	let { den } = time;
	let [twos, fives] = [0, 0];
	for (; den % 2n === 0n; den /= 2n) twos++;
	for (; den % 5n === 0n; den /= 5n) fives++;
	if (den !== 1n) return Infinity;
	const scaled = (time.num * 10n ** BigInt(Math.max(twos, fives))) / time.den;
	const digits = scaled.toString().replace(/^-?0*|0+$/g, '').length;
	return digits <= MOST_DIGITS ? digits : Infinity;
}

/** Says that of several prescales that serve alike the one with the roundest tick was taken. */
export function tellRound(draft: DerivationDraft, prescale: number): void {
	const kernel = draft.derivation.kernel!;
	draft.formula('round-tick', { prescale: Rational.int(prescale), kernel, tick: Rational.int(prescale).div(kernel) });
}
