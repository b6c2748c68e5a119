import { readValueAs, type ValueUnit } from '../../core/readings/index.js';
import { readOffers, type ReadOffer } from './readOffers.js';
import type { PlanSession } from './session.svelte.js';

/** What somebody read, as a typed line says it, and what of the plan it could be of: the nearest first. */
export interface TypedReading {
	value: string;
	offers: ReadOffer[];
}

const SAID = /^\s*(?:measured|measures|reads?|read off)\s+(.+?)\s*$/i;
/** Offers at the most. */
const MOST = 5;

/** Reads a line such as "measured 23.8 Hz" or "reads 7.31 ms of lamp"; undefined for a line that says no such thing. */
export function typedReading({ derivation }: Pick<PlanSession, 'derivation'>, line: string): TypedReading | undefined {
	const said = SAID.exec(line);
	if (!said) return undefined;
	const [, value, wanted = ''] = /^(.*?)(?:\s+(?:of|on|at)\s+(.+))?$/.exec(said[1])!;
	const words = wanted.toLowerCase();
	const offers = readOffers(derivation).flatMap((offer) => {
		const { aim, planned, name } = offer;
		if (words !== '' && aim !== words && !name.toLowerCase().includes(words)) return [];
		const read = readValueAs(planned.unit as ValueUnit, value, '', '');
		// A rate typed for a time is one of the rate, and not of every width.
		if (typeof read === 'string' || ownUnit(value) !== planned.unit) return [];
		const [a, b] = [read.value.toNumber(), planned.planned.toNumber()];
		return [{ offer, far: a > 0 && b > 0 ? Math.abs(Math.log(a / b)) : Infinity }];
	});
	const nearest = offers.sort((a, b) => a.far - b.far).slice(0, MOST);
	return { value, offers: nearest.map(({ offer }) => offer) };
}

/** The unit of the dimension that a value was typed in. */
function ownUnit(value: string): string | undefined {
	if (/hz\s*$/i.test(value)) return 'Hz';
	if (/%\s*$/.test(value)) return '%';
	if (/(°|deg)\s*$/.test(value)) return 'deg';
	return /\d\s*[a-zµμ]*s\s*$/.test(value) ? 's' : undefined;
}
