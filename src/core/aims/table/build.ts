import {
	addChannel,
	bufferedOn,
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
import { servedTimes } from '../common/setup.js';
import { addLegs } from './legs.js';
import { outputsOf } from './own.js';
import type { TableAim } from './schema.js';

/** One or two channels whose compares a sequence of rows writes (timers.md 9). */
export function buildTable(builder: SystemBuilder, derivation: AimDerivation<TableAim>): Unplanned | undefined {
	const { aim, run } = derivation;
	const { rows, lag } = run;
	const timer = timerFor(builder, derivation);
	const channels = outputsOf(aim);
	const pulses = channels.map((id) => pulseOf(derivation, id, aim.align));
	if (!timer || !rows || !lag || pulses.some((pulse) => !pulse)) return 'not-derived';
	// A channel that another aim drives keeps what that one says.
	if (timer.channels.some(({ id }) => channels.includes(id))) return 'not-derived';
	const prefill = aim.prefill === 'yes' && aim.writes === 'buffered';
	// What was filled before the start still comes; a flag that stays set lets one more row be written.
	const times = servedTimes(aim);
	const written = times === 'always' ? rows : rows.slice(0, (prefill ? 2 : 1) + (times === 'once' ? 1 : 0));
	(timer.sequences ??= []).push({ rows: written, loop: times === 'always', lag: cyclesOf(builder, lag), prefill });
	channels.forEach((id, i) => {
		const buffered = bufferedOn(derivation.timer!, aim.writes);
		addChannel(timer, { id, compare: 0, output: outputOf(pulses[i]!), inverted: false, buffered });
		builder.lanes.push(pinLane(aim.id, channels.length === 1 ? 'pin' : id, `${timer.id}.${id}`));
	});
	addLegs(builder, timer, derivation, lag);
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
