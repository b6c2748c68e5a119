import equal from 'fast-deep-equal';
import type { Plan } from './document.js';
import type { SavedStep } from './history.js';
import { applyStep, invertStep, joinSteps, setStep, type Step } from './steps.js';

/**
 * Two documents that went on from one are brought together: what only one of them changed is taken, and where both changed the same
 * place differently that is a clash, to be chosen by who is asked. Members of a list are known by their ids, wherever they stand.
 */

/** A place where both changed; its path names members of lists by their ids. undefined: it is not there. */
export interface Clash {
	path: string[];
	base: unknown;
	mine: unknown;
	theirs: unknown;
	/** True: both put the members of this list into another order; the values are lists of their ids. */
	order?: true;
}

export interface Merge {
	/** Both together; theirs where they clash. */
	document: Plan;
	clashes: Clash[];
}

/** Whose value of a clash is taken, one a clash. */
export type Side = 'mine' | 'theirs';

/** `sides`: what was chosen for the clashes, in their order; theirs where nothing is said. */
export function mergePlans(base: Plan, mine: Plan, theirs: Plan, sides: readonly Side[] = []): Merge {
	const merger = new Merger(sides);
	const document = merger.merge(base, mine, theirs, []) as Plan;
	return { document, clashes: merger.clashes };
}

/** Most places that a step sets one by one; what changes more is set in larger pieces. */
const MOST_PLACES = 500;

/** The step from one document to another, each place set by itself. undefined: they are the same. */
export function stepBetween(from: Plan, to: Plan, label: string): Step | undefined {
	let places = [...changedPlaces(from, to, [])];
	if (places.length > MOST_PLACES) places = [...changedPlaces(from, to, [], 1)];
	if (places.length === 0) return undefined;
	return joinSteps(
		label,
		places.map(({ path, value }) => setStep(from, path, value as never, label))
	);
}

/**
 * Steps that were made on `base` made anew on `theirs`, which went on from it too, each undoable by itself as it was. undefined: they
 * clash. Throws PlanError where both together are no plan.
 */
export function rebaseSteps(base: Plan, steps: readonly SavedStep[], theirs: Plan): { document: Plan; steps: SavedStep[] } | undefined {
	let [before, document] = [base, theirs];
	const rebased: SavedStep[] = [];
	for (const { kind, merged, step, id } of steps) {
		const mine = applyStep(before, step);
		const { document: both, clashes } = mergePlans(before, mine, document);
		if (clashes.length > 0) return undefined;
		// What it took back or did again is not the newest any more: it is an edit like any other.
		const label = kind === 'edit' ? step.label : `${kind} ${step.label}`.slice(0, 200);
		const anew = stepBetween(document, both, label);
		if (anew) {
			document = applyStep(document, anew);
			rebased.push({ kind: 'edit', merged: merged && kind === 'edit', step: anew, id });
		}
		before = mine;
	}
	return { document, steps: rebased };
}

/** The document that steps were made on. Throws StepMismatch where they did not lead to this one. */
export function beforeSteps(document: Plan, steps: readonly SavedStep[]): Plan {
	return steps.reduceRight((after, { step }) => applyStep(after, invertStep(step)), document);
}

/** `next` with all that is as it was in `old` taken from there: what hangs on the sameness of parts of a document need not be worked out anew. */
export function keepSame<T>(old: unknown, next: T): T {
	if (equal(old, next)) return old as T;
	if (isFields(old) && isFields(next))
		return Object.fromEntries(Object.entries(next).map(([key, value]) => [key, keepSame(own(old, key), value)])) as T;
	if (!isMembers(old) || !isMembers(next)) return next;
	const known = new Map(old.map((one) => [one.id, one]));
	return next.map((one) => keepSame(known.get(one.id), one)) as T;
}

type Fields = Record<string, unknown>;
interface Member extends Fields {
	id: string;
}

class Merger {
	readonly clashes: Clash[] = [];

	constructor(private readonly sides: readonly Side[]) {}

	merge(base: unknown, mine: unknown, theirs: unknown, path: string[]): unknown {
		if (equal(mine, theirs) || equal(base, mine)) return theirs;
		if (equal(base, theirs)) return mine;
		const all = [base, mine, theirs];
		if (all.every(isMembers)) return this.members(base as Member[], mine as Member[], theirs as Member[], path);
		if (all.every(isFields) && sameKind(all)) return this.fields(base as Fields, mine as Fields, theirs as Fields, path);
		return this.clash({ path, base, mine, theirs }) === 'mine' ? mine : theirs;
	}

	private fields(base: Fields, mine: Fields, theirs: Fields, path: string[]): Fields {
		const merged: [string, unknown][] = [];
		for (const key of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
			const value = this.merge(own(base, key), own(mine, key), own(theirs, key), [...path, key]);
			if (value !== undefined) merged.push([key, value]);
		}
		return Object.fromEntries(merged);
	}

	private members(base: Member[], mine: Member[], theirs: Member[], path: string[]): Member[] {
		const [was, my, their] = [base, mine, theirs].map((list) => new Map(list.map((one) => [one.id, one])));
		const merged = new Map<string, Member>();
		for (const id of new Set([...their.keys(), ...my.keys()])) {
			const value = this.merge(was.get(id), my.get(id), their.get(id), [...path, id]);
			if (value !== undefined) merged.set(id, value as Member);
		}
		const order = this.order([base, mine, theirs].map(idsOf), merged, path);
		return order.map((id) => merged.get(id)!);
	}

	/** Ids of the merged members in the order of the side that changed it; those of the other alone stand behind who they stood behind. */
	private order([base, mine, theirs]: string[][], merged: ReadonlyMap<string, unknown>, path: string[]): string[] {
		const common = (list: string[]) => list.filter((id) => merged.has(id) && mine.includes(id) && theirs.includes(id));
		const [was, my, their] = [base, mine, theirs].map(common);
		const kept = (list: string[]) => equal(list, was);
		let first: Side = kept(their) ? 'mine' : 'theirs';
		if (!kept(my) && !kept(their) && !equal(my, their)) first = this.clash({ path, base: was, mine: my, theirs: their, order: true });
		const [leads, follows] = first === 'mine' ? [mine, theirs] : [theirs, mine];
		const order = leads.filter((id) => merged.has(id));
		follows.forEach((id, i) => {
			if (!merged.has(id) || order.includes(id)) return;
			const before = follows.slice(0, i).findLast((one) => order.includes(one));
			order.splice(before === undefined ? 0 : order.indexOf(before) + 1, 0, id);
		});
		return order;
	}

	private clash(clash: Clash): Side {
		this.clashes.push(clash);
		return this.sides[this.clashes.length - 1] ?? 'theirs';
	}
}

interface Place {
	path: (string | number)[];
	value: unknown;
}

/** Places that differ, as deep as can be said and is asked: lists whose members are the same and in order are looked into, others set whole. */
function* changedPlaces(from: unknown, to: unknown, path: Place['path'], deepest = Infinity): Generator<Place> {
	if (equal(from, to)) return;
	const inside = path.length < deepest;
	if (inside && isFields(from) && isFields(to))
		for (const key of new Set([...Object.keys(from), ...Object.keys(to)]))
			yield* changedPlaces(own(from, key), own(to, key), [...path, key], deepest);
	else if (inside && isMembers(from) && isMembers(to) && equal(idsOf(from), idsOf(to)))
		for (const [i, one] of from.entries()) yield* changedPlaces(one, to[i], [...path, i], deepest);
	else yield { path, value: to };
}

const idsOf = (list: readonly Member[]) => list.map(({ id }) => id);

function isFields(value: unknown): value is Fields {
	return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** A list whose members are told apart by an id. */
function isMembers(value: unknown): value is Member[] {
	return (
		Array.isArray(value) &&
		value.every((one) => isFields(one) && typeof one.id === 'string') &&
		new Set(value.map((one: Member) => one.id)).size === value.length
	);
}

/** Values of another kind have other fields: what is of two kinds is chosen whole. */
function sameKind(all: unknown[]): boolean {
	return new Set(all.map((one) => (one as Fields).kind)).size === 1;
}

function own(fields: Fields, key: string): unknown {
	return Object.hasOwn(fields, key) ? fields[key] : undefined;
}
