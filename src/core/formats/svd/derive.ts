import type { XmlElement } from './tree.js';

/** Elements that may be derived from one another, and what holds them. */
const HOLDERS: Record<string, string> = { peripherals: 'peripheral', registers: 'register', cluster: 'cluster', fields: 'field' };

const nameIn = (element: XmlElement) => element.children.find(({ name }) => name === 'name')?.text.trim();

/**
 * An element with all that it takes over: copies of what it is derived from, own children in place of those of their name. Several levels, in any
 * order of the file; a name may be a path from the device down. A word: what is wrong.
 */
export function derived(
	root: XmlElement,
	element: XmlElement,
	siblings: readonly XmlElement[],
	kind: string
): XmlElement | 'unknown-name' | 'circle' {
	const seen = new Set<XmlElement>();
	const chain: XmlElement[] = [];
	for (let at = element; ;) {
		if (seen.has(at)) return 'circle';
		seen.add(at);
		chain.push(at);
		const from = at.attributes.derivedFrom;
		if (from === undefined) break;
		const next =
			siblings.find((one) => one !== at && nameIn(one) === from) ??
			byPath(root, from, kind) ??
			siblings.find((one) => nameIn(one) === from);
		if (!next) return 'unknown-name';
		at = next;
	}
	return chain.length === 1 ? element : chain.reduceRight((base, own) => (base === own ? own : merged(base, own)));
}

function merged(base: XmlElement, own: XmlElement): XmlElement {
	const names = new Set(own.children.map(({ name }) => name));
	return { ...own, children: [...base.children.filter(({ name }) => !names.has(name)), ...own.children] };
}

/** An element of a kind under a path of names, from the device down; a single name is looked for anywhere. */
function byPath(root: XmlElement, path: string, kind: string): XmlElement | undefined {
	const parts = path.split('.');
	const find = (element: XmlElement, i: number): XmlElement | undefined => {
		for (const one of element.children) {
			const named = Object.values(HOLDERS).includes(one.name) && nameIn(one) === parts[i];
			if (named && i === parts.length - 1 && one.name === kind) return one;
			const found = find(one, named && i < parts.length - 1 ? i + 1 : i);
			if (found) return found;
		}
		return undefined;
	};
	return find(root, 0);
}
