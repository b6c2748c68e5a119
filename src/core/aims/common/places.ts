import { pinsOf, pulseRule, type ChannelProfile, type PartProfile, type PinProfile, type TimerProfile } from '../../part/index.js';
import type { Counting, OutputRule } from '../../timer/index.js';

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

/** What an aim says of its output; "auto" for what it leaves open. */
export interface PulseChoice {
	align: 'auto' | 'up' | 'down' | 'updown';
	/** The index of an output model of the channel. */
	output: string;
}

/** The first way of counting, and in it the first output, that gives pulses and is not chosen otherwise; undefined where none does. */
export function pulseOn(timer: TimerProfile, channel: ChannelProfile, choice: PulseChoice = OPEN): Pulse | undefined {
	for (const mode of timer.modes) {
		if ((mode !== 'up' && mode !== 'down' && mode !== 'updown') || (choice.align !== 'auto' && choice.align !== mode)) continue;
		for (const [i, output] of channel.outputs.entries()) {
			const found = choice.output === 'auto' || choice.output === String(i) ? pulseRule(output, mode) : undefined;
			if (found) return { counting: { mode, rule: timer.rule, width: timer.width }, ...found };
		}
	}
	return undefined;
}

const OPEN: PulseChoice = { align: 'auto', output: 'auto' };

/** All channels of a part that can drive pulses, in the part's order. */
export function pulsePlaces(part: PartProfile): Place[] {
	return part.timers.flatMap((timer) =>
		timer.channels
			.filter((channel) => pulseOn(timer, channel))
			.map((channel) => ({ timer, channel, pins: pinsOf(part, `${timer.id}.${channel.id}`) }))
	);
}

/** Channels of a timer that can drive pulses. */
export function pulseChannels(timer: TimerProfile): ChannelProfile[] {
	return timer.channels.filter((channel) => pulseOn(timer, channel) !== undefined);
}
