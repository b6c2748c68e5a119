import equal from 'fast-deep-equal/es6';
import type { Outcome } from '../../core/check/index.js';

/** What a check was made from, and what came of it: kept, so that the next one can be compared with it. */
export interface CheckTold {
	verdict: Outcome;
	asSet: Outcome;
	aims: { id: string; name: string; verdict: Outcome; asSet: Outcome }[];
	/** What explains it, best first: the codes of each suspect. */
	suspects: string[][];
	recordings: { id: string; name: string; generation: number }[];
}

/** A check that was kept. */
export interface PastCheck extends CheckTold {
	number: number;
	revision: number;
	/** When it was made, as ISO text. */
	madeAt: string;
}

/** Aims whose verdict is another than in an earlier check, with both. */
export function changedSince(now: CheckTold, before: CheckTold): { name: string; from: Outcome | undefined; to: Outcome }[] {
	const known = new Map(before.aims.map((aim) => [aim.id, aim.verdict]));
	return now.aims.flatMap(({ id, name, verdict }) => (known.get(id) === verdict ? [] : [{ name, from: known.get(id), to: verdict }]));
}

/** Is it the same check again: made from the same, with the same outcome? */
export function sameCheck(a: CheckTold, b: CheckTold): boolean {
	return equal(a, b);
}
