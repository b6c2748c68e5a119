import { Rational, type Hertz, type Seconds } from '../exact/index.js';
import { largest } from './period.js';

/** Frequency by capture of every k-th edge: f = k x f_t / dN (timers.md 8). */

/** The lowest frequency whose interval fits the counter without counting overflows. */
export function lowestCaptured(tickRate: Hertz, width: number, every: number): Hertz {
	return Rational.int(every)
		.mul(tickRate)
		.div(Rational.int(largest(width)));
}

/** One count more or less, relative to f. */
export function captureStep(hz: Hertz, tickRate: Hertz, every: number): Rational {
	return hz.div(Rational.int(every).mul(tickRate));
}

/** One count more or less when edges are counted for a gate time. */
export function gatedStep(hz: Hertz, gate: Seconds): Rational {
	return hz.mul(gate).inverse();
}

/** Where capture and gated counting are equally fine: f^2 = k x f_t / gate. The square, which is exact. */
export function crossoverSquared(tickRate: Hertz, every: number, gate: Seconds): Rational {
	return Rational.int(every).mul(tickRate).div(gate);
}

/** Above this the wished relative step is not kept. */
export function highestForStep(step: Rational, tickRate: Hertz, every: number): Hertz {
	return step.mul(Rational.int(every)).mul(tickRate);
}

/** Encoder counts over so many turns, and the reload that wraps after them (timers.md 8). */
export function encoderRange(cyclesPerTurn: number, times: 1 | 2 | 4, turns: number): { counts: number; reload: number } {
	const counts = cyclesPerTurn * times * turns;
	return { counts, reload: counts - 1 };
}

/** The fastest edges that a filter of N samples, one every F kernel cycles, lets through: the next edge must come later. */
export function filterWindow(samples: number, divide: number, kernel: Hertz): Seconds {
	return Rational.int(samples * divide).div(kernel);
}
