import type { PlanDerivation } from '../plan/index.js';
import { planTimers } from '../predict/index.js';
import type { SimSystem } from '../sim/index.js';
import {
	readBinding,
	settle,
	setUpThen,
	type Access,
	type Binding,
	type Change,
	type Codes,
	type Quantities,
	type ReadBinding,
	type RegisterFinding,
	type Settled
} from '../registers/index.js';
import { codesOf, quantitiesOf } from './quantities.js';

/** A plan as it is handed to the firmware (handoff.md). */
export interface HandOff {
	derivation: PlanDerivation;
	/** The timers of the simulated system, which its quantities come from. */
	system: SimSystem;
	/** Left out: the part has no registers, or they are not understood. */
	binding?: Binding;
	quantities: Quantities;
	codes: Codes;
	accesses: Access[];
	/** Number of the first access after everything is set up. */
	begins: number;
	/** Lists what sets something anew after all that; there where a binding is. */
	change?: Change;
	/** What registers come to, in the order in which they are first touched. */
	registers: Settled[];
	/** Of the binding where there is none to work with, else of the plan. */
	findings: RegisterFinding[];
}

const read = new WeakMap<object, ReadBinding>();

/** A binding is read once as long as it stays the same. */
function bindingOf(raw: object): ReadBinding {
	const known = read.get(raw) ?? readBinding(raw);
	read.set(raw, known);
	return known;
}

/** Accesses that set the plan up, and what its registers come to. */
export function handOff(derivation: PlanDerivation): HandOff {
	const { part } = derivation.plan;
	const codes = codesOf(part);
	const system = planTimers(derivation);
	const quantities = quantitiesOf(derivation, system);
	const frame = { derivation, system, quantities, codes };
	if (part.binding === undefined) return { ...frame, accesses: [], begins: 0, registers: [], findings: [] };
	const { binding, findings } = bindingOf(part.binding);
	if (!binding) return { ...frame, accesses: [], begins: 0, registers: [], findings };
	const { planned, change } = setUpThen(binding, quantities, { codes });
	return { ...frame, binding, ...planned, change, registers: settle(binding, planned.accesses) };
}
