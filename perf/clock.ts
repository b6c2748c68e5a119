import { Rational } from '../src/core/exact/index.js';
import { setClock, shippedPart } from '../src/core/part/index.js';
import { RateSearch, type RateWish } from '../src/core/solve/index.js';
import type { Report } from './report.js';

const mhz = (value: number) => Rational.int(Math.round(value * 1e6));

/** Pairs of wishes that leave the search no easy way out: off every round rate, and tied to both buses. */
const ASKED: RateWish[][] = [
	[
		{ node: 'timers-a', kind: 'nearest', hz: mhz(71.3) },
		{ node: 'timers-b', kind: 'multiple', hz: mhz(1) }
	],
	[
		{ node: 'timers-a', kind: 'equal', to: 'timers-b' },
		{ node: 'core', kind: 'highest' }
	],
	[
		{ node: 'timers-a', kind: 'nearest', hz: mhz(33.333333) },
		{ node: 'timers-b', kind: 'nearest', hz: mhz(44.444444) }
	],
	[
		{ node: 'out', kind: 'nearest', hz: mhz(33.333333) },
		{ node: 'sampler', kind: 'nearest', hz: mhz(4.444444) }
	],
	[
		{ node: 'timers-a', kind: 'multiple', hz: mhz(7) },
		{ node: 'sampler', kind: 'multiple', hz: mhz(0.000011) }
	]
];

/** Proves the 20 best settings of Heron-32's whole tree for two wishes, from reset: ms, mean and worst over five pairs. */
export function benchClock(report: Report): void {
	const part = shippedPart('heron-32')!;
	const planned = setClock(part, { crystal: mhz(12) }).nodes;
	const times: number[] = [];
	let combinations = 0n;
	for (let round = 0; round < 5; round++) {
		for (const wishes of ASKED) {
			const start = performance.now();
			const search = new RateSearch({ part, planned, wishes, held: new Set() }, 20);
			while (!search.step(100_000).done);
			// The first round warms up.
			if (round > 0) times.push(performance.now() - start);
			combinations = search.combinations;
		}
	}
	report('clock_search', times.reduce((sum, time) => sum + time, 0) / times.length, 'ms');
	report('clock_search_worst', Math.max(...times), 'ms');
	report('clock_search_combinations', Number(combinations), 'settings');
}
