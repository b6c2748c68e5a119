import { Rational, type Seconds } from '../../exact/index.js';
import type { CountingMode } from '../../part/index.js';
import { elapsedTicks, largest, type Run } from '../../timer/index.js';
import type { DerivationDraft } from '../common/draft.js';

/** The time between two readings of the counter, which may have wrapped once between them. */
export function tellElapsed(draft: DerivationDraft, mode: CountingMode, [from, to]: (number | undefined)[], tick: Seconds): void {
	if (from === undefined || to === undefined) return;
	const round = roundOf(draft, mode);
	if (!round) {
		draft.warn({ code: 'elapsed-both-ways' });
		return;
	}
	const ticks = elapsedTicks(from, to, round);
	if (ticks === undefined) {
		draft.fault({ code: 'reading-never', values: [from, to].filter((value) => value < round.first || value > round.last), ...round });
		return;
	}
	const full = Rational.int(round.last - round.first + 1);
	draft.figure('elapsed', tick.mul(Rational.int(ticks)), 's');
	const numbers = { from: Rational.int(from), to: Rational.int(to), full, ticks: Rational.int(ticks) };
	draft.formula(round.down ? 'elapsed-down' : 'elapsed', numbers);
	draft.figure('elapsed-most', tick.mul(full), 's');
}

/** The values that the counter goes through from one wrap to the next; undefined where it goes through them both ways. */
function roundOf({ derivation: { use, run, timer } }: DerivationDraft, mode: CountingMode): Run | undefined {
	const whole = largest(timer!.width);
	const { reload } = use ?? {};
	switch (mode) {
		case 'up':
		case 'down': {
			const down = mode === 'down';
			if (timer!.rule === 'inclusive') return { first: 0, last: reload ?? whole, down };
			// Reload 0 stands for the whole width.
			if (!reload) return { first: 0, last: whole, down };
			return down ? { first: 1, last: reload, down } : { first: 0, last: reload - 1, down };
		}
		case 'updown':
			return undefined;
		case 'preload':
			return { first: run.interval?.late ? 0 : (run.interval?.value ?? 0), last: whole, down: false };
		case 'clear':
			return { first: 0, last: (run.interval?.ticks ?? whole + 1) - 1, down: false };
		default:
			return { first: 0, last: whole, down: false };
	}
}
