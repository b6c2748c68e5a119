import type { Shared } from '../../core/check/index.js';
import { hertz, percent, seconds } from './numbers.js';

/** What two aims share, in a sentence; `nodeName` gives a clock node's name in this plan. */
export function sharedText(shared: Shared, nodeName: (id: string) => string): string {
	switch (shared.code) {
		case 'timer':
			if (shared.decides === undefined) return `Both are on ${shared.timer}.`;
			return `Both are on ${shared.timer}: “${shared.decides}” decides prescale ${shared.prescale}${shared.reload === undefined ? '' : ` and reload ${shared.reload}`} for it.`;
		case 'apart':
			return `Each has a timer of its own: ${shared.timers.join(' and ')}.`;
		case 'clock':
			return `Their clocks part after ${nodeName(shared.node)}${shared.hz ? ` at ${hertz(shared.hz)}` : ', which is stopped'}: what is changed up to there moves both.`;
		case 'no-clock':
			return 'Their clocks come from different sources: they drift against each other.';
		case 'follows':
			return `“${shared.follower}” follows “${shared.leader}”.`;
		case 'rates':
			return `Their rates are as ${shared.ratio.num} to ${shared.ratio.den}: both begin a period together every ${seconds(shared.meet)}.`;
		case 'pins':
			return `${shared.pins.length === 1 ? 'One pin' : 'Some pins'} could serve either: ${shared.pins.join(', ')}.`;
		case 'load':
			return `Serving both takes ${percent(shared.load)} of the processor.`;
	}
}
