import { readInks, type Inks } from '../../wave/index.js';

const known = new Map<boolean, Inks>();

/** The inks of a theme, the same for all lanes: they are read from the page once. */
export function inksOf(element: Element, dark: boolean): Inks {
	const inks = known.get(dark) ?? readInks(element);
	known.set(dark, inks);
	return inks;
}
