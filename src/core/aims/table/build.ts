import {
	addChannel,
	cyclesOf,
	details,
	outputOf,
	pinLane,
	pulseOf,
	timerFor,
	type SystemBuilder,
	type Unplanned
} from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { TableAim } from './schema.js';

/** One or two channels whose compares a sequence of rows writes (timers.md 9). */
export function buildTable(builder: SystemBuilder, derivation: AimDerivation<TableAim>): Unplanned | undefined {
	const { aim, run } = derivation;
	const { rows, lag } = run;
	const timer = timerFor(builder, derivation);
	const pulse = pulseOf(derivation, aim.channel);
	if (!timer || !rows || !pulse || !lag || timer.sequence) return 'not-derived';
	timer.sequence = {
		rows,
		loop: true,
		lag: cyclesOf(builder, lag),
		prefill: aim.prefill === 'yes' && aim.writes === 'buffered'
	};
	if (aim.writes === 'immediate') timer.buffered = { ...timer.buffered, compare: derivation.timer!.buffered?.compare === 'always' };
	for (const id of [aim.channel, ...(aim.second === '' ? [] : [aim.second])]) {
		addChannel(timer, { id, compare: 0, output: outputOf(pulse.rule, pulse.counting.mode, pulse.inverted), inverted: false });
		builder.lanes.push(pinLane(aim.id, aim.second === '' ? 'pin' : id, `${timer.id}.${id}`));
	}
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
