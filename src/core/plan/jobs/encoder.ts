import { Rational } from '../../exact/index.js';
import { encoderRange, filterWindow, largest } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readRate, readTurns, readWhole } from '../fields.js';
import type { EncoderAim } from './aims.js';
import { JobBench, type JobDerivation } from './job.js';

/** A quadrature encoder (timers.md 8): counts, range, and whether its filter lets the greatest speed through. */
export function deriveEncoder(plan: Plan, aim: EncoderAim, clocks: PlanClocks): JobDerivation {
	const bench = new JobBench(plan, aim, clocks);
	const { derivation } = bench;
	const cycles = bench.take('cycles', readWhole(aim.cycles, 1));
	const turns = bench.take('range', readTurns(aim.range));
	const speed = bench.take('speed', readRate(aim.speed));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const times = Number(aim.times) as 1 | 2 | 4;
	if (!timer.encoder?.times.includes(times)) {
		bench.say({ code: 'cannot-job', severity: 'fault', timer: timer.name, job: 'encoder' });
		return derivation;
	}
	const filter = aim.filter === 'none' ? undefined : timer.encoder.filters?.[Number(aim.filter)];
	if (aim.filter !== 'none' && !filter)
		bench.say({ code: 'place-missing', severity: 'fault', what: `filter ${aim.filter}`, timer: timer.name });
	if (cycles === undefined || !turns) return derivation;

	const perTurn = encoderRange(cycles, times, 1).counts;
	const counts = turns.mul(Rational.int(perTurn));
	const limit = largest(timer.width) + 1;
	derivation.strip = [{ name: 'times', value: times }];
	bench.figure('per-turn', Rational.int(perTurn), 'counts');
	bench.figure('counts', counts, 'counts');
	bench.figure('degrees', Rational.ratio(360, perTurn), 'deg');
	bench.formula('encoder', { cycles: Rational.int(cycles), times: Rational.int(times), turns, counts });
	if (!counts.isInteger) bench.say({ code: 'counts-not-whole', severity: 'warning', counts });
	else if (counts.compare(Rational.int(limit)) > 0)
		bench.say({ code: 'counts-do-not-fit', severity: 'fault', counts: Number(counts.num), limit });
	else
		derivation.strip.push({
			name: 'reload',
			value: Number(counts.num) - 1,
			register: { value: Number(counts.num) - 1, width: timer.width }
		});
	if (aim.ends === 'clamp') bench.say({ code: 'software-clamp', severity: 'warning' });
	if (speed) {
		// Four edges a cycle in all, whatever the counter makes of them: each must outlast the filter.
		const spacing = speed.mul(Rational.int(4 * cycles)).inverse();
		const window = filter ? filterWindow(filter.samples, filter.divide, kernel) : kernel.inverse();
		bench.figure('edge-spacing', spacing, 's');
		bench.figure('filter-window', window, 's');
		bench.figure('fastest', window.mul(Rational.int(4 * cycles)).inverse(), 'turns/s');
		if (spacing.compare(window) <= 0) bench.say({ code: 'filter-too-slow', severity: 'fault', window, spacing });
	}
	return derivation;
}
