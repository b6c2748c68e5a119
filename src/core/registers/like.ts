import { wants, type Faults } from './findings.js';
import { isPlain, type Plain } from './numbers.js';

/** Where `like` leads from each, and which lead into a circle; `undefined` where there is none. */
export function circled(all: ReadonlyMap<string, Plain>): Set<string> {
	const circles = new Set<string>();
	for (const name of all.keys()) {
		const seen = new Set<string>();
		for (let at: unknown = name; typeof at === 'string' && all.has(at); at = all.get(at)!.like) {
			if (seen.has(at)) {
				circles.add(name);
				break;
			}
			seen.add(at);
		}
	}
	return circles;
}

/**
 * What a block or unit comes to with all that it takes over: key by key, those under `inner` name by name. Own ones keep the place of those that
 * they replace, new ones come last; null drops one that is taken over. Throws Fault for a null that drops nothing.
 */
export function takenOver(all: ReadonlyMap<string, Plain>, name: string, inner: 'registers' | 'values', faults?: Faults): Plain {
	const own = all.get(name)!;
	const { like } = own;
	if (typeof like !== 'string') return own;
	const before = takenOver(all, like, inner);
	const merged: Plain = { ...before, ...own };
	delete merged.like;
	const names = new Map(Object.entries(isPlain(before[inner]) ? before[inner] : {}));
	for (const [key, value] of Object.entries(isPlain(own[inner]) ? own[inner] : {})) {
		if (value !== null) names.set(key, value);
		else if (!names.delete(key)) faults?.add('bad-shape', `${name}.${key}`);
	}
	if (before[inner] !== undefined || own[inner] !== undefined)
		merged[inner] = own[inner] !== undefined && !isPlain(own[inner]) ? own[inner] : Object.fromEntries(names);
	return merged;
}

/** Has an object no keys but these? */
export function knownKeys(raw: Plain, keys: readonly string[]): void {
	wants(
		Object.keys(raw).every((key) => keys.includes(key)),
		'bad-shape'
	);
}
