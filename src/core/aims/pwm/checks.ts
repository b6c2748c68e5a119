import { Rational } from '../../exact/index.js';
import type { DerivationDraft } from '../common/draft.js';
import type { PulseSetting } from '../common/pulse.js';
import type { PwmAim } from './schema.js';

/** What the duty is short of: bits, the period's ends, the wished step. */
export function checkDuty(draft: DerivationDraft<PwmAim>, set: PulseSetting, bits: number | undefined): void {
	const { ticks, wantedTicks: wanted, dutyError } = set;
	if (bits !== undefined && ticks < 2 ** bits) draft.fault({ code: 'bits-short', bits: Math.log2(ticks), wanted: bits, ticks });
	if (wanted.compare(Rational.int(ticks)) > 0) draft.fault({ code: 'duty-over-period', wanted, ticks });
	else if (wanted.sign < 0) draft.fault({ code: 'duty-below-zero', wanted });
	else if (bits !== undefined) {
		const step = Rational.ratio(1, 2 ** (bits + 1));
		if (dutyError.abs().compare(step) > 0) draft.fault({ code: 'duty-coarse', error: dutyError, step });
	}
	if (set.mostActive < ticks) draft.warn({ code: 'full-duty-unreachable', most: set.mostActive, ticks });
	if (set.leastActive > 0 && wanted.sign === 0) draft.fault({ code: 'no-duty-unreachable', least: set.leastActive, ticks });
	const { locks } = draft.derivation.aim;
	if (locks.compare !== undefined && set.compare !== set.wishedCompare && dutyError.sign !== 0)
		draft.warn({
			code: 'held-compare-off',
			held: set.compare,
			compare: set.wishedCompare,
			duty: set.duty,
			wished: wanted.div(Rational.int(ticks))
		});
}

/** What changes while the timer runs: how its compare is written. */
export function checkWrites(draft: DerivationDraft<PwmAim>): void {
	const { aim, timer } = draft.derivation;
	const offered = timer!.buffered?.compare ?? 'always';
	const changes = aim.sweep.trim() !== '';
	if (offered === (aim.writes === 'buffered' ? 'never' : 'always')) {
		const trouble = { code: 'cannot-buffer', timer: timer!.name, writes: aim.writes } as const;
		if (aim.writes === 'immediate') draft.fault(trouble);
		else if (changes) draft.warn(trouble);
	} else if (changes && aim.writes === 'immediate') draft.warn({ code: 'unbuffered' });
}

/** A sweep that ends where it begins. */
export function checkSweep(draft: DerivationDraft<PwmAim>, steps: number): void {
	if (steps === 0) draft.warn({ code: 'sweep-empty' });
}
