import { Rational } from '../../core/exact/index.js';
import type { CardKind, SeriesKind } from '../../core/measure/index.js';

const NAMES: Record<CardKind, string> = {
	period: 'period',
	frequency: 'frequency',
	high: 'high width',
	low: 'low width',
	duty: 'duty',
	edges: 'edge to edge',
	delay: 'delay',
	phase: 'phase',
	gap: 'gap',
	overlap: 'overlap',
	answers: 'edge to the other’s, within',
	glitches: 'glitches under',
	pauses: 'pauses over',
	bursts: 'pulses a burst, parted by',
	bounce: 'bounce, quiet after',
	position: 'encoder position',
	speed: 'counts a second',
	turns: 'counts one way',
	missed: 'counts missed',
	top: 'level when high',
	base: 'level when low',
	rise: 'slew of rises',
	fall: 'slew of falls'
};

/** What a card measures. */
export function cardName(kind: CardKind): string {
	return NAMES[kind];
}

const UNITS: Record<SeriesKind, string> = { time: 's', rate: 'Hz', ratio: '%', degrees: '°', count: '', level: 'V', slew: 'V/µs' };

/** What a card's values are multiplied by to be shown in that unit. */
export function cardScale(kind: SeriesKind): Rational {
	return kind === 'ratio' ? Rational.int(100) : kind === 'slew' ? Rational.ratio(1, 1_000_000) : Rational.one;
}

/** The unit that a card's values are shown in. */
export function cardUnit(kind: SeriesKind): string {
	return UNITS[kind];
}

const TROUBLES: Record<string, string> = {
	'no-lane': 'its line is not mapped any more, or its recording is not here',
	'no-other': 'choose the line that it is held against',
	'no-marks': 'choose two marks',
	'no-samples': 'the line has no samples: it was recorded as levels',
	'no-limit': 'a time such as 5 µs is wanted',
	'other-unit': 'both lines must be of one recording',
	'too-many': 'over 10 million edges lie in the window: a shorter one is measured here'
};

/** Why a card shows nothing, and what would help. */
export function cardTrouble(trouble: string): string {
	return TROUBLES[trouble] ?? trouble;
}
