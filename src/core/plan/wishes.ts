import type { RateQuestion, RateWish } from '../solve/index.js';
import { planClocks } from './clocks.js';
import type { ClockWish, Plan } from './document.js';
import { readRate, type FieldProblem } from '../aims/index.js';

/** The plan's wishes for clock rates as a question to the search, and why it cannot be asked. */
export interface PlanQuestion {
	question: RateQuestion;
	/** Problems by wish id: of its value, or of its node ("node": there is no such node). */
	problems: Map<string, FieldProblem | 'no-node' | 'own-node'>;
}

/** Wishes that make no sense are left out of the question. */
export function planQuestion(plan: Plan): PlanQuestion {
	const problems: PlanQuestion['problems'] = new Map();
	const wishes: RateWish[] = [];
	const nodes = new Set(plan.part.clock.map((node) => node.id));
	for (const wish of plan.wishes) {
		const found = readWish(wish, nodes);
		if ('node' in found) wishes.push(found);
		else problems.set(wish.id, found.problem);
	}
	return { question: { part: plan.part, planned: planClocks(plan).nodes, wishes, held: new Set(plan.held) }, problems };
}

function readWish(
	{ node, kind, value }: ClockWish,
	nodes: ReadonlySet<string>
): RateWish | { problem: FieldProblem | 'no-node' | 'own-node' } {
	if (!nodes.has(node)) return { problem: 'no-node' };
	if (kind === 'highest' || kind === 'lowest') return { node, kind };
	if (kind === 'equal')
		return !nodes.has(value) ? { problem: 'no-node' } : value === node ? { problem: 'own-node' } : { node, kind, to: value };
	const hz = readRate(value);
	return hz.ok ? { node, kind, hz: hz.value } : { problem: hz.problem };
}
