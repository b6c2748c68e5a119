import { Rational } from '../src/core/exact/index.js';
import { type Plan, derivePlan, fernhollow } from '../src/core/plan/index.js';
import { checkPlan } from '../src/core/check/index.js';
import { freshAim } from '../src/core/aims/index.js';

import { ratioTable, topPeriods } from '../src/core/solve/index.js';
import type { Report } from './report.js';
import { wishes } from './period.js';

/** A plan of 40 aims over all timers of Heron-32 that drive pulses. */
function forty(): Plan {
	const plan = fernhollow();
	const places = plan.part.timers.flatMap((timer) => timer.channels.map((channel) => ({ timer: timer.id, channel: channel.id })));
	const aims = Array.from({ length: 40 }, (_, i) => {
		const { timer, channel } = places[i % places.length];
		return { ...freshAim('pwm', `aim-${i}`, `signal ${i}`, timer, { channel }), rate: `${1000 + 37 * i} Hz`, duty: `${1 + 2 * i} %` };
	});
	return { ...plan, aims };
}

/** Derivation and checks of 40 aims after a change of the crystal, and the period search over a wide counter and a chain of three stages: ms, means. */
export function benchAims(report: Report): void {
	const plan = forty();
	const crystals = Array.from({ length: 60 }, (_, i) => `${8 + i / 10} MHz`);
	const run = (crystal: string) => checkPlan(derivePlan({ ...plan, clock: { ...plan.clock, crystal } }));
	for (const crystal of crystals.slice(0, 10)) run(crystal);
	let start = performance.now();
	for (const crystal of crystals) run(crystal);
	report('plan_rederive_40', (performance.now() - start) / crystals.length, 'ms');

	const linear = ratioTable({ kind: 'linear', max: 65_536 });
	const wide = { mode: 'up', rule: 'inclusive', width: 32 } as const;
	const asked = wishes(300).map((wish) => ({ ...wish, counting: wide, kernel: wish.kernel.add(Rational.one) }));
	for (const wish of asked.slice(0, 30)) topPeriods(wish, linear, { keep: 50 });
	start = performance.now();
	for (const wish of asked) topPeriods(wish, linear, { keep: 50 });
	report('period_top_16x32', (performance.now() - start) / asked.length, 'ms');

	const stages = [64, 128, 16].map((max) => ({ kind: 'linear' as const, max }));
	const chain = ratioTable({ kind: 'chain', stages });
	const narrow = wishes(300);
	for (const wish of narrow.slice(0, 30)) topPeriods(wish, chain, { keep: 50 });
	start = performance.now();
	for (const wish of narrow) topPeriods(wish, chain, { keep: 50 });
	report('period_top_chain', (performance.now() - start) / narrow.length, 'ms');
	report('period_top_chain_ratios', chain.ratios.length, 'ratios');
}
