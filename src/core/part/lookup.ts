import type { PinProfile, Route } from './pins.js';
import type { PartProfile } from './profile.js';
import type { CountingMode, OutputProfile, TimerProfile } from './timer.js';

/** Pins that a function reaches: "timer-a.ch1", "timer-a.ch1.n", "timer-a.in", "clock.crystal". */
export function pinsOf(part: PartProfile, pinFunction: string): PinProfile[] {
	return (part.pins ?? []).filter((pin) => pin.functions.includes(pinFunction));
}

/** The timers' trigger routes that lead to a timer. */
export function routesTo(part: PartProfile, timer: string): Route[] {
	return (part.wiring ?? []).filter((route) => route.to.timer === timer);
}

/** The timers that take their clock from a node, or are switched by it. */
export function timersOn(part: PartProfile, node: string): TimerProfile[] {
	return part.timers.filter((timer) => timer.kernel === node || timer.gate === node);
}

/**
 * What an output makes of its compare in a way of counting: "below" and "above" of the level model; "enter" and "leave"
 * for an action output that goes high at zero (at top, counting down) and low at the match; "turns" for one that acts on both
 * matches of up-down counting; "entered", "left" and "turned" where it goes low first.
 * undefined for any other preset, which has no one duty.
 */
export function pulseRule(
	output: OutputProfile,
	mode: CountingMode
): 'below' | 'above' | 'enter' | 'entered' | 'leave' | 'left' | 'turns' | 'turned' | undefined {
	if (output.model === 'level') return output.sense;
	const [begin, end, other] = mode === 'down' ? [output.top, output.matchDown, output.zero] : [output.zero, output.matchUp, output.top];
	if (mode === 'updown') return turnRule(output);
	if (other !== undefined) return undefined;
	if (begin === 'high' && end === 'low') return output.edge;
	if (begin === 'low' && end === 'high') return output.edge === 'enter' ? 'entered' : 'left';
	return undefined;
}

function turnRule({ edge, zero, top, matchUp, matchDown }: Extract<OutputProfile, { model: 'action' }>): 'turns' | 'turned' | undefined {
	if (edge !== 'enter' || zero !== undefined || top !== undefined) return undefined;
	if (matchUp === 'low' && matchDown === 'high') return 'turns';
	return matchUp === 'high' && matchDown === 'low' ? 'turned' : undefined;
}
