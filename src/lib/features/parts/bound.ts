import type { PartProfile } from '../../../core/part/index.js';
import { proposeBinding, readBinding, type Place } from '../../../core/registers/index.js';

/** Of one unit how many of the quantities that the part can be set in have a place, and which have none. */
export interface Bound {
	unit: string;
	has: number;
	lacks: string[];
	/** All of them. */
	all: string[];
}

/** The checklist of a part's bindings: all that a layout of our own would bind is wanted. */
export function boundOf(part: PartProfile): Bound[] {
	const wanted = readBinding(proposeBinding(part, { bits: 32, base: 0x40000000, apart: 0x400 })).binding;
	const own = part.binding === undefined ? undefined : readBinding(part.binding).binding;
	return [...(wanted?.units ?? [])].map(([unit, { values }]) => {
		const there = own?.units.get(unit)?.values;
		const names = [...values.keys()];
		const lacks = names.filter((name) => !there?.has(name));
		return { unit, has: names.length - lacks.length, lacks, all: names };
	});
}

type Json = Record<string, unknown>;

/** A binding in which a quantity lives at a place, or cut in pieces at several, the high one first; how it is coded and what is done around it stay. */
export function placedAt(binding: Json, unit: string, block: string, quantity: string, place: string | readonly string[]): Json {
	const units = (binding.units ?? {}) as Record<string, Json | undefined>;
	const own: Json = units[unit] ?? { block };
	const values = (own.values ?? {}) as Json;
	const before = values[quantity];
	const coded = typeof before === 'object' && before !== null && !Array.isArray(before);
	const value = coded ? { ...before, in: place } : place;
	return { ...binding, units: { ...units, [unit]: { ...own, values: { ...values, [quantity]: value } } } };
}

/** The places of a quantity as they are written in a binding of a unit that lives in a block, the high one first. */
export function placesOf(pieces: readonly Place[], block: string | undefined): string[] {
	return pieces.map(({ register, high, low }) => {
		const [own, name] = [register.key.slice(0, register.key.indexOf('.')), register.key.slice(register.key.indexOf('.') + 1)];
		const range = low === 0 && high === register.bits - 1 ? '' : high === low ? `[${high}]` : `[${high}:${low}]`;
		return own === block ? `${name}${range}` : `${own}.${name}${range}`;
	});
}

/** A binding in which a quantity lives nowhere; one that was taken over from another unit is dropped. */
export function unplaced(binding: Json, unit: string, quantity: string): Json {
	const units = (binding.units ?? {}) as Record<string, Json | undefined>;
	const own = units[unit];
	if (!own) return binding;
	const { [quantity]: _, ...values } = (own.values ?? {}) as Json;
	const kept = own.like === undefined ? values : { ...values, [quantity]: null };
	return { ...binding, units: { ...units, [unit]: { ...own, values: kept } } };
}

/** The block that a unit lives in, its own or that of the unit it is like. */
export function blockOf(binding: Json, unit: string): string | undefined {
	const units = (binding.units ?? {}) as Record<string, { block?: string; like?: string } | undefined>;
	const seen = new Set<string>();
	for (let at = units[unit]; at && !seen.has(at.like ?? ''); at = units[at.like ?? '']) {
		if (at.block !== undefined) return at.block;
		seen.add(at.like ?? '');
	}
	return undefined;
}

/** A binding in which a unit lives in a block. */
export function livingIn(binding: Json, unit: string, block: string): Json {
	const units = (binding.units ?? {}) as Record<string, Json | undefined>;
	return { ...binding, units: { ...units, [unit]: { ...units[unit], block } } };
}
