import type { LoadedPlan, Plan, SavedStep } from '../../core/plan/index.js';

/** Edits of a plan that were not saved: what revision they stand on, and the document that they made. */
export interface LeftEdits {
	base: number;
	steps: SavedStep[];
	document: Plan;
}

/** What to do about edits that an ended tab has left: nothing, for they were stored; do them again; or keep them as a copy, for the plan has moved on. */
export type Rest = { kind: 'stored' } | { kind: 'open'; steps: SavedStep[] } | { kind: 'overtaken' };

/** The edits held against the plan as it is loaded now: those that were stored, though the tab never heard of it, are known by their ids. */
export function restOf({ base, steps }: LeftEdits, { revision, history }: Pick<LoadedPlan, 'revision' | 'history'>): Rest {
	const stored = new Set(history.flatMap(({ id }) => id ?? []));
	const first = steps.findIndex(({ id }) => id === undefined || !stored.has(id));
	if (first < 0) return { kind: 'stored' };
	return revision === base + first ? { kind: 'open', steps: steps.slice(first) } : { kind: 'overtaken' };
}
