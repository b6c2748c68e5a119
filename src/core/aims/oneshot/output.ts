import type { ChannelProfile, OutputProfile } from '../../part/index.js';
import type { OneShotAim } from './schema.js';

export const SHOTS: readonly OneShotAim['each'][] = ['pulse', 'toggle'];

/** The first output of a channel that gives one pulse a shot (timers.md 6), or turns its level once a shot and does nothing else. */
export function shotOutput({ outputs }: ChannelProfile, each: OneShotAim['each']): OutputProfile | undefined {
	return outputs.find((one) => (each === 'pulse' ? one.model === 'level' && one.sense === 'above' : turnsOnce(one)));
}

function turnsOnce(output: OutputProfile): boolean {
	return output.model === 'action' && output.matchUp === 'toggle' && output.zero === undefined && output.top === undefined;
}

/** Ticks from the compare's match to what it does: one where a match acts on leaving. */
export function ticksBehind(output: OutputProfile): 0 | 1 {
	return output.model === 'action' && output.edge === 'leave' ? 1 : 0;
}
