import { beforeSteps, rebaseSteps, type LoadedPlan, type Plan, type SavedStep } from '../../core/plan/index.js';

/** Edits of a plan that were not saved: what revision they stand on, and the document that they made. */
export interface LeftEdits {
	base: number;
	steps: SavedStep[];
	document: Plan;
}

/** The steps of them that were not stored: those that were, though the tab never heard of it, are known by their ids. */
export function restOf({ steps }: Pick<LeftEdits, 'steps'>, { history }: Pick<LoadedPlan, 'history'>): SavedStep[] {
	const stored = new Set(history.flatMap(({ id }) => id ?? []));
	const first = steps.findIndex(({ id }) => id === undefined || !stored.has(id));
	return first < 0 ? [] : steps.slice(first);
}

/** Those steps made anew on the plan as it stands now; undefined where they do not go together with it. */
export function anewOn(plan: Plan, rest: readonly SavedStep[], { document }: LeftEdits): SavedStep[] | undefined {
	try {
		return rebaseSteps(beforeSteps(document, rest), rest, plan)?.steps;
	} catch {
		return undefined;
	}
}
