import type { AimDerivation, LinkName } from './derivation.js';
import { linkOf } from './build.js';
import { channelFilter } from './listen.js';

/** Register quantities by the names of handoff.md 5: integers, words, or 1 and 0 for on and off. */
export type RegisterQuantities = Record<string, number | string>;

const PLAIN: [LinkName, string][] = [
	['prescale', 'prescale'],
	['reload', 'reload'],
	['preload', 'preload'],
	['repeat', 'repeat'],
	['postscale', 'postscale'],
	['bit', 'tap'],
	['times', 'encoder']
];

/** What an aim sets that captures edges of a channel: which ones, through which filter. */
export function captureQuantities(
	derivation: AimDerivation,
	{ channel, filter }: { channel: string; filter: string },
	edge: 'rise' | 'fall' | 'both',
	begins: 'rise' | 'fall' = 'rise'
): RegisterQuantities {
	const { samples, divide } = channelFilter(derivation, { channel, filter });
	const { edges = [], filters } = derivation.timer?.channels.find(({ id }) => id === channel)?.capture ?? {};
	// Where one edge at a time can be captured, software begins with the one and switches.
	const first = edges.includes(edge) ? edge : (edges.find((one) => one === begins) ?? edges.at(0) ?? edge);
	return {
		...linkQuantities(derivation, channel),
		[`capture:${channel}`]: 1,
		[`edge:${channel}`]: first,
		...(filters && { [`filter:${channel}`]: `${samples}x${divide}` })
	};
}

/** What the links of an aim's strip set on its timer; `channel`: whose compare, capture and dead time they are. */
export function linkQuantities(derivation: AimDerivation, channel?: string): RegisterQuantities {
	const set: RegisterQuantities = {};
	const { use } = derivation;
	if (use?.counting) set.mode = use.counting.mode;
	const put = (link: LinkName, quantity: string) => {
		const value = linkOf(derivation, link);
		if (value !== undefined) set[quantity] = value;
	};
	for (const [link, quantity] of PLAIN) put(link, quantity);
	put('compare', channel === undefined ? 'compare' : `compare:${channel}`);
	if (channel !== undefined) put('every', `every:${channel}`);
	put('dead', 'dead');
	return set;
}
