import { pinsOf, pulseRule, type ChannelProfile, type PartProfile, type PinProfile, type TimerProfile } from '../part/index.js';
import type { Counting, OutputRule } from '../timer/index.js';

/** How a timer makes pulses of a settable width on a channel. */
export interface Pulse {
	counting: Counting;
	rule: OutputRule;
	/** True: the output is low while the rule says active. */
	inverted: boolean;
}

/** A channel that can drive pulses, with the pins that it reaches. */
export interface Place {
	timer: TimerProfile;
	channel: ChannelProfile;
	pins: PinProfile[];
}

/** The first way of counting, and in it the first output, that gives pulses; undefined where none does. */
export function pulseOn(timer: TimerProfile, channel: ChannelProfile): Pulse | undefined {
	for (const mode of timer.modes) {
		if (mode !== 'up' && mode !== 'down' && mode !== 'updown') continue;
		for (const output of channel.outputs) {
			const found = pulseRule(output, mode);
			if (found) return { counting: { mode, rule: timer.rule, width: timer.width }, ...found };
		}
	}
	return undefined;
}

/** All channels of a part that can drive pulses, in the part's order. */
export function pulsePlaces(part: PartProfile): Place[] {
	return part.timers.flatMap((timer) =>
		timer.channels
			.filter((channel) => pulseOn(timer, channel))
			.map((channel) => ({ timer, channel, pins: pinsOf(part, `${timer.id}.${channel.id}`) }))
	);
}
