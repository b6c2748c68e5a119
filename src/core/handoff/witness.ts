import type { Plan } from '../plan/index.js';
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

/** A suspect: what it supposes, and the timers and channels of the aims that it is to explain. */
export interface Suspected {
	codes: readonly string[];
	where: readonly SuspectedPlace[];
	of: readonly { timer: string; channel?: string }[];
}

/** A suspect of a check as a dump is asked about it. `about`: the aims that it explains, where it is not all. */
export function suspectedOf(
	{ aims }: Plan,
	{ codes, where, about }: { codes: readonly string[]; where: readonly SuspectedPlace[]; about?: { aims: readonly string[] } | undefined }
): Suspected {
	const own = aims.filter(({ id, timer }) => (about ? about.aims.includes(id) : where.some((place) => place.timer === timer)));
	const of = own.map((aim) => {
		const { channel } = aim as { channel?: unknown };
		return { timer: aim.timer, ...(typeof channel === 'string' && { channel }) };
	});
	return { codes, where, of };
}

/** Quantities that a mistake changes beside the one where it sits. */
const ALSO: Readonly<Record<string, string[]>> = {
	'both-one-more': ['prescale'],
	'both-one-less': ['prescale'],
	'timers-exchanged': ['prescale', 'reload', 'preload', 'compare']
};

/**
 * A dump as one more witness of a check: the suspect that supposes several things is contradicted by any of them that is otherwise, and by
 * any register of its timers that is not as planned though the suspect leaves it so; it holds when all that the dump knows of what it
 * supposes is so. undefined: the dump says nothing of it.
 */
export function dumpSays({ quantities }: HeldDump, { codes, where, of }: Suspected): DumpSays | undefined {
	const claimed = (name: string) =>
		where.some(({ what }) => name.split(':')[0] === what || (what === 'reload' && name === 'preload')) ||
		codes.some((code) => ALSO[code]?.includes(name.split(':')[0]));
	const supposed = where.flatMap((place) => wordsOf(quantities, place));
	const left = quantities
		.filter(({ unit, quantity, differs }) => differs && !claimed(quantity) && of.some((one) => one.timer === unit && shapes(quantity, one)))
		.map((quantity): Word => ({ quantity, so: false }));
	const all = [...supposed, ...left];
	const against = all.filter(({ so }) => !so);
	const told = against.length > 0 ? against : all;
	if (told.length === 0) return undefined;
	return { word: against.length > 0 ? 'contradicts' : 'holds', quantities: told.map(({ quantity }) => quantity) };
}

/** Does a quantity of a timer act on what an aim's pin shows? */
function shapes(quantity: string, { channel }: { channel?: string }): boolean {
	if (/^(prescale(:\d+)?|postscale|reload|preload|repeat|mode)$/.test(quantity)) return true;
	return channel !== undefined && [`compare:${channel}`, `polarity:${channel}`, `output:${channel}`].includes(quantity);
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
