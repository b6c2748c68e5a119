import equal from 'fast-deep-equal';
import { z } from 'zod';
import { shapeFindings, type FindingDetails } from '../part/index.js';
import { planDocument, planFrame, PlanError, type Plan } from './document.js';

/**
 * Every edit of a plan is a step: it applies to the document it was made for, has an inverse, and is plain JSON. A path
 * names a place by keys and list indexes.
 */
const path = z.array(z.union([z.string(), z.int().min(0)])).min(1);
const value = z.json();

const simple = z.discriminatedUnion('kind', [
	/** The value at a place; undefined (left out) stands for a key that is not there. */
	z.object({ kind: z.literal('set'), path, before: value.optional(), after: value.optional() }),
	z.object({ kind: z.literal('insert'), path, value }),
	z.object({ kind: z.literal('remove'), path, value }),
	z.object({ kind: z.literal('move'), path, from: z.int().min(0), to: z.int().min(0) })
]);

export const stepSchema = z.object({ label: z.string().max(200), parts: z.array(simple).min(1).max(1000) });

type SimpleStep = z.infer<typeof simple>;
export type Step = z.infer<typeof stepSchema>;
type Json = z.infer<typeof value>;
type Path = z.infer<typeof path>;

/** A step made for another document than the one it met. */
export class StepMismatch extends Error {
	constructor(
		readonly code: 'nothing-there' | 'changed' | 'no-place' | 'no-list' | 'no-move',
		readonly path: Path,
		readonly details: FindingDetails = {}
	) {
		super(`${code} ${path.join('.')}`);
	}
}

/** The value at a path, undefined where there is none. */
export function valueAt(doc: unknown, at: Path): Json | undefined {
	let here = doc;
	for (const key of at) {
		if (here === null || typeof here !== 'object' || !Object.hasOwn(here, key)) return undefined;
		here = (here as Record<string | number, unknown>)[key];
	}
	return here as Json | undefined;
}

export function setStep(plan: Plan, at: Path, after: Json | undefined, label: string): Step {
	const before = valueAt(plan, at);
	const part: SimpleStep = { kind: 'set', path: at };
	if (before !== undefined) part.before = before;
	if (after !== undefined) part.after = after;
	return { label, parts: [part] };
}

/** `at` ends with the index the value shall have. */
export function insertStep(at: Path, inserted: Json, label: string): Step {
	return { label, parts: [{ kind: 'insert', path: at, value: inserted }] };
}

export function removeStep(plan: Plan, at: Path, label: string): Step {
	const found = valueAt(plan, at);
	if (found === undefined) throw new StepMismatch('nothing-there', at);
	return { label, parts: [{ kind: 'remove', path: at, value: found }] };
}

/** Moves an aim to another's place, and into a group. */
export function moveStep(plan: Plan, from: number, to: number, group: string, label: string): Step {
	const moved: Step = { label, parts: [{ kind: 'move', path: ['aims'], from, to }] };
	return plan.aims[from].group === group ? moved : joinSteps(label, [setStep(plan, ['aims', from, 'group'], group, label), moved]);
}

/** Several steps as one, applied in order. */
export function joinSteps(label: string, steps: readonly Step[]): Step {
	return { label, parts: steps.flatMap((step) => step.parts) };
}

/** The document after the step. Throws StepMismatch when the step was made for another, PlanError when the result would be no plan. */
export function applyStep(plan: Plan, step: Step): Plan {
	const next = step.parts.reduce<unknown>(applyPart, plan);
	const samePart = (next as Plan | undefined)?.part === plan.part;
	const read = (samePart ? planFrame : planDocument).safeParse(next);
	if (!read.success) throw new PlanError(read.error.issues.flatMap(shapeFindings));
	return next as Plan;
}

export function invertStep(step: Step): Step {
	return { label: step.label, parts: step.parts.map(invertPart).reverse() };
}

/** One step for two that set the same single place in a row, or undefined. */
export function mergeSteps(first: Step, second: Step): Step | undefined {
	const [a, b] = [first.parts[0], second.parts[0]];
	if (first.parts.length !== 1 || second.parts.length !== 1 || a.kind !== 'set' || b.kind !== 'set') return undefined;
	if (a.path.join('\u0000') !== b.path.join('\u0000')) return undefined;
	const merged: SimpleStep = { kind: 'set', path: a.path };
	if (a.before !== undefined) merged.before = a.before;
	if (b.after !== undefined) merged.after = b.after;
	return { label: second.label, parts: [merged] };
}

function invertPart(part: SimpleStep): SimpleStep {
	switch (part.kind) {
		case 'set': {
			const inverse: SimpleStep = { kind: 'set', path: part.path };
			if (part.after !== undefined) inverse.before = part.after;
			if (part.before !== undefined) inverse.after = part.before;
			return inverse;
		}
		case 'insert':
			return { ...part, kind: 'remove' };
		case 'remove':
			return { ...part, kind: 'insert' };
		case 'move':
			return { ...part, from: part.to, to: part.from };
	}
}

function applyPart(doc: unknown, part: SimpleStep): unknown {
	switch (part.kind) {
		case 'set':
			if (!equal(valueAt(doc, part.path), part.before)) throw new StepMismatch('changed', part.path);
			return rebuilt(doc, part.path, part.after);
		case 'insert':
			return changeList(doc, part.path.slice(0, -1), (list) => {
				const at = indexOf(part.path);
				if (at > list.length) throw new StepMismatch('no-place', part.path, { length: list.length });
				return list.toSpliced(at, 0, part.value);
			});
		case 'remove':
			return changeList(doc, part.path.slice(0, -1), (list) => {
				const at = indexOf(part.path);
				if (!equal(list[at], part.value)) throw new StepMismatch('changed', part.path);
				return list.toSpliced(at, 1);
			});
		case 'move':
			return changeList(doc, part.path, (list) => {
				if (part.from >= list.length || part.to >= list.length)
					throw new StepMismatch('no-move', part.path, { from: part.from, to: part.to, length: list.length });
				return list.toSpliced(part.from, 1).toSpliced(part.to, 0, list[part.from]);
			});
	}
}

function indexOf(at: Path): number {
	const last = at[at.length - 1];
	if (typeof last !== 'number') throw new StepMismatch('no-place', at);
	return last;
}

function changeList(doc: unknown, at: Path, change: (list: Json[]) => Json[]): unknown {
	const list = valueAt(doc, at);
	if (!Array.isArray(list)) throw new StepMismatch('no-list', at);
	return rebuilt(doc, at, change(list));
}

/** A copy of doc with the place set, or its key gone; everything beside the path is shared. */
function rebuilt(doc: unknown, at: Path, after: Json | undefined): unknown {
	if (at.length === 0) return after;
	if (doc === null || typeof doc !== 'object') throw new StepMismatch('no-place', at);
	const [key, ...rest] = at;
	if (Array.isArray(doc)) {
		if (typeof key !== 'number' || key >= doc.length) throw new StepMismatch('no-place', at, { length: doc.length });
		return doc.with(key, rebuilt(doc[key], rest, after));
	}
	if (key === '__proto__') throw new StepMismatch('no-place', at);
	const { [key]: child, ...others } = doc as Record<string | number, unknown>;
	if (rest.length === 0 && after === undefined) return others;
	const next = rest.length === 0 ? after : rebuilt(child, rest, after);
	return Object.hasOwn(doc, key)
		? Object.fromEntries(Object.entries(doc).map(([k, v]) => [k, k === String(key) ? next : v]))
		: { ...others, [key]: next };
}
