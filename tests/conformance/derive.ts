import { z } from 'zod';
import { nearestTap, splitCount } from '../../src/core/solve/index.js';
import {
	captureStep,
	deadTimeFor,
	encoderRange,
	lowestCaptured,
	nearestDuty,
	oneShotFor,
	preloadFor,
	staggered,
	wholeTicks
} from '../../src/core/timer/index.js';
import { integer, rational, type Check } from './shapes.js';

const dutyGiven = z.strictObject({
	what: z.literal('duty'),
	mode: z.enum(['up', 'down', 'updown']),
	rule: z.enum(['inclusive', 'exclusive']),
	reload: integer,
	width: integer,
	output: z.enum(['below', 'above', 'enter', 'leave']),
	duty: rational
});

export const duty: Check = (raw) => {
	const { mode, rule, width, reload, output, duty } = dutyGiven.parse(raw);
	const found = nearestDuty({ mode, rule, width }, reload, output, duty);
	return found && { compare: found.compare, active_ticks: found.activeTicks, duty: found.duty };
};

const preloadGiven = z.strictObject({ what: z.literal('preload'), f_t: rational, seconds: rational, width: integer, lag: integer });

export const preload: Check = (raw) => {
	const { f_t, seconds, width, lag } = preloadGiven.parse(raw);
	const whole = wholeTicks(seconds, f_t);
	return { preload: preloadFor(whole.ticks, width, lag), ...whole };
};

const tapGiven = z.strictObject({
	what: z.literal('tap'),
	f_k: rational,
	p: z.array(integer),
	bits: z.tuple([integer, integer]),
	wish_hz: rational
});

export const tap: Check = (raw) => {
	const { f_k, p, bits, wish_hz } = tapGiven.parse(raw);
	const { prescale, bit, hz } = nearestTap(f_k, p, bits, wish_hz);
	return { p: prescale, bit, hz };
};

const segment = z.strictObject({ from: integer, to: integer, base: integer, step: integer });
const deadtimeGiven = z.strictObject({ what: z.literal('deadtime'), segments: z.array(segment), f_dts: rational, seconds: rational });

export const deadtime: Check = (raw) => {
	const { segments, f_dts, seconds } = deadtimeGiven.parse(raw);
	return deadTimeFor(segments, f_dts, seconds) ?? { code: null, cycles: null, seconds: null };
};

const oneshotGiven = z.strictObject({ what: z.literal('oneshot'), f_t: rational, width: integer, delay_s: rational, pulse_s: rational });

export const oneshot: Check = (raw) => {
	const { f_t, width, delay_s, pulse_s } = oneshotGiven.parse(raw);
	const found = oneShotFor(delay_s, pulse_s, f_t, width);
	return found && { compare: found.compare, reload: found.reload, delay_ticks: found.delayTicks, pulse_ticks: found.pulseTicks };
};

const captureGiven = z.strictObject({ what: z.literal('capture'), f_t: rational, width: integer, every: integer, at: z.array(rational) });

export const capture: Check = (raw) => {
	const { f_t, width, every, at } = captureGiven.parse(raw);
	return { lowest_hz: lowestCaptured(f_t, width, every), step_at: at.map((hz) => [hz, captureStep(hz, f_t, every)]) };
};

const encoderGiven = z.strictObject({
	what: z.literal('encoder'),
	cycles_per_turn: integer,
	times: z.union([z.literal(1), z.literal(2), z.literal(4)]),
	turns: integer
});

export const encoder: Check = (raw) => {
	const { cycles_per_turn, times, turns } = encoderGiven.parse(raw);
	return encoderRange(cycles_per_turn, times, turns);
};

const splitGiven = z.strictObject({ what: z.literal('split'), count: integer, max_factor: integer, factors: integer });

export const split: Check = (raw) => {
	const { count, max_factor, factors } = splitGiven.parse(raw);
	return splitCount(count, max_factor, factors);
};

const staggerGiven = z.strictObject({
	what: z.literal('stagger'),
	reload: integer,
	prescales: z.array(integer).min(1),
	parts: integer,
	latency: integer
});

export const stagger: Check = (raw) => {
	const { reload, prescales, parts, latency } = staggerGiven.parse(raw);
	const followers = prescales.slice(1).map((_, i) => staggered({ reload, prescale: prescales[0], parts, latency }, i + 1));
	return { compare: followers.map((f) => f.compare), lag_degrees: followers.map((f) => f.lagDegrees) };
};
