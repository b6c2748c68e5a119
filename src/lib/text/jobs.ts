import type { Rational } from '../../core/exact/index.js';
import { decimal, hertz, percent, seconds } from './numbers.js';

const FIGURES: Record<string, string> = {
	period: 'Interval',
	rate: 'Rate',
	error: 'Error',
	drift: 'Drift',
	tick: 'One count',
	service: 'Service',
	load: 'Processor',
	lowest: 'Lowest rate',
	highest: 'Highest for the step',
	'step-low': 'Step at the lowest',
	'step-high': 'Step at the highest',
	'reading-low': 'Slowest reading',
	served: 'Served up to',
	'per-turn': 'Counts a turn',
	counts: 'Counts in all',
	degrees: 'One count',
	'edge-spacing': 'Edges come every',
	'filter-window': 'Filter wants',
	fastest: 'Fastest',
	delay: 'Delay',
	half: 'Half a period',
	duty: 'Duty',
	dead: 'Dead time',
	main: 'Main high',
	complementary: 'Complementary high',
	'dead-share': 'Taken by dead time',
	'least-duty': 'Least duty that comes',
	updates: 'Updates',
	latency: 'Latency',
	width: 'Width',
	'width-error': 'Width error',
	prescale: 'Prescale',
	every: 'Every',
	'down-at': 'Left again below',
	finest: 'Finest step',
	longest: 'Longest'
};

export function figureName(name: string): string {
	return FIGURES[name] ?? name;
}

/** A formula with its numbers in it. */
export function formulaText({ code, numbers: n }: { code: string; numbers: Record<string, Rational> }): string {
	switch (code) {
		case 'tick':
			return `ticks = t × f_k ÷ P = ${seconds(n.wish)} × ${hertz(n.kernel)} ÷ ${decimal(n.prescale)} → ${decimal(n.ticks)}`;
		case 'up':
		case 'down':
			return `reload = ${decimal(n.value)}: ${decimal(n.ticks)} ticks from event to event`;
		case 'updown':
			return `reload = ticks ÷ 2 = ${decimal(n.value)}`;
		case 'free':
			return `it wraps every ${decimal(n.full)} ticks`;
		case 'preload':
			return `preload = 2^w − ticks${n.late.sign > 0 ? ` + ${decimal(n.late)} late` : ''} = ${decimal(n.full)} − ${decimal(n.ticks)}${n.late.sign > 0 ? ` + ${decimal(n.late)}` : ''} = ${decimal(n.value)}`;
		case 'tap':
			return `bit ${decimal(n.value)} rises every 2^${decimal(n.value)} × 2 = ${decimal(n.ticks)} ticks`;
		case 'advance':
			return `compare is moved on by ${decimal(n.value)} at each match: no drift, however late the service`;
		case 'clear':
			return `compare = ticks − 1${n.late.sign > 0 ? ` − ${decimal(n.late)} late` : ''} = ${decimal(n.value)}`;
		case 'capture':
			return `f = k × f_t ÷ dN, k = ${decimal(n.every)}, f_t = ${hertz(n.tickRate)}; one count at ${hertz(n.highest)} is f ÷ (k × f_t) = ${percent(n.step, 4)}`;
		case 'toggle':
			return `f = f_k ÷ (P × T × 2) = ${hertz(n.kernel)} ÷ (${decimal(n.prescale)} × ${decimal(n.ticks)} × 2) = ${hertz(n.hz)}`;
		case 'pair':
			return `dead time = ${seconds(n.dead)} × ${hertz(n.clock)} → ${decimal(n.cycles)} cycles by code ${decimal(n.code)}: the shortest that can be set and is no shorter`;
		case 'encoder':
			return `counts = cycles × edges × turns = ${decimal(n.cycles)} × ${decimal(n.times)} × ${decimal(n.turns)} = ${decimal(n.counts)}`;
		case 'oneshot':
			return `compare = delay × f_t = ${seconds(n.delay)} × ${hertz(n.kernel)} ÷ ${decimal(n.prescale)} → ${decimal(n.compare)}; reload = compare + width in ticks − 1 = ${decimal(n.reload)}`;
		default:
			return code;
	}
}
