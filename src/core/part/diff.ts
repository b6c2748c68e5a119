import equal from 'fast-deep-equal';
/** One place where two profiles differ; undefined: not there. */
export interface Difference {
	/** Keys and, for elements with an id, their ids: ["clock", "loop", "max", "hz"]. */
	path: (string | number)[];
	before: unknown;
	after: unknown;
}

/** Where two JSON values differ, elements of lists matched by their ids where they have them, so that one put in shifts no others. */
export function differences(before: unknown, after: unknown, path: Difference['path'] = []): Difference[] {
	if (before === after) return [];
	const [a, b] = [children(before), children(after)];
	if (!a || !b || Array.isArray(before) !== Array.isArray(after)) return [{ path, before, after }];
	// Short lists of plain values read best as a whole.
	if (Array.isArray(before) && [...a.values(), ...b.values()].every((value) => value === null || typeof value !== 'object'))
		return equal(before, after) ? [] : [{ path, before, after }];
	const keys = new Set([...a.keys(), ...b.keys()]);
	return [...keys].flatMap((key) => differences(a.get(key), b.get(key), [...path, key]));
}

function children(value: unknown): Map<string | number, unknown> | undefined {
	if (value === null || typeof value !== 'object') return undefined;
	if (!Array.isArray(value)) return new Map(Object.entries(value));
	const list: unknown[] = value;
	const ids = list.map((one) => (one !== null && typeof one === 'object' ? (one as { id?: unknown }).id : undefined));
	const named = list.length > 0 && ids.every((id) => typeof id === 'string') && new Set(ids).size === ids.length;
	return new Map(list.map((one, i) => [named ? ids[i] : i, one]));
}
