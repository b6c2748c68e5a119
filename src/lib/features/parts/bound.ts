import type { PartProfile } from '../../../core/part/index.js';
import { proposeBinding, readBinding } from '../../../core/registers/index.js';

/** Of one unit how many of the quantities that the part can be set in have a place, and which have none. */
export interface Bound {
	unit: string;
	has: number;
	lacks: string[];
}

/** The checklist of a part's bindings: all that a layout of our own would bind is wanted. */
export function boundOf(part: PartProfile): Bound[] {
	const wanted = readBinding(proposeBinding(part, { bits: 32, base: 0x40000000, apart: 0x400 })).binding;
	const own = part.binding === undefined ? undefined : readBinding(part.binding).binding;
	return [...(wanted?.units ?? [])].map(([unit, { values }]) => {
		const there = own?.units.get(unit)?.values;
		const names = [...values.keys()];
		const lacks = names.filter((name) => !there?.has(name));
		return { unit, has: names.length - lacks.length, lacks };
	});
}
