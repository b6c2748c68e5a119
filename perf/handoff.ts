import { codeOf, handOff, markOf, PLAIN_STYLE } from '../src/core/handoff/index.js';
import { derivePlan, fernhollow, fernhollowHand, fernhollowLamp, fernhollowVane } from '../src/core/plan/index.js';
import { codeWords } from '../src/lib/text/index.js';
import type { Report } from './report.js';

/** Registers, order and code of Fernhollow's plans, derived before: median of nine rounds after one that warms up. */
export function benchHandoff(report: Report): void {
	const derivations = [fernhollow(), fernhollowVane(), fernhollowLamp(), fernhollowHand()].map((plan) => derivePlan(plan));
	const round = () => {
		const began = performance.now();
		for (const derivation of derivations) {
			const of = handOff(derivation);
			if (of.findings.length > 0) throw new Error(of.findings[0].join(' '));
			codeOf(of, PLAIN_STYLE, codeWords(derivation.plan, markOf(derivation.plan)));
		}
		return performance.now() - began;
	};
	round();
	const took = Array.from({ length: 9 }, round);
	report('handoff_plan_10', took.sort((a, b) => a - b)[4], 'ms');
}
