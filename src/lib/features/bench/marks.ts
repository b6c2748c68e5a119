import { Rational } from '../../../core/exact/index.js';
import type { BenchMark } from '../../../core/plan/index.js';
import type { PlanSession } from '../../session/session.svelte.js';

/** Picoseconds of plan time as exact seconds. */
export function exactPs(ps: number): Rational {
	return Rational.of(BigInt(Math.round(ps)), 10n ** 12n);
}

/** The named moments of the plan, in order of time, as pixels need them. */
export interface ShownMark extends BenchMark {
	ps: number;
	zero: boolean;
}

export function shownMarks(session: PlanSession): ShownMark[] {
	const { marks, zero } = session.plan;
	return marks
		.map((mark) => ({ ...mark, ps: Rational.parse(mark.at).toNumber() * 1e12, zero: mark.id === zero }))
		.sort((a, b) => a.ps - b.ps);
}

/** Sets a mark at a moment, in picoseconds of plan time; returns its id. */
export function setMark(session: PlanSession, ps: number): string {
	const { marks } = session.plan;
	const id = crypto.randomUUID();
	session.insert(['marks', marks.length], { id, name: nextName(marks), at: exactPs(ps).toString() }, 'set a mark');
	return id;
}

/** M1, M2 and so on, the first that is free. */
function nextName(marks: readonly BenchMark[]): string {
	for (let n = 1; ; n++) if (!marks.some(({ name }) => name === `M${n}`)) return `M${n}`;
}

export function deleteMark(session: PlanSession, id: string): void {
	const at = session.plan.marks.findIndex((mark) => mark.id === id);
	if (at >= 0) session.remove(['marks', at], 'delete a mark');
}

export function renameMark(session: PlanSession, id: string, name: string, first: boolean): void {
	const at = session.plan.marks.findIndex((mark) => mark.id === id);
	if (at >= 0) session.set(['marks', at, 'name'], name, 'name a mark', !first);
}
