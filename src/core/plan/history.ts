import type { Plan } from './document.js';
import { invertStep, mergeSteps, type Step } from './steps.js';

/** How a saved step came about: undo and redo are ordinary steps that say so. */
export type StepKind = 'edit' | 'undo' | 'redo';

/** A step as it is saved, one a revision. */
export interface SavedStep {
	kind: StepKind;
	/** True: it continues the edit before it. */
	merged: boolean;
	step: Step;
	/** The name that its sender gave it: sent twice, it is known and stored once. */
	id?: string | undefined;
}

/** A plan as it is opened: its newest document and the steps that led there, oldest first. */
/** A revision as it stands on the server. */
export interface SavedRevision {
	revision: number;
	/** Day on which it was saved, as YYYY-MM-DD in UTC. */
	savedOn: string;
}

export interface LoadedPlan extends SavedRevision {
	id: string;
	document: Plan;
	history: SavedStep[];
}

/** What can be undone and redone, oldest first. */
export interface History {
	readonly undo: readonly Step[];
	readonly redo: readonly Step[];
}

export const NO_HISTORY: History = { undo: [], redo: [] };
const DEEPEST = 500;

/** After a step of that kind. `merge` joins an edit with the one before when both set one place. */
export function recordStep(history: History, kind: StepKind, step: Step, merge = false): History {
	const { undo, redo } = history;
	if (kind === 'undo') return { undo: undo.slice(0, -1), redo: [...redo, invertStep(step)] };
	if (kind === 'redo') return { undo: [...undo, step], redo: redo.slice(0, -1) };
	const last = undo.at(-1);
	const joined = merge && last ? mergeSteps(last, step) : undefined;
	return { undo: joined ? [...undo.slice(0, -1), joined] : [...undo, step].slice(-DEEPEST), redo: [] };
}

/** The history that saved steps leave. */
export function replayHistory(steps: readonly SavedStep[]): History {
	return steps.reduce((all, { kind, step, merged }) => recordStep(all, kind, step, merged), NO_HISTORY);
}

/** The step that undoes the newest edit, or undefined. */
export function undoStep(history: History): Step | undefined {
	const last = history.undo.at(-1);
	return last && invertStep(last);
}

/** The step that does the newest undone edit again, or undefined. */
export function redoStep(history: History): Step | undefined {
	return history.redo.at(-1);
}
