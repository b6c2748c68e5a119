import type { Finding } from '../../core/check/index.js';
import type { Glitch, Outcome } from '../../core/predict/index.js';
import type { Plan } from '../../core/plan/index.js';
import { Rational } from '../../core/exact/index.js';
import { predictWorkers } from '../../workers/clients.js';
import type { PlanSession } from './session.svelte.js';
import { LatestWork } from './work.js';

const REST_MS = 300;

/** Finds what only a simulation shows of an open plan, glitches of its lists of writes, when the plan rests. */
export class GlitchWatch {
	private timer: ReturnType<typeof setTimeout> | undefined;
	private readonly work = new LatestWork();

	ask(session: PlanSession): void {
		clearTimeout(this.timer);
		const signal = this.work.begin();
		const { plan } = session;
		if (plan.changes.length === 0) {
			if (session.foreseen.length > 0) session.foreseen = [];
			return;
		}
		this.timer = setTimeout(() => {
			predictWorkers
				.run((worker) => worker.outcomes(plan), { signal })
				.then(({ outcomes, unit }) => (session.foreseen = glitchFindings(plan, outcomes, Rational.parse(unit))))
				// The bench says when predicting fails.
				.catch(() => undefined);
		}, REST_MS);
	}
}

/** One finding a row and pin: its first glitch, and how many there are. */
export function glitchFindings(plan: Plan, outcomes: readonly Outcome[], unit: Rational): Finding[] {
	return outcomes.flatMap(({ list, whatIf, glitches }) => {
		const timer = plan.changes.find(({ id }) => id === list)?.timer;
		if (whatIf || timer === undefined) return [];
		const groups = new Map<string, Glitch[]>();
		for (const glitch of glitches) {
			const key = `${glitch.aim} ${glitch.row}`;
			groups.set(key, [...(groups.get(key) ?? []), glitch]);
		}
		const seconds = (cycles: number) => Rational.int(cycles).mul(unit);
		return [...groups.values()].map((group): Finding => {
			const [{ row, at, period, on, after }] = group;
			return {
				code: 'glitch',
				severity: 'fault',
				change: { timer, row },
				at: seconds(at),
				period: seconds(period),
				on: seconds(on),
				whole: seconds(after[0]),
				right: seconds(after[1]),
				count: group.length
			};
		});
	});
}
