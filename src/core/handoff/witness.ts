import type { HeldDump, HeldQuantity } from './held.js';

/** Where a suspected mistake would sit, as suspects say it. */
export interface SuspectedPlace {
	timer: string;
	channel?: string;
	what: string;
	found: number | string;
	/** Settings of the whole clock tree, where that is to blame. */
	clock?: Record<string, string>;
}

/** What a dump says of a suspect: what it supposes stands there, or something else does; and what that is. */
export interface DumpSays {
	word: 'holds' | 'contradicts';
	quantities: HeldQuantity[];
}

/**
 * A dump as one more witness of a check: the suspect that supposes several things is contradicted by any of them that is otherwise, and holds
 * when all that the dump knows of them is so. undefined: the dump says nothing of it.
 */
export function dumpSays({ quantities }: HeldDump, places: readonly SuspectedPlace[]): DumpSays | undefined {
	const all = places.flatMap((place) => wordsOf(quantities, place));
	const against = all.filter(({ so }) => !so);
	const told = against.length > 0 ? against : all;
	if (told.length === 0) return undefined;
	return { word: against.length > 0 ? 'contradicts' : 'holds', quantities: told.map(({ quantity }) => quantity) };
}

interface Word {
	quantity: HeldQuantity;
	so: boolean;
}

function wordsOf(held: readonly HeldQuantity[], place: SuspectedPlace): Word[] {
	const { timer, channel = '', what, found, clock } = place;
	const of = (unit: string | undefined, ...names: string[]) =>
		held.find(({ unit: own, quantity, read }) => (unit === undefined || own === unit) && names.includes(quantity) && read !== undefined);
	const same = (quantity: HeldQuantity | undefined, value: number | string): Word[] =>
		quantity ? [{ quantity, so: String(quantity.read) === String(value) }] : [];
	if (clock) {
		if (what !== 'clock') return same(of(undefined, `clock:${what}`), found);
		// At reset: whatever the set-up would have changed and the dump has as planned speaks against it.
		return held.flatMap((quantity) =>
			quantity.quantity.startsWith('clock:') && quantity.planned !== undefined && quantity.read !== undefined
				? [{ quantity, so: quantity.differs }]
				: []
		);
	}
	switch (what) {
		case 'reload':
			return same(of(timer, 'reload', 'preload'), found);
		case 'prescale':
		case 'mode':
			return same(of(timer, what), found);
		case 'compare':
			// What was worked out by hand is told with the share that it is meant for.
			return same(of(timer, `compare:${channel}`), Number.parseInt(String(found), 10));
		case 'polarity':
			return same(of(timer, `polarity:${channel}`), found);
		case 'buffered':
			return same(of(timer, 'buffer:compare', `buffer:compare:${channel}`), found === 'yes' ? 1 : 0);
		default:
			return [];
	}
}
