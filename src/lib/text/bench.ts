import type { Misread } from '../../core/aims/index.js';
import type { QuantityVerdict, Suspect, Verdict } from '../../core/check/index.js';
import type { Note } from '../../core/formats/index.js';
import { Rational } from '../../core/exact/index.js';
import type { EventMark } from '../../workers/predictWire.js';
import { decimal, hundred, ppm, signed } from './numbers.js';

/** From a tenth off on, a rate is better said as a share of the planned one. */
const FAR = Rational.int(100_000);

export const OUTCOME: Record<Verdict['outcome'], string> = { within: 'Within', outside: 'Outside', undecided: 'Undecided' };

/** The verdict in one sentence a person would say. */
export function verdictText(verdict: Verdict): string {
	if (verdict.reason === 'no-plan') return 'The aim comes to no settings yet: there is nothing to hold the recording against.';
	if (verdict.reason === 'not-steady')
		return 'The plan shows no steady pulse on this line: planned and recorded waves are laid together, and what was measured stands beside.';
	if (verdict.reason === 'no-whole-period') return 'The window holds no whole period of this line.';
	return verdict.quantities.map(quantityText).join(' ');
}

function quantityText(q: QuantityVerdict): string {
	if (q.quantity === 'rate') {
		if (q.deviation.abs().compare(FAR) >= 0)
			return `The rate is ${decimal(q.measured.div(q.planned), 5)} times the planned one${reason(q)}`;
		const size = ppm(q.deviation.abs(), 3);
		const way = q.deviation.sign === 0 ? 'The rate is exactly as planned' : `The rate is ${size} ${q.deviation.sign < 0 ? 'slow' : 'fast'}`;
		return `${way}${reason(q)}`;
	}
	return `The duty is ${q.deviation.sign === 0 ? 'exactly as planned' : `${signed(decimal(hundred(q.deviation), 3), q.deviation)} percentage points off`}${reason(q)}`;
}

function reason(q: QuantityVerdict): string {
	if (q.deviation.sign === 0) return '.';
	if (q.explained)
		return q.quantity === 'rate'
			? ', no more than clock, recording and instrument explain.'
			: ', no more than the recording’s steps explain.';
	return q.within ? ', within what the aim allows.' : ', more than all of the budget.';
}

const SUSPECTS: Record<Suspect['code'], string> = {
	'prescale-one-more': 'The prescaler’s register holds the ratio, not one less',
	'reload-one-more': 'The reload register holds the period in ticks, not one less',
	'reload-one-less': 'The reload is one too small',
	'both-one-more': 'Prescaler and reload registers both hold one too many',
	'clock-at-reset': 'The clock is still as at reset',
	'doubling-forgotten': 'Worked out without the doubling between bus and timer',
	'doubling-assumed': 'Worked out with a doubling before the timer that is not there',
	'centre-aligned': 'The counter runs up and down: twice the period',
	toggled: 'The pin toggles at each period instead of following the compare',
	polarity: 'The output’s polarity is the other way round',
	'reload-bytes-swapped': 'High and low byte of the reload are swapped',
	'compare-bytes-swapped': 'High and low byte of the compare are swapped',
	'compare-one-more': 'The compare is one too large',
	'compare-one-less': 'The compare is one too small'
};

export function suspectText(code: Suspect['code']): string {
	return SUSPECTS[code];
}

const MISREAD: Record<Misread, string> = {
	wrapped: 'Wrapped: the interval went round the counter at least once, and overflows are not counted.',
	overwritten: 'Overwritten: the next edges came before software had served the one before.',
	missed: 'Missed: the filter rejected edges, or two came within one sample.',
	outside: 'Outside: the width lies outside the window that is accepted.'
};

/** Why a reading is not what came. */
export function misreadText(why: Misread): string {
	return MISREAD[why];
}

export function noteText(note: Note): string {
	switch (note.code) {
		case 'rounded-times':
			return `${note.count} times finer than 1 ps were rounded.`;
		case 'missing-cells':
			return `${note.count} empty cells: the level before was kept.`;
		case 'cut-last-line':
			return `The last line (${note.line}) has no line break; what was incomplete was left out.`;
		case 'no-names':
			return 'The columns have no names.';
		case 'time-assumed-seconds':
			return 'The time column names no unit: seconds are taken.';
		case 'flat-line':
			return `“${note.name}” never moves: its level is unknown.`;
		case 'beyond-slicing':
			return `“${note.name}” later goes far beyond the span that its threshold was set from.`;
		case 'left-out':
			return `“${note.name}” was left out.`;
		case 'alias':
			return `“${note.name}” is another name of a line.`;
	}
}

const ROLES: Record<string, string> = {
	input: 'what comes in',
	a: 'input A',
	b: 'input B',
	accepted: 'behind the filter',
	events: 'events',
	counter: 'counter',
	captures: 'captures',
	count: 'count',
	reference: 'before dead time'
};

const SIGNS: Record<EventMark, string> = {
	update: '▲ period',
	match: '◆ match',
	capture: '○ capture',
	interrupt: '▌interrupt',
	write: '▽ write',
	effect: '▼ acts'
};

/** The signs of an events lane, with what they stand for. */
export function signsText(marks: readonly EventMark[]): string {
	return marks.map((mark) => SIGNS[mark]).join(' ');
}

/** What a planned lane shows of its aim. */
export function roleText(role: string, outcome?: 'buffered' | 'immediate', whatIf?: boolean): string {
	const own = ROLES[role] ?? role;
	if (!outcome) return own;
	return `${own}, ${outcome === 'buffered' ? 'buffered' : 'at once'}${whatIf ? ': what if' : ''}`;
}
