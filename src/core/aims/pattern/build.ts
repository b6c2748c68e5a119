import { details, lagOf, pinLane, timerFor, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { PatternAim } from './schema.js';

/** Words sent to a port at each update (timers.md 9), a lane for every line. */
export function buildPattern(builder: SystemBuilder, derivation: AimDerivation<PatternAim>): Unplanned | undefined {
	const { aim, words, run } = derivation;
	const { lag, lagMost } = run;
	const timer = timerFor(builder, derivation);
	if (!timer || !words || !lag || timer.pattern) return 'not-derived';
	const bits = (mask: number) => Array.from({ length: 32 }, (_, bit) => bit).filter((bit) => Math.floor(mask / 2 ** bit) % 2 === 1);
	timer.pattern = {
		words: words.map(({ set, clear }) => ({ set: bits(set), clear: bits(clear) })),
		loop: aim.loop === 'yes',
		lag: lagOf(builder, lag, lagMost),
		initial: []
	};
	for (const line of aim.lines) builder.lanes.push(pinLane(aim.id, line.name, `${timer.id}.p${Number(line.bit)}`));
	details(builder, aim.id, timer);
	return undefined;
}
