import { readPlan, type Plan } from '../../../core/plan/index.js';

/** Plans that are kept as they were read. */
const KEPT = 16;

/** By their stored texts, the one that was asked for last at the end. */
const known = new Map<string, Plan>();

/** The plan that a stored text is. One that was read lately costs nothing: a text that is the same is the same plan. Throws PlanError. */
export function readStored(text: string): Plan {
	const plan = known.get(text) ?? readPlan(JSON.parse(text));
	known.delete(text);
	known.set(text, plan);
	if (known.size > KEPT) known.delete(known.keys().next().value!);
	return plan;
}
