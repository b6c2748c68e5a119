import type { DumpSays } from '../../core/handoff/index.js';
import type { Damage, TurnedAround, Where } from '../../core/suspects/index.js';
import { Rational } from '../../core/exact/index.js';
import { seconds } from './numbers.js';

/** What each mistake is called, as a sentence without its end. */
const MISTAKES: Record<string, string> = {
	'reload-one-more': 'The reload register holds one more than it should',
	'reload-one-less': 'The reload register holds one less than it should',
	'prescale-one-more': 'The prescaler divides by one more than it should',
	'prescale-one-less': 'The prescaler divides by one less than it should',
	'both-one-more': 'Prescaler and reload both hold one more than they should',
	'both-one-less': 'Prescaler and reload both hold one less than they should',
	'compare-one-more': 'The compare register holds one more than it should',
	'compare-one-less': 'The compare register holds one less than it should',
	'prescale-code-neighbour': 'The prescaler’s code is the one beside the right one',
	'value-truncated': 'The value was cut to a narrower type on its way',
	'bytes-swapped': 'High and low byte of the value are the other way round',
	'digits-transposed': 'Two digits of the value were exchanged',
	'number-base': 'The value’s digits were taken for another number base',
	'value-of-another': 'The register holds the value of another aim',
	'clock-at-reset': 'The clock is still as at reset',
	'other-source': 'The clock comes from another source',
	'multiplier-off': 'A factor of the clock is another one',
	'doubling-forgotten': 'Worked out without the doubling between bus and timer',
	'doubling-assumed': 'Worked out with a doubling before the timer that is not there',
	'tick-divisor-wrong': 'The divisor before the counter is another one',
	'centre-halves': 'It counts up and down where one way was counted on, or the other way round',
	'toggle-halves': 'The pin toggles at each event where a pulse was counted on, or the other way round',
	'tick-rate-taken': 'The tick rate, and not the pulse rate, is what was wished',
	'capture-divisor-kept': 'The edges that a capture is over were not divided out, or once too often',
	'encoder-times-wrong': 'The encoder counts another number of edges a cycle',
	'polarity-inverted': 'The output’s polarity is the other way round',
	'match-enter-leave': 'The output acts when the compare is left, not when it is reached, or the other way round',
	'compare-not-rescaled': 'The compare was worked out for another period',
	'written-unbuffered': 'Written values act at once where they should wait for the update, or the other way round',
	'table-row-late': 'Each row comes a period late',
	'table-row-doubled': 'The first row comes twice',
	'table-row-missing': 'A row is left out',
	'third-as-33-percent': 'A share of the period was rounded to whole percents',
	'duty-mistyped': 'Another percentage than was wished was set',
	'latency-uncompensated': 'The cycles from trigger to effect were not taken into account',
	'software-reload-lag': 'Software loads the counter later than was counted on',
	'software-clear-lag': 'Software clears the counter later than was counted on',
	'filter-too-long': 'The input filter swallows what is fast',
	'wrap-not-counted': 'The counter went round and nobody counted it',
	'dead-time-doubled': 'The dead time is twice, or half, as long',
	'dead-time-unit': 'The dead time was worked out in other units',
	'pacing-off': 'What should pace the rows or words is not enabled',
	'output-off': 'The output is not enabled',
	'flag-not-cleared': 'The interrupt’s flag is not cleared: only the first event is served',
	'other-trigger': 'The trigger comes from another event or edge',
	'timers-exchanged': 'Two timers’ values are exchanged',
	'instrument-range': 'The instrument cannot be believed there',
	'missing-edges': 'The recording has lost edges',
	'extra-glitches': 'The recording shows glitches that come from no timer',
	'cut-both-ends': 'The recording stands still at both ends',
	'inverted-probe': 'The probe is inverted',
	'swapped-channels': 'Two channels of the recorder are exchanged',
	'time-base-off': 'The recorder’s time base is off by ten'
};

/** One mistake, or two, as people say it. */
export function mistakeText(codes: readonly string[]): string {
	const [first, ...more] = codes.map((code) => MISTAKES[code] ?? code);
	return [first, ...more.map((text) => text.charAt(0).toLowerCase() + text.slice(1))].join(', and ');
}

/** Where it sits, and what would stand there. */
export function whereText({ timer, channel, what, planned, found }: Where): string {
	const place = [timer, channel].filter((part) => part !== undefined && part !== '').join(' ');
	return `${place === '' ? '' : `${place}: `}${what} ${found} instead of ${planned}`;
}

/** What a dump of registers says of a suspect. */
export function dumpSaysText({ word, quantities }: DumpSays): string {
	const held = quantities.map(({ unit, quantity, read }) => `${unit} ${quantity} really is ${read}`).join('; ');
	return word === 'holds' ? `The dump agrees: ${held}.` : `The dump speaks against it: ${held}.`;
}

export function damageText({ code, lines, count }: Damage): string {
	const often = count > 1 ? `, ${count} times` : '';
	return `${MISTAKES[code]}: ${lines.join(', ')}${often}`;
}

/** A measured time in ticks of its timer: what the register would have to hold. */
export function turnedAroundText({ seconds: time, tick, ticks: [least, most], planned }: TurnedAround): string {
	const [length, one] = [time, tick].map((value) => seconds(Rational.parse(value.toPrecision(9)), 5));
	if (least !== most) return `${length} is ${least} to ${most} ticks of ${one}; ${planned} were planned`;
	return `${length} is exactly ${least} ticks of ${one}; ${planned} were planned`;
}

/** How far a measured value lies from a predicted one, in parts of what the recording leaves open. */
export function residualText(residual: number): string {
	const size = Math.abs(residual);
	const way = residual < 0 ? 'less' : 'more';
	if (size >= 1e8) return `nothing of the kind is predicted`;
	if (size < 0.005) return 'as predicted';
	const amount = size < 100 ? size.toPrecision(2) : Math.round(size).toLocaleString('en-GB');
	return `${amount} parts ${way} than predicted${size <= 1 ? ': explained' : ''}`;
}

/** What would tell two suspects apart. */
export function tellText(tell: { of: string; line: string; seconds?: number } | null, recorded: number): string {
	if (!tell) return '';
	if (tell.seconds === undefined) return `No recording of these lines tells them apart.`;
	const [need, here] = [tell.seconds, recorded].map((value) => seconds(Rational.parse(Math.max(value, 1e-12).toPrecision(3)), 3));
	return `The ${tell.of} of ${tell.line} would tell them apart, recorded for about ${need}${recorded > 0 ? ` (now ${here})` : ''}.`;
}
