import { Rational, type Seconds } from '../exact/index.js';

/** The power of ten of a number's last written digit, trailing zeros and exponent as written: "1.50" is -2, "1500" is 0, "2.5e-6" is -7. */
export function lastDigit(written: string): number {
	const [, fraction = '', exponent = '0'] = /^[^.,eE]*(?:[.,](\d*))?(?:[eE]([-+]?\d+))?$/.exec(written.trim()) ?? [];
	return Number(exponent) - fraction.length;
}

/** The step of written times (timers.md 11): the finest last digit that they have. */
export function writtenStep(written: readonly string[], unit: Seconds): Seconds {
	return powerOfTen(Math.min(...written.map(lastDigit))).mul(unit);
}

/** The step of a threshold crossing between analogue samples: a tenth of a sample, or what noise over the slope leaves open. */
export function interpolatedStep(sample: Seconds, noise: Rational, slopePerSecond: Rational): Seconds {
	const [tenth, shaken] = [sample.div(Rational.int(10)), noise.div(slopePerSecond)];
	return tenth.compare(shaken) >= 0 ? tenth : shaken;
}

/** 10 to a whole power, exact. */
export function powerOfTen(power: number): Rational {
	const size = Rational.of(10n ** BigInt(Math.abs(power)));
	return power < 0 ? size.inverse() : size;
}
