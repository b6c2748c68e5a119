import { Rational } from '../../exact/index.js';
import { readTolerance, readWhole } from '../common/fields.js';
import type { PatternAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { choosePeriod, periodLinks } from '../common/period.js';
import { periodsAnUpdate } from '../common/updates.js';

const BITS = 32;

/** A pattern streamed to a port, a word at each update (timers.md 9): the words, the pace, the window of the lag, and where the stream breaks. */
export function derivePattern(aim: PatternAim, context: AimContext): AimDerivation<PatternAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const rate = draft.rate('rate', aim.rate);
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const least = draft.cycles('least', aim.least);
	const most = draft.cycles('most', aim.most);
	const bits = aim.lines.map(({ bit }, i) => draft.take(`lines.${i}.bit`, readWhole(bit, 0)));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const mode = timer.modes.find((one) => one === 'up' || one === 'down' || one === 'updown');
	if (!mode) {
		draft.fault({ code: 'cannot-job', timer: timer.name, kind: 'pattern' });
		return derivation;
	}
	if (!(timer.paced ?? []).includes('update')) draft.fault({ code: 'not-paced', timer: timer.name });
	const stream = context.onTimer(timer.id).find(({ words }) => words);
	if (stream) draft.fault({ code: 'stream-taken', timer: timer.name, other: stream.aim.name });
	// A word goes with each update.
	const share = periodsAnUpdate(context, timer, mode);
	const best = rate && choosePeriod(draft, { mode, rule: timer.rule, width: timer.width }, rate, tolerance, { share });
	checkLines(draft, aim, bits);
	checkPort(draft, aim, bits);
	const count = Math.max(...aim.lines.map(({ levels }) => levels.length));
	derivation.words = wordsOf(aim, bits, count);
	if (!best) return derivation;
	derivation.strip = periodLinks(timer, best);
	const period = best.hz.inverse().mul(share);
	draft.figure('pace', period.inverse(), 'Hz');
	draft.figure('error', best.ppm, 'ppm');
	draft.figure('word-time', period, 's');
	draft.figure('words', Rational.int(count), 'words');
	draft.figure('length', period.mul(Rational.int(count)), 's');
	if (count > 0) draft.figure('repeats', period.mul(Rational.int(count)).inverse(), 'Hz');
	draft.formula('pattern', { rate: period.inverse(), count: Rational.int(count), length: period.mul(Rational.int(count)) });
	if (least === undefined || most === undefined) return derivation;
	if (least > most) {
		draft.fault({ code: 'lags-reversed' });
		return derivation;
	}
	derivation.run.lag = draft.time(least);
	derivation.run.lagMost = draft.time(most);
	draft.figure('lag-least', draft.time(least), 's');
	draft.figure('lag-most', draft.time(most), 's');
	draft.figure('jitter', draft.time(most - least), 's');
	draft.figure('break-limit', period, 's');
	draft.figure('margin', period.sub(draft.time(most)), 's');
	if (draft.time(most).compare(period) >= 0) draft.fault({ code: 'pattern-breaks', most: draft.time(most), period });
	return derivation;
}

function checkLines(draft: DerivationDraft, { lines }: PatternAim, bits: (number | undefined)[]): void {
	const longest = Math.max(...lines.map(({ levels }) => levels.length));
	if (longest === 0) draft.fault({ code: 'pattern-empty' });
	for (const [i, bit] of bits.entries()) {
		if (bit === undefined) continue;
		if (bit >= BITS) draft.fault({ code: 'lock-refused', link: 'bit', value: bit, limit: BITS - 1 });
		const twin = bits.indexOf(bit);
		if (twin < i) draft.fault({ code: 'bit-twice', bit, lines: [lines[twin].name, lines[i].name] });
		const words = lines[i].levels.length;
		if (words < longest) draft.warn({ code: 'lines-uneven', line: lines[i].name, words, longest });
	}
}

/** All lines of one stream are bits of one port: a line's pin says of which, and which bit it is, where the part tells. */
function checkPort(draft: DerivationDraft, { lines }: PatternAim, bits: (number | undefined)[]): void {
	let first: string | undefined;
	for (const [i, { name, pin: typed }] of lines.entries()) {
		const wanted = typed.trim();
		const pin = draft.context.part.pins?.find(({ id, name: own }) => wanted !== '' && (id === wanted || own === wanted));
		if (!pin?.port) continue;
		const { name: port, bit: own } = pin.port;
		first ??= port;
		if (port !== first) draft.fault({ code: 'ports-differ', line: name, pin: pin.name, port, other: first });
		else if (bits[i] !== undefined && bits[i] !== own)
			draft.fault({ code: 'bit-not-pin', line: name, index: i, pin: pin.name, bit: bits[i], own });
	}
}

/** The words: what each sets and clears. A line that ends early holds its last level; one without a level is left alone. */
function wordsOf({ lines }: PatternAim, bits: (number | undefined)[], count: number): NonNullable<AimDerivation['words']> {
	return Array.from({ length: count }, (_, k) => {
		let [set, clear] = [0, 0];
		lines.forEach(({ levels }, i) => {
			const bit = bits[i];
			if (bit === undefined || bit >= BITS || levels === '') return;
			const mask = 2 ** bit;
			if (levels[Math.min(k, levels.length - 1)] === '1') set = (set | mask) >>> 0;
			else clear = (clear | mask) >>> 0;
		});
		return { set, clear };
	});
}
