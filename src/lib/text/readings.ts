import type { PlannedQuantity, RelationQuantity } from '../../core/aims/index.js';
import type { JudgedReading, ReadingTrouble, SweepFit, SweepRow } from '../../core/readings/index.js';
import { Rational } from '../../core/exact/index.js';
import { decimal } from './numbers.js';

const QUANTITIES: Record<PlannedQuantity['of'], string> = {
	frequency: 'rate',
	high: 'high width',
	duty: 'duty',
	level: 'level',
	delay: 'delay',
	phase: 'phase',
	gap: 'dead time',
	interval: 'interval',
	width: 'width'
};

/** What a reading is of. */
export function readQuantityName(of: PlannedQuantity['of']): string {
	return QUANTITIES[of];
}

const ENDS: Partial<Record<RelationQuantity, string>> = {
	rate: 'rate',
	duty: 'duty',
	delay: 'delay',
	width: 'width',
	interval: 'interval',
	high: 'high width',
	count: 'count',
	ticks: 'ticks read'
};

/** One end of a sweep: a quantity, or a register by its name. */
export function relationEnd(of: RelationQuantity): string {
	return ENDS[of] ?? `${of} value`;
}

const TROUBLES: Record<ReadingTrouble, string> = {
	'nothing-planned': 'the aim plans no such quantity as it stands',
	'no-value': 'type what was read off, such as 1.2003 kHz',
	'no-number': 'a number with its unit is wanted',
	'unknown-unit': 'this unit is not known here',
	ambiguous: 'the comma could part thousands or be a decimal sign: write it without',
	'wrong-dimension': 'this is a unit of something else',
	'not-positive': 'a value above zero is wanted'
};

export function readingTrouble(trouble: ReadingTrouble): string {
	return TROUBLES[trouble];
}

/** The same in a word or two. */
export function readingWord({ asSet, asWished = asSet, beyond }: JudgedReading): string {
	if (beyond) return 'proves nothing';
	if (asSet.explained) return asWished.within ? 'explained' : 'not as wished';
	return asWished.within ? 'within, not explained' : 'outside';
}

/** What a typed reading bears out, in a sentence. */
export function readingText({ asSet, asWished = asSet, beyond }: JudgedReading): string {
	if (beyond) return 'The signal lies outside of what this instrument can be believed for: it proves nothing.';
	if (asSet.explained)
		return asWished.within ? 'Plan, clock and instrument explain it.' : 'As the registers say, which is not what was wished.';
	return asWished.within
		? 'More than clock and instrument explain, but within what the aim allows.'
		: 'More than clock, instrument and aim allow.';
}

/** One row of a sweep. */
export function sweepRowText({ planned, explained, beyond }: SweepRow): string {
	if (!planned) return 'the registers do not reach this';
	if (beyond) return 'beyond the instrument';
	return explained ? 'explained' : 'not explained';
}

/** What the line through a sweep says, rounded; `unit`: of what is read, shares in percent. */
export function fitText({ slope, offset }: SweepFit, unit: string): string {
	const ppm = (slope - 1) * 1e6;
	const times = Math.abs(ppm) < 1e5 ? `${signed(ppm)} ppm off in slope` : `a slope of ≈${decimal(Rational.parse(slope.toPrecision(5)), 5)}`;
	return `${times}, ≈${signed(unit === '%' ? offset * 100 : offset)}${unit === '' ? '' : ` ${unit}`} in offset`;
}

function signed(value: number): string {
	if (value === 0 || Math.abs(value) < 1e-15) return '0';
	return `${value < 0 ? '−' : '+'}${Number(Math.abs(value).toPrecision(3))}`;
}
