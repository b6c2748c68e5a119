import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { SimTimer } from '../../sim/index.js';
import { cyclesOf, pinLane, type SystemBuilder } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { DerivationDraft } from '../common/draft.js';
import { readSpan, readWhole } from '../common/fields.js';
import { servedTimes } from '../common/setup.js';
import type { TableAim } from './schema.js';

/** The port's bits that stand for the legs. */
const PLUS = 0;
const MINUS = 1;

/**
 * The slow legs of a bridge (timers.md 16): each carries the half wave that its output shapes. Software switches them so many rows after
 * the one that crosses zero: the one off, and after the dead time the other on. `pace`: rows a second.
 */
export function deriveLegs(draft: DerivationDraft, aim: TableAim, rows: number, pace: Hertz): void {
	if (aim.legs === 'none') return;
	const after = draft.take('legsAfter', readWhole(aim.legsAfter, 0));
	const dead = draft.take('legsDead', readSpan(aim.legsDead));
	if (aim.wave !== 'half' || aim.second === '') {
		draft.fault({ code: 'legs-need-halves' });
		return;
	}
	const { lag } = draft.derivation.run;
	if (after === undefined || !dead || !lag) return;
	const late = aim.writes === 'buffered' && aim.prefill === 'no' ? 1 : 0;
	const row: Seconds = pace.inverse();
	const half = Math.ceil(rows / 2);
	const whole = row.mul(Rational.int(after)).add(lag).add(dead);
	draft.figure('legs-after', row.mul(Rational.int(after)).add(lag), 's');
	draft.figure('legs-dead', dead, 's');
	if (whole.compare(row.mul(Rational.int(rows - half))) >= 0) {
		draft.fault({ code: 'legs-late', after: whole, half: row.mul(Rational.int(rows - half)) });
		return;
	}
	// Row k acts at update k, or one later; the first row acts from the start.
	const at = (crossing: number) => (crossing + late + after + rows - 1) % rows;
	draft.derivation.run.legs = { plusAt: at(0), minusAt: at(half), rows, dead };
}

/** Lets the simulated timer switch the legs, a lane each. */
export function addLegs(builder: SystemBuilder, timer: SimTimer, { aim, run }: AimDerivation<TableAim>, lag: Seconds): void {
	const { legs } = run;
	if (!legs || timer.legs) return;
	const after = cyclesOf(builder, legs.dead);
	const turn = (off: number, on: number) =>
		after === 0 ? { set: [on], clear: [off] } : { set: [], clear: [off], then: { after, set: [on], clear: [] } };
	const words = Array.from({ length: legs.rows }, (_, k) => {
		if (k === legs.plusAt) return turn(MINUS, PLUS);
		return k === legs.minusAt ? turn(PLUS, MINUS) : { set: [], clear: [] };
	});
	const times = servedTimes(aim);
	const first = times === 'once' && words[0].clear.length > 0 ? words[0] : { set: [], clear: [PLUS, MINUS] };
	const sent = times === 'always' ? words : [first];
	timer.legs = { words: sent, loop: times === 'always', lag: cyclesOf(builder, lag), initial: [] };
	builder.lanes.push(pinLane(aim.id, 'plus', `${timer.id}.s${PLUS}`), pinLane(aim.id, 'minus', `${timer.id}.s${MINUS}`));
}
