import { pinsOf, pulseRule, type ChannelProfile, type PartProfile, type PinProfile, type TimerProfile } from '../../part/index.js';
import type { Counting, OutputRule } from '../../timer/index.js';

/** How a timer makes pulses of a settable width on a channel. */
export interface Pulse {
	counting: Counting;
	rule: OutputRule;
	/** The level of its output before anything acts on it; left out: low, or high where the rule begins with a fall. */
	initial?: 0 | 1;
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
	return pulsesOn(timer, channel, choice).next().value;
}

/**
 * Of the outputs that pulse as the first one does, from the begin of the period on, one that rests low until something
 * starts its timer, if there is one; otherwise the first.
 */
export function restingPulse(timer: TimerProfile, channel: ChannelProfile): Pulse | undefined {
	const [first, ...others] = pulsesOn(timer, channel, OPEN);
	const alike = ({ counting: { mode }, rule, initial }: Pulse) => mode === first.counting.mode && rule === 'enter' && (initial ?? 0) === 0;
	return first?.rule === 'below' && first.counting.mode === 'up' ? (others.find(alike) ?? first) : first;
}

/** Every output of a channel that gives pulses, way of counting by way of counting. */
function* pulsesOn(timer: TimerProfile, channel: ChannelProfile, choice: PulseChoice): Generator<Pulse, undefined, void> {
	for (const mode of timer.modes) {
		if ((mode !== 'up' && mode !== 'down' && mode !== 'updown') || (choice.align !== 'auto' && choice.align !== mode)) continue;
		for (const [i, output] of channel.outputs.entries()) {
			const rule = choice.output === 'auto' || choice.output === String(i) ? pulseRule(output, mode) : undefined;
			if (!rule) continue;
			const initial = output.model === 'action' ? output.initial : undefined;
			yield { counting: { mode, rule: timer.rule, width: timer.width }, rule, ...(initial !== undefined && { initial }) };
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
