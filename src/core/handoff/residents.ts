import type { Access } from '../registers/index.js';
import type { HandOff } from './handOff.js';

/** A quantity that lives in a register: its bits there. */
export interface Resident {
	/** "UNIT.QUANTITY". */
	name: string;
	value: string;
	bits: { high: number; low: number }[];
}

/** Accesses that follow each other in one step of one unit. */
export interface StepGroup {
	unit: string;
	step: string;
	accesses: Access[];
}

export function stepGroups(accesses: readonly Access[]): StepGroup[] {
	const groups: StepGroup[] = [];
	for (const access of accesses) {
		const unit = access.for[0].split('.')[0];
		const last = groups.at(-1);
		if (last?.unit === unit && last.step === access.step) last.accesses.push(access);
		else groups.push({ unit, step: access.step, accesses: [access] });
	}
	return groups;
}

export function residentsOf({ binding, quantities, accesses }: HandOff): Map<string, Resident[]> {
	const done = new Set(accesses.flatMap((access) => access.for));
	const found = new Map<string, Resident[]>();
	for (const unit of binding?.units.values() ?? [])
		for (const value of unit.values.values()) {
			const name = `${unit.id}.${value.quantity}`;
			if (!done.has(name)) continue;
			const planned = quantities.get(unit.id)?.get(value.quantity);
			for (const place of value.pieces) {
				const own = found.get(place.register.key) ?? [];
				const known = own.find((one) => one.name === name);
				if (known) known.bits.push(place);
				else own.push({ name, value: planned === undefined ? '' : String(planned), bits: [place] });
				found.set(place.register.key, own);
			}
		}
	return found;
}
