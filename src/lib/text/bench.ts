import type { QuantityVerdict, Suspect, Verdict } from '../../core/check/index.js';
import type { Note } from '../../core/formats/index.js';
import { percent, ppm, signed } from './numbers.js';

export const OUTCOME: Record<Verdict['outcome'], string> = { within: 'Within', outside: 'Outside', undecided: 'Undecided' };

/** The verdict in one sentence a person would say. */
export function verdictText(verdict: Verdict): string {
	if (verdict.reason === 'no-plan') return 'The aim comes to no settings yet: there is nothing to hold the recording against.';
	if (verdict.reason === 'no-whole-period') return 'The window holds no whole period of this line.';
	return verdict.quantities.map(quantityText).join(' ');
}

function quantityText(q: QuantityVerdict): string {
	if (q.quantity === 'rate') {
		const size = ppm(q.deviation.abs());
		const way = q.deviation.sign === 0 ? 'The rate is exactly as planned' : `The rate is ${size} ${q.deviation.sign < 0 ? 'slow' : 'fast'}`;
		return `${way}${reason(q)}`;
	}
	return `The duty is ${q.deviation.sign === 0 ? 'exactly as planned' : `${signed(percent(q.deviation, 4), q.deviation)} off`}${reason(q)}`;
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
	'prescale-one-more': 'The prescaler’s register holds the ratio itself, where one less is meant',
	'reload-one-more': 'The reload register holds the period in ticks, where one less is meant',
	'reload-one-less': 'The reload is one too small',
	'both-one-more': 'Prescaler and reload registers both hold one too many',
	'clock-at-reset': 'The clock is still as at reset: its set-up did not run, or did not take',
	'doubling-forgotten': 'The values were worked out without the doubling between bus and timer',
	'doubling-assumed': 'The values were worked out with a doubling between bus and timer that is not there',
	'centre-aligned': 'The counter runs up and down, so a period is twice as long',
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
