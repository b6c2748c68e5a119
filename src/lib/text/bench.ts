import type { Misread } from '../../core/aims/index.js';
import type { Held, QuantityVerdict, Verdict } from '../../core/check/index.js';
import type { Note } from '../../core/formats/index.js';
import { MILLION, Rational } from '../../core/exact/index.js';
import type { AlignedWire } from '../../workers/benchWire.js';
import type { EventMark } from '../../workers/predictWire.js';
import { decimal, hundred, ppm, quantityText, seconds, signed } from './numbers.js';
import { listed } from './words.js';

/** From a tenth off on, a rate is better said as a share of the planned one. */
const FAR = Rational.int(100_000);

export const OUTCOME: Record<Verdict['outcome'], string> = { within: 'Within', outside: 'Outside', undecided: 'Undecided' };

/** What a plan's last verdict speaks of, and of which revision where that is an older one. */
export function verdictOn(
	{ aim, more, recording, revision }: { aim: string; more?: number; recording: string; revision: number },
	now: number
): string {
	const aims = more === undefined ? aim : `${aim} and ${more} more`;
	return [aims, recording, revision === now ? '' : `rev ${revision}`].filter((part) => part !== '').join(', ');
}

/** The verdict in one sentence a person would say. */
export function verdictText(verdict: Verdict): string {
	if (verdict.reason) return REASONS[verdict.reason];
	if (verdict.quantities.length === 0) return 'The line stands still, as planned.';
	return quantitiesText(verdict.quantities);
}

const REASONS: Record<NonNullable<Verdict['reason']>, string> = {
	'no-plan': 'The aim comes to no settings yet: there is nothing to hold the recording against.',
	'not-steady':
		'The plan shows no steady pulse on this line: planned and recorded waves are laid together, and what was measured stands beside.',
	'no-whole-period': 'The window holds no whole period of this line.',
	'never-moves': 'The line never moves, though it is planned to.',
	moves: 'The line moves, though it is planned to stand still.',
	'other-level': 'The line stands still at the other level than planned.'
};

const QUANTITIES: Record<QuantityVerdict['of'], string> = {
	frequency: 'rate',
	high: 'high width',
	low: 'low width',
	duty: 'duty',
	interval: 'interval of events'
};

export function quantityName(of: QuantityVerdict['of']): string {
	return { frequency: 'Rate', high: 'High', low: 'Low', duty: 'Duty', interval: 'Interval' }[of];
}

/** Quantities of which the same can be said in one sentence. */
function quantitiesText(quantities: readonly QuantityVerdict[]): string {
	const said = new Map<string, QuantityVerdict[]>();
	for (const one of quantities) said.set(reason(one), [...(said.get(reason(one)) ?? []), one]);
	return [...said]
		.map(([why, of]) => `${listed(of.map((one, i) => `${i === 0 ? 'The' : 'the'} ${QUANTITIES[one.of]} is ${offText(one)}`))}${why}`)
		.join(' ');
}

/** How far a quantity is off the plan, as one would say it. */
function offText({ of, asSet: { deviation, against }, measured }: QuantityVerdict): string {
	if (deviation.sign === 0) return 'exactly as planned';
	if (of === 'duty') return `${signed(decimal(hundred(deviation), 3), deviation)} percentage points off`;
	const share = deviation.div(against).mul(MILLION);
	if (share.abs().compare(FAR) >= 0) return `${decimal(measured.div(against), 5)} times the planned one`;
	const words = of === 'frequency' ? ['slow', 'fast'] : ['short', 'long'];
	return `${ppm(share.abs(), 3)} ${words[deviation.sign < 0 ? 0 : 1]}`;
}

/** What the numbers bear out (timers.md 11). */
function reason({ of, asSet, asWished = asSet }: QuantityVerdict): string {
	const wished = asWished.within ? '' : ' That is not what was wished.';
	if (asSet.deviation.sign === 0) return `.${wished}`;
	if (asSet.explained)
		return `, no more than ${of === 'duty' ? 'the recording’s step explains' : 'clock, recording and instrument explain'}.${wished}`;
	return asWished.within
		? ', more than clock, recording and instrument explain, but within what the aim allows.'
		: ', more than clock, recording and instrument explain, and more than the aim allows.';
}

/** Whether a deviation is proven to be inside, and what would prove it. Empty where it is. */
export function shownText({ within, shown, needs }: Held): string {
	if (!within || shown) return '';
	return needs ? `Not proven yet: about ${seconds(needs, 2)} of recording would.` : 'Not proven: it takes a finer recording or instrument.';
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
			return `${note.count} times finer than ${note.name ?? '1 ps'} were rounded.`;
		case 'missing-cells':
			return `${note.count} empty cells: the level before was kept.`;
		case 'cut-last-line':
			return `The last line (${note.line}) has no line break; what was incomplete was left out.`;
		case 'footer':
			return `From line ${note.line} on no rows come any more: ${note.count} ${note.count === 1 ? 'line was' : 'lines were'} left out.`;
		case 'remarks':
			return `${note.count} ${note.count === 1 ? 'line of remarks was' : 'lines of remarks were'} passed over.`;
		case 'repeated-heading':
			return `The headings stand ${note.count === 1 ? 'once' : `${note.count} times`} more among the rows.`;
		case 'equal-times':
			return `${note.count} ${note.count === 1 ? 'row has' : 'rows have'} the time of the row before: the later one counts.`;
		case 'unknown-cells':
			return `${note.count} ${note.count === 1 ? 'cell' : 'cells'} without a value, the first “${note.name}” in line ${note.line}: unknown levels.`;
		case 'time-unit-unknown':
			return `The time's unit “${note.name}” is not known here: seconds are taken. Is that right?`;
		case 'decimal-guessed':
			return 'Commas are taken for decimal signs, though they could group thousands. Is that right?';
		case 'date-order-guessed':
			return 'Dates are taken as month, day, year, though day and month could be the other way round. Is that right?';
		case 'origin':
			return `Times count from “${note.name}”.`;
		case 'index-column':
			return `“${note.name}” only numbers the rows and is left out.`;
		case 'cut-end':
			return 'The file ends before its head says so; what is there was read.';
		case 'no-names':
			return 'The columns have no names.';
		case 'time-assumed-seconds':
			return 'The time column names no unit: seconds are taken.';
		case 'flat-line':
			return `“${note.name}” never moves: its level is unknown.`;
		case 'on-raster':
			return `All edges lie on a raster of ${quantityText(Rational.parse(note.name!), 's')}, which may be the recorder’s sampling.`;
		case 'left-out':
			return (note.count ?? 1) > 1
				? `“${note.name}” and ${note.count! - 1} more are too much to show, and were left out.`
				: `“${note.name}” was left out.`;
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

/** What is said of a lane in a word or three: where its two answers differ, which one is the worse. */
export function laneText({ outcome, asSet, asWished }: Verdict): string {
	if (asSet === asWished) return outcome;
	return outcome === asSet ? `${asSet} as set` : `${asWished} as wished`;
}

/** How a recording lies on the plan, and what became of one of its lines. */
export function laidText({ found, at }: { found: AlignedWire; at: number }, byHand = false): string {
	if (!found.fits) return 'No laying on the plan fits: plan and recording are laid with their first rises together.';
	const { laying, ratioKnown, places, lines } = found;
	const parts = ratioKnown.map((end) => (end - 1) * 1e6);
	const off = (laying.ratio - 1) * 1e6;
	const known = Math.max(parts[1] - off, off - parts[0]);
	const clock = byHand
		? 'As it was laid by hand:'
		: `Laid on the plan by its edges: its clock runs ≈${signedNumber(off)} ppm against the plan’s, known to ≈${Number(known.toPrecision(2))} ppm.`;
	const line = lines[at];
	const counts = line
		? [
				[
					line.matched - line.off.length,
					line.matched - line.off.length === 1 ? 'edge is where it should be' : 'edges are where they should be'
				],
				[line.missing.length, 'missing'],
				[line.extra.length, 'extra'],
				[line.glitches.length, line.glitches.length === 1 ? 'glitch' : 'glitches'],
				[line.off.length, 'further off than the steps explain']
			].flatMap(([count, word], i) => (count === 0 && i > 0 ? [] : [`${count} ${word}`]))
		: [];
	const where = places > 1 ? ` It fits ${places} places nearly as well.` : '';
	return `${clock} ${counts.length > 0 ? `Of this line ${listed(counts)}.` : ''}${where}`;
}

function signedNumber(value: number): string {
	return `${value < 0 ? '−' : '+'}${Number(Math.abs(value).toPrecision(4))}`;
}
