import { pinsOf, type FilterProfile, type PartProfile, type TimerProfile } from '../../core/part/index.js';

/** A piece of an aim's sentence: plain words, a typed field, or a choice. */
export type Token =
	| string
	/** `alone`: the label says all; otherwise the aim's name is put behind it. */
	| { field: string; label: string; least?: number; alone?: boolean }
	| {
			choice: string;
			label: string;
			options: [string, string][];
			/** False: what is set is not offered, and stands first. */ offered: boolean;
	  };

export function placeText(part: PartProfile, timer: TimerProfile, id: string, name: string): string {
	const pins = pinsOf(part, `${timer.id}.${id}`).map((pin) => pin.name);
	return pins.length > 0 ? `${pins.join(' or ')} (${name})` : name;
}

export function pairText(part: PartProfile, timer: TimerProfile, id: string, name: string): string {
	const pins = (side: string) =>
		pinsOf(part, `${timer.id}.${id}${side}`)
			.map((pin) => pin.name)
			.join(' or ') || 'no pin';
	return `${pins('')} and ${pins('.n')} (${name})`;
}

/** A bare number is in core cycles; a time says so itself. */
export function cyclesWord(text: string): string {
	return /[a-zµμ]\s*$/i.test(text) && !/^\s*0[xb]/i.test(text) ? '' : 'core cycles';
}

export function field(name: string, label: string, least?: number): Token {
	return { field: name, label, ...(least !== undefined && { least }) };
}

/** A choice keeps what is set, even if it is not offered any more. */
export function choice(name: string, label: string, value: string, options: [string, string][], lost = value || 'choose'): Token {
	const offered = options.some(([one]) => one === value);
	return { choice: name, label, options: offered ? options : [[value, lost], ...options], offered };
}

/** The aim's own name. */
export const NAME: Token = field('name', 'Name of the aim', 8);

/** Whether overflows between two captures are counted. */
export function overflows(value: string): Token {
	return choice('overflows', 'Overflows', value, [
		['not-counted', 'not counted'],
		['counted', 'counted']
	]);
}

/** What serving it takes. */
export function served(): Token[] {
	return [', served in', field('service', 'Service time in core cycles')];
}

/** The filters of an input. */
export function filters(value: string, offered: readonly FilterProfile[] | undefined): Token {
	return choice('filter', 'Input filter', value, [
		['none', 'none'],
		...(offered ?? []).map(({ samples, divide }, i): [string, string] => [String(i), `${samples} samples, one each ${divide}`])
	]);
}
