import { Rational } from './rational.js';

/**
 * Rationals that carry their unit in the type. The brand is erased at run time; sums and products
 * give plain rationals, so a unit is stated again where a result gets one.
 */
declare const unit: unique symbol;

export type Hertz = Rational & { readonly [unit]?: 'hertz' };
export type Seconds = Rational & { readonly [unit]?: 'seconds' };
/** Parts per million as a plain rational: 50 means 50 ppm. */
export type Ppm = Rational & { readonly [unit]?: 'ppm' };
/** A whole number of counter ticks, below 2^53. */
export type Ticks = number;

export const MILLION = Rational.int(1_000_000);

/** (value - wish) / wish in ppm, signed (timers.md 10). Throws RangeError when wish is 0. */
export function ppmError(value: Rational, wish: Rational): Ppm {
	return value.sub(wish).div(wish).mul(MILLION);
}
